import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  input,
  output,
} from '@angular/core';
import type { ControlRef, Profile } from '@rondo/core/profile';
import {
  inputsOf,
  mainPart,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import { EngineService } from '../../../engine/engine.service';
import type { Hand } from '../../../engine/protocol';
import { ControlShape } from '../../../shared/panel/control-shape';
import { capOf, isLying, isTurned } from '../../../shared/panel/geometry';
import { leastLetter } from '../../../shared/panel/legible';
import { MoverShape } from '../../../shared/panel/mover-shape';
import { Hands, type Grip, type Played } from '../../../shared/ui/hands';
import { Roving } from '../../../shared/ui/roving';
import { LibraryService } from '../../../state/library';
import { Names } from '../names';
import type { Stack } from '../round/stack';
import { SurfaceLayout } from './surface-layout';
import { SurfacePainter } from './surface-painter';

const PIXELS_PER_TICK = 7;
/** Pixels of a hand's way over a knob's whole travel. */
const KNOB_PIXELS = 140;
const KEY_STEP = 0.01;
const FINE_STEP = 1 / 1023;
const PAGE_STEP = 0.1;
/** A surface as it stands on the desk: real proportions, moving and lighting as the hardware does, live. */
@Component({
  selector: 'rondo-surface-drawing',
  imports: [ControlShape, Hands, MoverShape],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './surface-drawing.html',
  styleUrl: './surface-drawing.css',
})
export class SurfaceDrawing implements Played {
  readonly surface = input.required<Surface>();
  readonly surfaceId = input.required<string>();
  readonly profile = input.required<Profile>();
  readonly selected = input<ControlRef | null>(null);
  readonly bank = input(0);
  /** What is bound, as it stands on the layer that is looked at. */
  readonly stack = input.required<Stack>();
  /** Controls that are marked, as `surface control`. */
  readonly marks = input<ReadonlySet<string>>();
  protected readonly marked = computed(() => {
    const marks = this.marks();
    return marks
      ? this.surface().controls.filter(({ id }) => marks.has(`${this.surfaceId()} ${id}`))
      : [];
  });
  readonly picked = output<ControlRef>();
  /** A control was taken hold of, by pointer or keyboard: more than looked at. */
  readonly grasped = output<ControlRef>();

  private readonly engine = inject(EngineService);
  private readonly library = inject(LibraryService);
  private readonly names = computed(() => new Names(this.profile(), this.library.library()));
  private readonly host: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly layout = new SurfaceLayout({
    surface: this.surface,
    surfaceId: this.surfaceId,
    stack: this.stack,
    names: this.names,
    bank: this.bank,
    least: leastLetter(() => this.surface()),
  });
  private readonly painter = new SurfacePainter(
    this.host,
    this.surface,
    this.surfaceId,
    () => this.engine.frames.displays,
  );

  /** The line around what is selected. */
  protected readonly chosen = computed(() => {
    const selected = this.selected();
    const control =
      selected?.surface === this.surfaceId() &&
      this.surface().controls.find(({ id }) => id === selected.control);
    if (!control) return null;
    const width = control.width + 3;
    const height = control.height + 3;
    const isRound = control.round === true || control.kind === 'jog';
    return {
      id: control.id,
      x: control.x - 1.5,
      y: control.y - 1.5,
      width,
      height,
      rx: isRound ? Math.min(width, height) / 2 : 3,
    };
  });

  /** Controls that can be played, as places of the keyboard. */
  private readonly places = computed(() =>
    this.surface()
      .controls.filter((control) => !this.layout.isSilent(control))
      .map(({ id, x, y, width, height }) => ({
        id,
        x,
        y,
        width,
        height,
        focus: () => this.host.querySelector<SVGGElement>(`g[data-id="${id}"]`)?.focus(),
      })),
  );
  /** Where the keyboard is on the surface. */
  protected readonly roving = new Roving();

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.painter.paint(frame));
    inject(DestroyRef).onDestroy(stop);
    effect(() => this.roving.among(this.places().map(({ id }) => id)));
    afterRenderEffect(() => {
      this.surface();
      this.painter.anew();
    });
  }

  private link(): string {
    return `surface:${this.surfaceId()}`;
  }

  private controlAt(target: EventTarget | null): Control | null {
    const id = (target as Element | null)?.closest('g[data-id]')?.getAttribute('data-id');
    return this.surface().controls.find((c) => c.id === id) ?? null;
  }

  private pick(control: Control): void {
    const ref = this.refOf(control);
    if (ref) this.picked.emit(ref);
  }

  private refOf(control: Control): ControlRef | null {
    const parts = inputsOf(this.surface(), control);
    if (parts.length === 0) return null;
    const main = mainPart(control.kind);
    const part: InputPart = main && parts.includes(main) ? main : parts[0];
    return { surface: this.surfaceId(), control: control.id, part };
  }

  private grasps(control: Control): void {
    const ref = this.refOf(control);
    if (ref) this.grasped.emit(ref);
  }

  private do(control: Control, does: Hand['does'], value: number): void {
    this.engine.hand({ link: this.link(), control: control.id, does, value });
  }

  private isPressed(control: Control): boolean {
    return mainPart(control.kind) === 'push';
  }

  thingAt(target: EventTarget | null): string | null {
    return this.controlAt(target)?.id ?? null;
  }

  grasp(event: PointerEvent): Grip | null {
    const control = this.controlAt(event.target);
    if (!control || this.layout.isSilent(control)) return null;
    this.pick(control);
    this.grasps(control);
    if (this.isPressed(control)) return this.press(control, event.clientY);
    if (turns(this.surface(), control, 'value')) return this.turn(control, event);
    return this.slide(control, event, event.currentTarget as SVGSVGElement);
  }

  /** A finger on a key, which presses harder as it is pulled up. */
  private press(control: Control, from?: number): Grip {
    this.do(control, 'press', 1);
    return {
      move: ({ clientY }) => {
        if (control.sends.pressure && from !== undefined)
          this.do(control, 'squeeze', clamp((from - clientY) / KNOB_PIXELS));
      },
      end: () => this.do(control, 'press', 0),
    };
  }

  /** A hand on what counts ticks; where it does not turn it, it has pressed it. */
  private turn(control: Control, { clientX, clientY }: PointerEvent): Grip {
    let done = 0;
    let moved = false;
    return {
      move: (event) => {
        const ticks = Math.trunc(
          (event.clientX - clientX + clientY - event.clientY) / PIXELS_PER_TICK,
        );
        if (ticks === done) return;
        this.do(control, 'turn', ticks - done);
        done = ticks;
        moved = true;
      },
      end: (lost) => {
        if (!moved && !lost && control.sends.push) this.press(control).end(false);
      },
    };
  }

  /** A hand on what has a place of its own. */
  private slide(control: Control, { clientX, clientY }: PointerEvent, svg: SVGSVGElement): Grip {
    const { width, height } = svg.getBoundingClientRect();
    const millimetre = Math.min(width / this.surface().width, height / this.surface().height) || 1;
    const length = (isLying(control) ? control.width : control.height) - capOf(control);
    const pixels = isTurned(control) ? KNOB_PIXELS : length * millimetre;
    const from = this.painter.positionOf(control);
    const grip = this.touch(control);
    return {
      ...grip,
      move: (event) => {
        const up = clientY - event.clientY;
        const right = event.clientX - clientX;
        const way = isTurned(control) ? up + right : isLying(control) ? right : up;
        this.do(control, 'move', clamp(from + way / pixels));
      },
    };
  }

  private touch(control: Control): Grip {
    this.do(control, 'touch', 1);
    return { end: () => this.do(control, 'touch', 0) };
  }

  protected onWheel(event: WheelEvent): void {
    const control = this.controlAt(event.target);
    if (!control || !turns(this.surface(), control, 'value')) return;
    event.preventDefault();
    this.pick(control);
    this.do(control, 'turn', event.deltaY < 0 ? 1 : -1);
  }

  protected onFocus(event: FocusEvent): void {
    const control = this.controlAt(event.target);
    if (!control) return;
    this.roving.entered(control.id);
    if ((event.target as Element).matches(':focus-visible')) this.pick(control);
  }

  strike(event: KeyboardEvent, held: boolean): Grip | null {
    const control = this.controlAt(event.target);
    if (!control || event.ctrlKey || event.metaKey || event.altKey) return null;
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key] ?? 0;
    const page = { PageUp: 1, PageDown: -1 }[event.key] ?? 0;
    const end = { Home: 0, End: 1 }[event.key];
    const isKey = this.isPressed(control);
    if (event.key === ' ' || (event.key === 'Enter' && isKey)) {
      event.preventDefault();
      const presses = !event.repeat && !held && inputsOf(this.surface(), control).includes('push');
      if (presses) this.grasps(control);
      return presses ? this.press(control) : null;
    }
    // What is taken hold of is in hand, however the focus came to it.
    if (event.key === 'Enter') {
      this.pick(control);
      this.grasps(control);
    }
    if (this.roving.key(event, control.id, this.places())) return null;
    if (up === 0 && page === 0 && end === undefined) return null;
    event.preventDefault();
    if (turns(this.surface(), control, 'value')) {
      this.do(control, 'turn', up + page * 10);
      return null;
    }
    // The hand stays on it until the key is up.
    const grip = event.repeat || held ? null : this.touch(control);
    const positions = control.positions?.length;
    const one = positions ? 1 / (positions - 1) : event.shiftKey ? FINE_STEP : KEY_STEP;
    this.do(
      control,
      'move',
      end ?? clamp(this.painter.positionOf(control) + up * one + page * PAGE_STEP),
    );
    return grip;
  }
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));
