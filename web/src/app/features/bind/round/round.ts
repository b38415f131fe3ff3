import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { SelectButton } from 'primeng/selectbutton';
import { FormsModule } from '@angular/forms';
import {
  GESTURES,
  causesAround,
  type Action,
  type Binding,
  type ControlRef,
  type FunctionAction,
  type Profile,
} from '@rondo/core/profile';
import type { Station } from '@rondo/core/round';
import { PART_NAMES, inputsOf, turns, type ControlKind, type InputPart } from '@rondo/core/surface';
import { EngineService } from '../../../engine/engine.service';
import { Head, type Frame } from '../../../engine/frame';
import { selectionActions } from '../../../state/actions';
import { type Choice as Bindable } from './choice';
import { choicesFor } from './choices';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { Finder } from './finder';
import { CAUSE_WORDS, GESTURE_WORDS } from '../names';
import { roundView, strayText, type RoundView } from './round-view';
import { ShapeCurve } from './shape-curve';
import { SetUps } from '../../../state/set-ups';
import { NextTouch } from '../next-touch';
import { LastBinding } from '../last-binding';
import { StandIns } from '../stand-ins';
import { Workbench, type Panel } from '../workbench';
import { Choice } from '../../../shared/ui/form';

/** What a key does with what is on or off, as the round offers it. */
const OFFERED = (['toggle', 'momentary', 'set'] as const).map((value) => ({
  value,
  ...BEHAVIOUR_WORDS[value],
}));

/** The round is text: it is read off in every fourth frame, never in one that draws the host. */
const RHYTHM = { every: 4, turn: 1 };

const TURNED: ReadonlySet<ControlKind> = new Set(['knob', 'encoder', 'jog']);

const STEPS = [
  { label: 'Fine', value: 1 / 200 },
  { label: 'Middle', value: 1 / 50 },
  { label: 'Coarse', value: 1 / 16 },
] as const;

/**
 * The round of the control in hand: forward along the top, return along the bottom. It is editor, monitor and
 * diagnosis in one place.
 */
@Component({
  selector: 'rondo-round',
  imports: [Button, Choice, Finder, FormsModule, SelectButton, ShapeCurve],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './round.html',
  styleUrl: './round.css',
})
export class Round {
  readonly profile = input.required<Profile>();
  readonly selected = input.required<ControlRef | null>();
  readonly finderOpen = input(false);
  readonly finderOpenChange = output<boolean>();

  protected readonly view = signal<RoundView | null>(null);
  protected readonly stray = signal<string | null>(null);
  protected readonly behaviours = [...OFFERED];
  protected readonly steps = [...STEPS];
  protected readonly bench = inject(Workbench);
  private readonly next = inject(NextTouch);
  protected readonly last = inject(LastBinding);
  private readonly standIns = inject(StandIns);
  private readonly setUps = inject(SetUps);
  private readonly store = inject(Store);
  private readonly engine = inject(EngineService);
  private shownKey = '';
  private readonly bank = signal(0);

  protected readonly control = this.bench.control;
  private readonly surface = this.bench.surface;
  /** The parts that can be bound, to switch between: an encoder turns and is pressed. */
  protected readonly parts = computed(() => {
    const control = this.control();
    const surface = this.surface();
    if (!control || !surface) return [];
    return inputsOf(surface, control)
      .filter((part) => part !== 'touch')
      .map((part) => ({
        part,
        label: part === 'value' && TURNED.has(control.kind) ? 'turn' : PART_NAMES[part],
      }));
  });
  /** What a change of this function sets off, in whichever host, and what else sets it. */
  protected readonly around = computed(() => {
    const action = this.view()?.action;
    const profile = this.profile();
    if (!action) return { setsOff: [], setBy: [] };
    const { setsOff, setBy } = causesAround(profile, action, this.bank());
    const words = ({ id, cause, actions }: Binding) => ({
      id,
      how: CAUSE_WORDS[cause?.when ?? 'change'],
      when: cause ? this.bench.namesOf(profile).cause(cause) : '',
      does: actions.map((one) => this.bench.namesOf(profile).action(one)).join(', '),
    });
    return { setsOff: setsOff.map(words), setBy: setBy.map(words) };
  });

  protected readonly andMore = ({ length }: { readonly length: number }): string =>
    length > 1 ? `, and ${length - 1} more` : '';

  /** Shows a cause with all that it does. */
  protected openCause(id: string): void {
    this.bench.causeId.set(id);
    this.bench.panel.set('actions');
  }

  protected readonly gestures = computed(() => {
    const selected = this.selected();
    if (!selected || !this.bench.isPress()) return [];
    const stack = this.bench.stack();
    return GESTURES.map((gesture) => ({
      value: gesture,
      label: GESTURE_WORDS[gesture] + (stack?.of(selected, gesture) === undefined ? '' : ' •'),
    }));
  });
  /** Where the binding stands, seen from the layer that is looked at. */
  protected readonly place = computed(() => {
    const seen = this.bench.seen();
    const profile = this.bench.profile();
    if (seen?.standsIn) return 'stands in';
    if (!seen || !profile || profile.layerOrder.length < 2) return '';
    const label = profile.layers[seen.binding.layer]?.label ?? seen.binding.layer;
    return seen.below ? `from ${label}` : `on ${label}`;
  });
  protected readonly others = computed(() => (this.bench.binding()?.actions.length ?? 1) - 1);
  protected readonly choices = computed(() => {
    if (!this.finderOpen()) return [];
    const named = (ref: ControlRef) => this.bench.controlName(ref);
    const control = this.control();
    const selected = this.selected();
    const surface = this.surface();
    if (control && selected && surface)
      return choicesFor(
        this.bench.namesOf(this.profile()),
        surface,
        control,
        selected.part,
        named,
        this.setUps.all() ?? [],
        this.bench.usual,
      );
    return this.anyChoices(named);
  });
  private readonly action = computed(() => this.view()?.action ?? null);
  /** Behaviours that make sense for the bound function; none where there is nothing to choose. */
  protected readonly behaviour = computed(() => {
    const action = this.action();
    const control = this.control();
    const selected = this.selected();
    if (action?.do !== 'function' || !control || selected?.part !== 'push') return null;
    if (this.view()?.standsIn) return null;
    const fn = this.bench
      .namesOf(this.profile())
      .model(action.host)
      ?.functions.find((f) => f.id === action.function);
    return fn?.kind === 'toggle' ? action.behaviour : null;
  });
  protected readonly behaviourAbout = computed(
    () => OFFERED.find((b) => b.value === this.behaviour())?.about ?? '',
  );
  protected readonly shape = computed(() => {
    const action = this.action();
    return action?.do === 'function' ? (action.shape ?? {}) : {};
  });
  protected readonly step = computed(() => {
    const action = this.action();
    const surface = this.surface();
    const control = this.control();
    const part = this.selected()?.part;
    if (action?.do !== 'function' || action.behaviour !== 'follow') return null;
    if (this.view()?.standsIn) return null;
    if (!surface || !control || !part || !turns(surface, control, part)) return null;
    return action.step ?? this.bench.feelStep();
  });

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.read(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
    effect(() => {
      this.bench.stack();
      this.bench.gestureHere();
      this.selected();
      if (this.engine.frames.now) this.read(this.engine.frames.now);
    });
  }

  private read(frame: Frame): void {
    const selected = this.selected();
    const stack = this.bench.stack();
    const view =
      selected && stack
        ? roundView(
            this.bench.namesOf(this.profile()),
            frame,
            selected,
            stack,
            this.bench.gestureHere(),
          )
        : null;
    const key = JSON.stringify(view);
    if (key !== this.shownKey) {
      this.shownKey = key;
      this.view.set(view);
    }
    this.stray.set(strayText(frame));
    this.bank.set(frame.head(Head.Bank));
  }

  /** All that some control of the profile can be bound to. */
  private anyChoices(named: (ref: ControlRef) => string): Bindable[] {
    const profile = this.profile();
    const all = new Map<string, Bindable>();
    for (const part of ['push', 'value'] as const)
      for (const id of profile.surfaceOrder) {
        const surface = this.bench.surfaceOf(id);
        const control = surface?.controls.find((one) => inputsOf(surface, one).includes(part));
        if (!surface || !control) continue;
        // Whose it is is open: no strip's own stands before the others.
        const { strip: _strip, ...anywhere } = control;
        for (const choice of choicesFor(
          this.bench.namesOf(profile),
          surface,
          anywhere,
          part,
          named,
          this.setUps.all() ?? [],
          this.bench.usual,
        )) {
          const line = `${choice.label} ${choice.host ?? ''}`;
          if (!all.has(line)) all.set(line, choice);
        }
      }
    return [...all.values()];
  }

  /** Sentence of a station where the way ends; null where it goes on. */
  protected broken(station: Station): string | null {
    const view = this.view();
    if (!view) return null;
    if (view.stop?.station === station) return view.stop.why;
    return view.silent?.station === station ? view.silent.why : null;
  }

  protected pickPart(part: InputPart): void {
    const selected = this.selected();
    if (selected) this.store.dispatch(selectionActions.select({ control: { ...selected, part } }));
  }

  protected bind(action: Action): void {
    this.finderOpenChange.emit(false);
    if (this.selected()) this.last.bind(action);
    // The control comes after: the next that is touched.
    else this.next.pointed.set({ action, name: this.bench.namesOf(this.profile()).action(action) });
  }

  protected add(action: Action): void {
    this.finderOpenChange.emit(false);
    this.last.bind(action, this.selected(), 'add');
  }

  protected open(panel: Panel): void {
    this.bench.panel.update((now) => (now === panel ? 'none' : panel));
  }

  protected openStandIn(): void {
    this.standIns.open(this.selected()?.surface ?? '');
  }

  /** Links to the program of what is in hand, where it has not told and can be asked once more. */
  private readonly askable = computed(() => {
    const action = this.bench.action() ?? this.bench.seen()?.binding.actions[0];
    const { links = [] } = this.engine.plan ?? {};
    return action?.do !== 'function' || this.view()?.silent?.station !== 'state'
      ? []
      : links.filter(
          ({ kind, id, ask, desk }) =>
            kind === 'host' && id === action.host && (ask !== null || desk !== null),
        );
  });
  protected readonly canAsk = computed(() => this.askable().length > 0);

  protected askHost(): void {
    for (const { key } of this.askable()) this.engine.askAgain(key);
  }

  protected setBehaviour(behaviour: FunctionAction['behaviour']): void {
    if (!behaviour) return;
    this.bench.changeAction('Behaviour', (action) => {
      if (action.do !== 'function') return;
      action.behaviour = behaviour;
      if (behaviour === 'set') action.to ??= 1;
    });
  }

  protected setStep(step: number): void {
    if (step)
      this.bench.changeAction('One tick', (action) => {
        if (action.do === 'function') action.step = step;
      });
  }
}
