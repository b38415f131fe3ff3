import { Injectable, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { InputMode } from '@rondo/core/round';
import { placeText } from '@rondo/core/surface';
import { Head, PartField, type Frame } from '../../engine/frame';
import { profileFeature } from '../../state/document';
import { Workbench } from './workbench';

/** What the head says of what has just been touched, and of what was cut. */
@Injectable()
export class Readout {
  private readonly bench = inject(Workbench);
  private readonly profile = inject(Store).selectSignal(profileFeature.selectDocument);
  /** What was touched last, and its value: always in sight. */
  readonly touched = signal('');
  /** Chains of causes that were cut, as seen last. */
  readonly cut = signal('');
  private cutSeen = 0;

  /** Follows what the engine tells. */
  read(frame: Frame): void {
    const { plan } = frame;
    const cut = frame.head(Head.Cut);
    if (cut !== this.cutSeen) {
      this.cutSeen = cut;
      const id = plan.bindings[frame.head(Head.LastCut)]?.id;
      const cause = id === undefined ? undefined : this.profile()?.bindings[id]?.cause;
      const profile = this.profile();
      if (cause && profile && cut > 0)
        this.cut.set(
          `A change came round to itself and was stopped: when ${this.bench.namesOf(profile).cause(cause)}. See the sheet.`,
        );
    }
    const part = frame.head(Head.InHand);
    if (part < 0) return;
    const { control, part: what, link, patterns, moves } = plan.parts[part];
    const pattern = patterns.find((one) => one !== undefined);
    // A touch says which control it is, and its value follows.
    if (what === 'touch') return;
    const raw = frame.part(part, PartField.Raw);
    const value =
      moves === InputMode.Absolute && pattern
        ? placeText(pattern, raw)
        : moves === InputMode.Relative
          ? `${raw > 0 ? '+' : '−'}${Math.abs(raw)}`
          : raw > 0
            ? 'down'
            : 'up';
    const gap = frame.part(part, PartField.Gap);
    const away = gap === 0 ? '' : `, ${Math.max(1, Math.round(Math.abs(gap) * 100))} % away`;
    const several = plan.links.filter(({ kind }) => kind === 'surface').length > 1;
    const text = `${control.label}${several ? `, ${plan.links[link].label}` : ''}: ${value}${away}`;
    if (text !== this.touched()) this.touched.set(text);
  }
}
