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
  bind,
  unbind,
  type Action,
  type ControlRef,
  type FunctionAction,
  type Profile,
} from '@rondo/core/profile';
import type { Station } from '@rondo/core/round';
import { PART_NAMES, inputsOf, type ControlKind, type InputPart } from '@rondo/core/surface';
import { EngineService } from '../engine/engine.service';
import type { Frame } from '../engine/frame';
import { selectionActions } from '../state/actions';
import { DocumentEditor } from '../state/documents';
import { LibraryService } from '../state/library';
import { choicesFor } from './choices';
import { Finder } from './finder';
import { actionName, modelOf } from './names';
import { roundView, strayText, type RoundView } from './round-view';
import { ShapeCurve } from './shape-curve';

const BEHAVIOUR_WORDS = [
  { label: 'Toggle', value: 'toggle', about: 'One press on, the next off.' },
  { label: 'While held', value: 'momentary', about: 'On while held, off when let go.' },
  { label: 'Only on', value: 'set', about: 'Each press switches it on.' },
] as const;

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
  imports: [Button, Finder, FormsModule, SelectButton, ShapeCurve],
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
  protected readonly behaviours = [...BEHAVIOUR_WORDS];
  protected readonly steps = [...STEPS];
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  private readonly engine = inject(EngineService);
  private shownKey = '';

  private readonly surface = computed(() => {
    const selected = this.selected();
    const surfaces = this.profile().surfaces;
    return selected && Object.hasOwn(surfaces, selected.surface)
      ? this.library.surface(surfaces[selected.surface].model)
      : undefined;
  });
  protected readonly control = computed(() => {
    const selected = this.selected();
    return this.surface()?.controls.find((c) => c.id === selected?.control) ?? null;
  });
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
  protected readonly choices = computed(() => {
    const control = this.control();
    const selected = this.selected();
    if (!control || !selected || !this.finderOpen()) return [];
    const nameOf = (ref: ControlRef) =>
      this.library
        .surface(this.profile().surfaces[ref.surface]?.model ?? '')
        ?.controls.find((c) => c.id === ref.control)?.label ?? ref.control;
    const surface = this.surface();
    return surface ? choicesFor(this.profile(), surface, control, selected.part, nameOf) : [];
  });
  private readonly action = computed(() => this.view()?.action ?? null);
  /** Behaviours that make sense for the bound function; none where there is nothing to choose. */
  protected readonly behaviour = computed(() => {
    const action = this.action();
    const control = this.control();
    const selected = this.selected();
    if (action?.do !== 'function' || !control || selected?.part !== 'push') return null;
    const fn = modelOf(this.profile(), action.host)?.functions.find(
      (f) => f.id === action.function,
    );
    return fn?.kind === 'toggle' ? action.behaviour : null;
  });
  protected readonly behaviourAbout = computed(
    () => BEHAVIOUR_WORDS.find((b) => b.value === this.behaviour())?.about ?? '',
  );
  protected readonly step = computed(() => {
    const action = this.action();
    return action?.do === 'function' ? (action.step ?? null) : null;
  });

  constructor() {
    const stop = this.engine.paint((frame) => this.read(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
    effect(() => {
      this.profile();
      this.selected();
      if (this.engine.frame) this.read(this.engine.frame);
    });
  }

  private read(frame: Frame): void {
    const selected = this.selected();
    const view = selected ? roundView(this.profile(), frame, selected) : null;
    const key = JSON.stringify(view);
    if (key !== this.shownKey) {
      this.shownKey = key;
      this.view.set(view);
    }
    this.stray.set(strayText(frame));
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
    const selected = this.selected();
    this.finderOpenChange.emit(false);
    if (!selected) return;
    const name = `Bind ${this.control()?.label ?? ''} to ${actionName(this.profile(), action)}`;
    this.editor.edit('profile', (profile) => bind(profile, name, selected, action));
  }

  protected unbind(): void {
    const selected = this.selected();
    if (!selected) return;
    const name = `Unbind ${this.control()?.label ?? ''}`;
    this.editor.edit('profile', (profile) => unbind(profile, name, selected));
  }

  protected setBehaviour(behaviour: FunctionAction['behaviour']): void {
    const action = this.action();
    if (action?.do !== 'function' || !behaviour) return;
    const { to: _before, ...rest } = action;
    this.bind({ ...rest, behaviour, ...(behaviour === 'set' ? { to: 1 } : {}) });
  }

  protected setStep(step: number): void {
    const action = this.action();
    if (action?.do === 'function' && step) this.bind({ ...action, step });
  }
}
