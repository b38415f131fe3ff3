import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  signal,
} from '@angular/core';
import { addShowing, removeShowing, type FunctionAction } from '@rondo/core/profile';
import { EngineService } from '../../../engine/engine.service';
import type { Frame } from '../../../engine/frame';
import { answerOf } from '../round/answer';
import { allDeaf } from '../deaf';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';
import { Choice, NumberField } from '../../../shared/ui/form';
import { FormsModule } from '@angular/forms';
import { Slider } from 'primeng/slider';

type FunctionTarget = Pick<FunctionAction, 'host' | 'function' | 'scope'>;

interface Played {
  readonly key: string;
  readonly label: string;
}

const TESTS = [
  { test: 'sweep', label: 'Sweep' },
  { test: 'stop', label: 'Stop' },
  { test: 'park', label: 'Park' },
] as const;

/** What if? States played by hand, and lights and motors tried, while the host hears nothing of it. */
@Component({
  selector: 'rondo-lights-strip',
  imports: [Choice, FormsModule, NumberField, Slider],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './lights-strip.html',
  styleUrls: ['../../../shared/ui/panel.css', './lights-strip.css'],
})
export class LightsStrip {
  protected readonly bench = inject(Workbench);
  protected readonly next = inject(NextTouch);
  private readonly engine = inject(EngineService);
  protected readonly tests = TESTS;
  protected readonly choices = [
    { label: 'On', value: 1 },
    { label: 'Off', value: 0 },
  ] as const;
  /** Slots that what is in hand looks at. */
  protected readonly states = signal<readonly Played[]>([]);
  protected readonly played = signal<ReadonlyMap<string, number>>(new Map());
  protected readonly tried = signal<number | null>(null);
  protected readonly motors = signal<'sweep' | 'stop' | 'park' | null>(null);
  private triedOn: { link: string; control: string } | null = null;
  private motorsOn = '';
  protected readonly lit = computed(() => {
    const control = this.bench.control();
    return control?.takes.light ? control.label : null;
  });
  protected readonly deaf = computed(() => allDeaf(this.bench));
  protected readonly hasMotors = computed(
    () => this.bench.surface()?.controls.some((control) => control.takes.motor) ?? false,
  );

  /** The state itself, or the level meter of its strip. */
  protected readonly whole = signal(true);
  protected readonly target = computed(() => {
    const profile = this.bench.profile();
    const action = this.bench.binding()?.actions.find((one) => one.do === 'function');
    if (!profile || action?.do !== 'function') return null;
    const { host, function: fn, scope } = action;
    const meter = this.bench
      .hostModel(host)
      ?.functions.find(
        ({ kind, per }) => kind === 'meter' && (per === 'strip') === (scope.kind !== 'host'),
      );
    const shows = { host, function: fn, scope };
    const other = meter ? { host, function: meter.id, scope } : null;
    const name = (one: typeof shows) =>
      this.bench.namesOf(profile).action({ do: 'function', behaviour: 'follow', ...one });
    const chosen = this.whole() || !other ? shows : other;
    return {
      shows: chosen,
      label: name(chosen),
      own: name(shows),
      meter: other ? name(other) : '',
      choices: [
        { value: 'own', label: name(shows) },
        { value: 'meter', label: other ? name(other) : '' },
      ],
    };
  });
  protected percent(level: number | undefined): number {
    return Math.round((level ?? 0) * 100);
  }

  protected readonly showings = computed(() => {
    const profile = this.bench.profile();
    return (profile?.showingOrder ?? []).flatMap((id) => {
      const showing = profile?.showings[id];
      if (!profile || !showing) return [];
      const what =
        'host' in showing.shows
          ? this.bench.namesOf(profile).action({
              do: 'function',
              behaviour: 'follow',
              ...(showing.shows as FunctionTarget),
            })
          : 'layer' in showing.shows
            ? (profile.layers[showing.shows.layer as string]?.label ?? 'a layer')
            : (profile.flags[showing.shows.flag as string]?.label ?? 'a flag');
      const total = showing.on.length;
      const where =
        total === 1
          ? this.bench.controlName({ ...showing.on[0], part: 'push' })
          : `${total} lights`;
      return [{ id, label: `${what} on ${where}${showing.spread === 'row' ? ', a row' : ''}` }];
    });
  });

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.read(frame));
    inject(DestroyRef).onDestroy(() => {
      stop();
      this.next.gathered.set(null);
      this.bench.showingId.set(null);
      this.end();
      this.tryOut(null);
      this.tryMotors(null);
    });
  }

  /** Finds what the light of the control in hand hangs on: what is bound, and whether its strip is armed. */
  private read(frame: Frame): void {
    const selected = this.bench.selected();
    const { plan } = frame;
    const out = selected ? answerOf(plan, selected) : -1;
    const slot = out < 0 ? -1 : frame.out(out, 1);
    const found = slot < 0 ? [] : [slot, plan.slots[slot].armed, plan.slots[slot].needs];
    const states = [...new Set(found.filter((one) => one >= 0))].map((one) => {
      const { key, fn, strip } = plan.slots[one];
      return { key, label: strip >= 0 ? `${fn.label} ${strip + 1}` : fn.label };
    });
    const now = this.states();
    if (states.length !== now.length || states.some(({ key }, i) => key !== now[i].key))
      this.states.set(states);
  }

  protected playedAt(key: string): number | undefined {
    return this.played().get(key);
  }

  protected play(key: string, value: number): void {
    this.engine.playAt(key, value);
    this.played.update((played) => new Map(played).set(key, value));
  }

  protected end(): void {
    for (const key of this.played().keys()) this.engine.playAt(key, null);
    this.played.set(new Map());
  }

  /** Shows what is in hand on the lights that were gathered. */
  protected show(spread: 'same' | 'row'): void {
    const target = this.target();
    const on = this.next.gathered();
    if (!target || !on) return;
    this.bench.edit((profile) =>
      addShowing(profile, `Show ${target.label} elsewhere`, {
        layer: this.bench.layer(),
        shows: target.shows,
        on: [...on],
        spread,
      }),
    );
    this.next.gathered.set(null);
  }

  /** Opens the looks of a showing beside the drawing. */
  protected openLooks(id: string): void {
    this.bench.showingId.update((open) => (open === id ? null : id));
    this.bench.panel.set('returns');
  }

  protected remove(id: string, label: string): void {
    this.bench.edit((profile) => removeShowing(profile, `Show ${label} no more`, id));
  }

  protected walk(by: number): void {
    const now = this.tried();
    this.tryOut(now === null ? 0 : (now + by + 128) % 128);
  }

  /** Sends a number to the light in hand; null ends the test. */
  protected tryOut(wire: number | null): void {
    const selected = this.bench.selected();
    const before = this.triedOn;
    if (before && (wire === null || before.control !== selected?.control))
      this.engine.tryOutput(before.link, before.control, -1);
    this.triedOn = null;
    if (wire === null || !selected || !this.lit() || !Number.isFinite(wire)) {
      this.tried.set(null);
      return;
    }
    const number = Math.max(0, Math.min(127, Math.round(wire)));
    this.triedOn = { link: `surface:${selected.surface}`, control: selected.control };
    this.engine.tryOutput(this.triedOn.link, selected.control, number);
    this.tried.set(number);
  }

  protected tryMotors(test: 'sweep' | 'stop' | 'park' | null): void {
    const surface = this.bench.selected()?.surface ?? '';
    if (this.motorsOn !== '' && (test === null || this.motorsOn !== surface))
      this.engine.tryMotors(`surface:${this.motorsOn}`, null);
    this.motorsOn = test === null ? '' : surface;
    this.motors.set(test);
    if (test !== null) this.engine.tryMotors(`surface:${surface}`, test);
  }
}
