import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { setRoles, type Profile, type Roles } from '@rondo/core/profile';
import {
  notesOfKeys,
  playedWithKeys,
  speaksOsc,
  type Control,
  type Surface,
} from '@rondo/core/surface';
import { MIDDLE_C, noteName } from '@rondo/core/wire';
import { FormsModule } from '@angular/forms';
import { SelectButton } from 'primeng/selectbutton';
import { NoteNames } from '../../shared/words/note-names';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { Choice, NumberField, Switch } from '../../shared/ui/form';
import { withEnd } from './note-range';

type Range = Roles['notes'][number];

/** As many controls are named; of the rest it is said how many they are. */
const MOST_NAMED = 6;
const countOf = (controls: readonly Control[]): string =>
  controls
    .slice(0, MOST_NAMED)
    .map(({ label }) => label)
    .join(', ') + (controls.length > MOST_NAMED ? ` and ${controls.length - MOST_NAMED} more` : '');

/** What the messages of each surface's port are for: control, notes to be played, clock. */
@Component({
  selector: 'rondo-roles-form',
  imports: [Choice, FormsModule, NumberField, SelectButton, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="names">
      <span id="note-names">Note 60 is written</span>
      <p-selectbutton
        size="small"
        [options]="octaves"
        optionLabel="label"
        optionValue="value"
        [allowEmpty]="false"
        [ngModel]="names.octave()"
        (ngModelChange)="names.choose($event)"
        ariaLabelledBy="note-names"
      />
    </div>
    @for (row of rows(); track row.id) {
      <fieldset>
        <legend>What {{ row.label }} is for</legend>
        <p>
          Control, but for what is named here. Notes to be played fire no command, so that a key
          never does what a button should.
        </p>
        @for (range of row.roles.notes; track $index; let i = $index) {
          <div class="range">
            <span class="cap">
              Channel
              <rondo-choice
                label="Channel"
                [options]="channels"
                [value]="range.channel ?? 0"
                (chosen)="change(row.id, i, { channel: $event || null })"
              />
            </span>
            <span class="cap">
              From note
              <rondo-number
                label="From note"
                [min]="0"
                [max]="127"
                [value]="range.from"
                (changed)="setNote(row.id, i, 'from', $event ?? 0)"
              />
            </span>
            <span class="cap">
              To note
              <rondo-number
                label="To note"
                [min]="0"
                [max]="127"
                [value]="range.to"
                (changed)="setNote(row.id, i, 'to', $event ?? 127)"
              />
            </span>
            <small
              >{{ name(range.from, names.octave()) }}–{{ name(range.to, names.octave()) }}</small
            >
            <button type="button" (click)="remove(row.id, i)">Remove</button>
          </div>
        }
        @if (row.played) {
          <p role="status">Played too, so that they do nothing else: {{ row.played }}.</p>
        }
        <div class="row">
          <button type="button" (click)="add(row.id)">Add notes to be played</button>
          <rondo-switch [on]="row.roles.clock" (turned)="set(row.id, { clock: $event })">
            Its clock is the one to follow
          </rondo-switch>
        </div>
      </fieldset>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 14px;
    }
    .names {
      display: flex;
      align-items: center;
      gap: 10px;
    }
    fieldset {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 10px 12px;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    legend {
      font-weight: 600;
    }
    p,
    small {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .range,
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: 8px;
    }
    .row {
      align-items: center;
    }
    label {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    .wide {
      width: auto !important;
    }
    button {
      min-height: 30px;
      padding: 2px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      font-size: 13px;
      cursor: pointer;
    }
  `,
})
export class RolesForm {
  readonly profile = input.required<Profile>();
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  protected readonly channels = Array.from({ length: 17 }, (_, value) => ({
    value,
    label: value === 0 ? 'any' : String(value),
  }));
  protected readonly names = inject(NoteNames);
  protected readonly octaves = MIDDLE_C.map((value) => ({ label: `C${value}`, value }));
  /** @param _octave is asked for so that the name is made anew when it changes */
  protected readonly name = (note: number, _octave: number): string => noteName(note);
  /** Surfaces that speak MIDI. */
  protected readonly rows = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder
      .filter((id) => {
        const surface = this.surfaceOf(id);
        return !surface || !speaksOsc(surface);
      })
      .map((id) => {
        const surface = this.surfaceOf(id);
        const roles = profile.surfaces[id].roles ?? { notes: [], clock: false };
        const played = surface ? playedWithKeys(surface, roles.notes) : [];
        return { id, label: profile.surfaces[id].label, roles, played: countOf(played) };
      });
  });

  protected set(id: string, part: Partial<Roles>): void {
    this.editor.edit('profile', (profile) => {
      const before = profile.surfaces[id].roles ?? { notes: [], clock: false };
      return setRoles(profile, id, { ...before, ...part } as Roles);
    });
  }

  private surfaceOf(id: string): Surface | undefined {
    return this.library.surface(this.profile().surfaces[id].model);
  }

  private rangesOf(id: string): Range[] {
    return [...(this.rows().find((row) => row.id === id)?.roles.notes ?? [])];
  }

  protected add(id: string): void {
    const notes = this.rangesOf(id);
    const surface = this.surfaceOf(id);
    // What a keyboard is played on is its keys; of a device without any nobody knows.
    const keys = surface ? notesOfKeys(surface) : [];
    const isNew = ({ channel, from, to }: (typeof keys)[number]) =>
      !notes.some((one) => one.channel === channel && one.from === from && one.to === to);
    const found = keys.filter(isNew);
    const more = found.length > 0 ? found : [{ channel: 1, from: 0, to: 127 }];
    this.set(id, { notes: [...notes, ...more.map((one) => ({ ...one }))].slice(0, 16) });
  }

  protected remove(id: string, index: number): void {
    this.set(id, { notes: this.rangesOf(id).filter((_, i) => i !== index) });
  }

  protected change(id: string, index: number, part: Partial<Range>): void {
    const notes = this.rangesOf(id).map((range, i) =>
      i === index ? ({ ...range, ...part } as Range) : range,
    );
    this.set(id, { notes });
  }

  protected setNote(id: string, index: number, key: 'from' | 'to', value: number): void {
    const range = this.rangesOf(id)[index];
    this.change(id, index, withEnd(range, key, value));
  }
}
