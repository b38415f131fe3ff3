import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import type { Action, ControlRef, Profile } from '@rondo/core/profile';
import { partKey } from '@rondo/core/round';
import {
  inkOn,
  inputsOf,
  lightTarget,
  mainPart,
  outputsOf,
  shownColour,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import { EngineService } from '../../../engine/engine.service';
import { OutField, PartField, type Frame } from '../../../engine/frame';
import type { Hand } from '../../../engine/protocol';
import { ControlShape } from '../../../shared/panel/control-shape';
import {
  capOf,
  fitName,
  fitShort,
  fitText,
  inLayers,
  isLying,
  isTurned,
  moverAt,
  nearest,
  unitOf,
} from '../../../shared/panel/geometry';
import { leastLetter } from '../../../shared/panel/legible';
import { MoverShape } from '../../../shared/panel/mover-shape';
import { Hands, type Grip, type Played } from '../../../shared/ui/hands';
import { LibraryService } from '../../../state/library';
import { Names } from '../names';
import type { Stack } from '../round/stack';

const RING_DOTS = 11;
/** Directions of the arrow keys, right and down. */
const ARROWS: Readonly<Record<string, readonly [number, number] | undefined>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
const PIXELS_PER_TICK = 7;
/** Pixels of a hand's way over a knob's whole travel. */
const KNOB_PIXELS = 140;
const KEY_STEP = 0.01;
const FINE_STEP = 1 / 1023;
const PAGE_STEP = 0.1;
const LETTER = 7.6;
const TAPE = { height: 10.5, letter: 6.9, width: 43, lines: 1.25 };
/** Letters of displays, and the largest that two lines have room for, in millimetres. */
const DISPLAY = { letter: 9, most: 12.5 };

interface Live {
  readonly control: Control;
  /** It counts ticks and has no position of its own. */
  readonly relative: boolean;
  readonly parts: Partial<Record<string, number>>;
  readonly outs: Partial<Record<string, number>>;
  readonly node: SVGGElement;
  /** Its group on the sheet of what moves. */
  readonly moving: SVGGElement | null;
  readonly dots: readonly Element[];
  readonly lines: readonly Element[];
  /** What was drawn last, so that only changes touch the page. */
  position: number;
  ring: number;
  lit: number;
  down: number;
  meterHeight: number;
  texts: string[];
}

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

  private readonly engine = inject(EngineService);
  private readonly library = inject(LibraryService);
  private readonly names = computed(() => new Names(this.profile(), this.library.library()));
  private readonly host: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private live: Live[] = [];
  private livePlan: unknown = null;

  protected readonly viewBox = computed(
    () => `0 0 ${this.surface().width} ${this.surface().height}`,
  );
  protected readonly unit = computed(() => unitOf(this.surface()));
  /** Letters below this, in millimetres, would be too small to read. */
  private readonly least = leastLetter(() => this.surface());
  protected readonly makerLetter = computed(() => Math.max(9 * this.unit(), this.least()));
  /** Letters of displays, in millimetres; 0 where they would not fit. */
  protected readonly displayLetter = computed(() => {
    const letter = Math.max(DISPLAY.letter, this.least());
    return letter > DISPLAY.most ? 0 : letter;
  });
  protected readonly displays = computed(() =>
    this.surface().controls.filter((c) => mainPart(c.kind) === null),
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

  /** All that is drawn of each control, worked out once and not at every change of the selection. */
  protected readonly items = computed(() =>
    inLayers(this.surface().controls).map((control) => this.itemOf(control)),
  );
  protected readonly movers = computed(() =>
    this.items().filter(({ control }) =>
      mainPart(control.kind) === null ? control.takes.meter : mainPart(control.kind) === 'value',
    ),
  );

  /** Displays that stand by themselves. */
  protected readonly lone = computed(() =>
    this.displays().filter(({ strip }) => strip === undefined),
  );

  /** One wide band behind the pieces of the display. */
  protected readonly band = computed(() => {
    const pieces = this.displays().filter(({ strip }) => strip !== undefined);
    if (pieces.length === 0) return null;
    const x = Math.min(...pieces.map((c) => c.x)) - 2;
    const y = Math.min(...pieces.map((c) => c.y)) - 1;
    return {
      x,
      y,
      width: Math.max(...pieces.map((c) => c.x + c.width)) + 2 - x,
      height: Math.max(...pieces.map((c) => c.y + c.height)) + 1 - y,
    };
  });

  /** The one control that Tab comes to: the one that had the focus last, else the first. */
  protected readonly stop = computed(() => {
    const playable = this.surface().controls.filter((control) => !this.isSilent(control));
    return playable.find(({ id }) => id === this.visited())?.id ?? playable.at(0)?.id;
  });
  private readonly visited = signal('');
  /** The control whose value the arrows move, after Enter; '' while they go between controls. */
  protected readonly taken = signal('');

  private seen(control: string, part: InputPart) {
    return this.stack().first({ surface: this.surfaceId(), control, part });
  }

  private action(control: string, part: InputPart): Action | undefined {
    return this.seen(control, part)?.binding.actions[0];
  }

  /** Strips of tape: what each control that moves reaches now; its own name where it reaches nothing. */
  protected readonly tapes = computed(() => {
    const { controls, height } = this.surface();
    const unit = this.unit();
    const written = new Set(this.displays().map((c) => c.strip));
    return (
      controls
        .filter((c) => mainPart(c.kind) === 'value')
        .filter((c) => c.kind === 'fader' || c.strip === undefined || !written.has(c.strip))
        .map((c) => {
          const seen = this.seen(c.id, 'value');
          const action = seen?.binding.actions[0];
          const letter = Math.max(TAPE.letter * unit, this.least());
          const tall = Math.max(TAPE.height * unit, letter * TAPE.lines);
          const width = Math.max(c.width, Math.min(TAPE.width * unit, this.roomFor(c)));
          // Of a name its number alone tells more than its beginning.
          const text = action
            ? fitText(this.names().tape(action, this.bank()), width, letter)
            : fitName(c.label, width, letter);
          const below = c.y + c.height + 1.5;
          return {
            id: c.id,
            bound: action !== undefined,
            below: seen?.below ?? false,
            x: c.x + c.width / 2 - width / 2,
            y: Math.min(below, this.nextBelow(c) - tall, height - tall),
            width,
            height: tall,
            letter,
            text,
          };
        })
        // Where nothing can be read there is no tape either.
        .filter(({ text }) => text !== '')
    );
  });

  constructor() {
    const stop = this.engine.frames.paint((frame) => this.paint(frame));
    inject(DestroyRef).onDestroy(stop);
    afterRenderEffect(() => {
      this.surface();
      this.livePlan = null;
    });
  }

  /** How wide a tape under a control may be before it meets its neighbours' tapes. */
  private roomFor(control: Control): number {
    const middle = control.x + control.width / 2;
    const row = this.surface().controls.filter(
      (c) =>
        c !== control && Math.abs(c.y + c.height - control.y - control.height) < 12 && !c.silent,
    );
    return Math.min(...row.map((c) => Math.abs(c.x + c.width / 2 - middle) - 2), Infinity);
  }

  /** Where the next control below one begins. */
  private nextBelow(control: Control): number {
    const under = this.surface().controls.filter(
      (c) =>
        c.y >= control.y + control.height &&
        c.x < control.x + control.width &&
        control.x < c.x + c.width,
    );
    return Math.min(...under.map((c) => c.y - 1), Infinity);
  }

  /** Controls that what has focus never takes: a pin in the corner of each. */
  protected readonly pins = computed(() =>
    this.items()
      .filter(({ pinned }) => pinned)
      .map(({ control: { id, x, y, width } }) => ({ id, x: x + width - 1, y: y + 1 })),
  );

  private itemOf(control: Control) {
    const surface = this.surface();
    const inputs = inputsOf(surface, control);
    const relative = turns(surface, control, 'value');
    const silent = inputs.length === 0;
    const role = silent ? 'img' : mainPart(control.kind) === 'push' ? 'button' : 'slider';
    const seen = inputs.map((part) => this.seen(control.id, part)).find((one) => one !== undefined);
    const action = seen?.binding.actions[0];
    const does = action ? this.names().tape(action, this.bank()) : 'nothing bound';
    const isDisplay = mainPart(control.kind) === null;
    const pinned = seen?.binding.pinned ?? false;
    const lies = isLying(control) ? 'horizontal' : 'vertical';
    return {
      control,
      role,
      bound: isDisplay || action !== undefined,
      below: seen?.below ?? false,
      pinned,
      legend: this.legend(control),
      letter: this.letter(control),
      place: `translate(${control.x} ${control.y})`,
      start: isDisplay
        ? `translate(${control.x} ${control.y + 28}) scale(1 0)`
        : moverAt(control, 0, relative),
      orientation: role === 'slider' && !relative ? lies : null,
      says: isDisplay
        ? control.label
        : `${control.label}: ${silent ? 'sends nothing' : does}${pinned ? ', pinned' : ''}`,
    };
  }

  /** Whether nothing can be done with it: a display, or what sends nothing. */
  private isSilent(control: Control): boolean {
    return inputsOf(this.surface(), control).length === 0;
  }

  /** What stands on a key: its sign, else what it does, else its name. */
  private legend(control: Control): string {
    if (mainPart(control.kind) !== 'push') return '';
    const action = this.action(control.id, 'push');
    if (control.kind === 'key' && !action) return '';
    const size = this.letter(control);
    if (size > control.height * 0.95) return '';
    if (control.legend === undefined && !action) return fitName(control.label, control.width, size);
    if (control.legend !== undefined || !action)
      return fitShort(control.legend ?? '', control.width, control.height, size);
    const { width, height, round, kind } = control;
    const text = this.names().tape(action, this.bank());
    // A round key is narrower beside its middle, and a keyboard's has its text at its end.
    return fitShort(text, round ? width * 0.85 : width, round || kind === 'key' ? 0 : height, size);
  }

  private letter(control: Control): number {
    const sign = control.legend !== undefined && control.legend.length <= 2 && !control.round;
    const small = control.round && control.legend === undefined;
    const size = LETTER * this.unit() * (sign ? 1.3 : small ? 0.86 : 1);
    return Math.max(Math.min(size, control.height * 0.7), this.least());
  }

  private link(): string {
    return `surface:${this.surfaceId()}`;
  }

  /** Finds the elements that move, once per plan. */
  private collect(): void {
    const { plan } = this.engine;
    if (!plan || this.livePlan === plan) return;
    this.livePlan = plan;
    const parts = new Map(plan.parts.map((part, i) => [part.key, i]));
    const outs = new Map(plan.outs.map((out, i) => [out.key, i]));
    this.live = this.surface().controls.flatMap((control) => {
      const node = this.host.querySelector<SVGGElement>(`g[data-id="${control.id}"]`);
      if (!node) return [];
      const above = [...this.host.querySelectorAll<SVGGElement>(`g[data-over="${control.id}"]`)];
      const find = (what: string) =>
        above.flatMap((g) => [...g.querySelectorAll<SVGElement>(what)]);
      const indices = (index: Map<string, number>, names: string[]) =>
        Object.fromEntries(
          names.map((name) => [name, index.get(partKey(this.surfaceId(), control.id, name))]),
        );
      return [
        {
          control,
          relative: turns(this.surface(), control, 'value'),
          parts: indices(parts, inputsOf(this.surface(), control)),
          outs: indices(outs, outputsOf(this.surface(), control)),
          node,
          moving: above.find((g) => g.classList.contains('moving')) ?? null,
          dots: [...node.querySelectorAll('.dot')],
          lines: find('.line'),
          position: -1,
          ring: -2,
          lit: -1,
          down: -1,
          meterHeight: -1,
          texts: ['', ''],
        },
      ];
    });
  }

  private paint(frame: Frame): void {
    this.collect();
    for (const live of this.live) {
      if (mainPart(live.control.kind) === null) this.paintDisplay(live, frame);
      else {
        if (live.moving) this.paintMoving(live, frame);
        this.paintKey(live, frame);
      }
    }
  }

  private paintMoving(live: Live, frame: Frame): void {
    const { control, moving } = live;
    const part = live.parts['value'];
    if (part === undefined || !moving) return;
    const position = frame.part(part, PartField.Position);
    if (position !== live.position) {
      live.position = position;
      moving.setAttribute('transform', moverAt(control, position, live.relative));
      const now = live.relative ? position : Math.round(position * 1023);
      live.node.setAttribute('aria-valuenow', String(now));
    }
    const ring = live.outs['ring'];
    if (ring === undefined) return;
    const value = frame.out(ring, OutField.Value);
    const wire = frame.out(ring, OutField.Wire);
    const shown = value < 0 ? -1 : wire;
    if (shown === live.ring) return;
    live.ring = shown;
    const at = Math.round(value * (RING_DOTS - 1));
    const fromCentre = ((wire >> 4) & 3) === 1;
    const middle = (RING_DOTS - 1) / 2;
    live.dots.forEach((dot, i) => {
      const inside = fromCentre ? i >= Math.min(middle, at) && i <= Math.max(middle, at) : i <= at;
      const isCentre = i === RING_DOTS;
      dot.classList.toggle('lit', shown >= 0 && (isCentre ? (wire & 0x40) !== 0 : inside));
    });
  }

  private paintKey(live: Live, frame: Frame): void {
    const light = live.outs['light'];
    const part = live.parts['push'] ?? live.parts['touch'];
    const lit = light === undefined ? 0 : frame.out(light, OutField.Value);
    const down = part === undefined ? 0 : frame.part(part, PartField.Down);
    if (lit !== live.lit) {
      live.lit = lit;
      const colour = this.colourOf(live.control, lit);
      live.node.classList.toggle('lit', lit > 0 && colour !== null);
      live.node.style.setProperty('--lamp', colour ?? null);
      live.node.style.setProperty('--lamp-ink', colour ? inkOn(colour) : null);
      if (this.isPressed(live.control)) live.node.setAttribute('aria-pressed', String(lit > 0));
    }
    if (down !== live.down) {
      live.down = down;
      live.node.classList.toggle('down', down === 1);
      live.moving?.classList.toggle('down', down === 1);
    }
  }

  /** Colour of a light for what it was told, by what the device makes of it; '' for its own lamp, null for dark. */
  private colourOf(control: Control, value: number): string | null {
    const pattern = control.takes.light;
    if (!pattern || value <= 0) return null;
    const target = lightTarget(this.surface(), control, pattern);
    if (target.kind === 'onOff') return '';
    return shownColour(target, target.kind === 'rgb' ? value : Math.round(value * 127));
  }

  private paintDisplay(live: Live, frame: Frame): void {
    for (const [i, name] of ['upper', 'lower'].entries()) {
      const out = live.outs[name];
      if (out === undefined) continue;
      const text = this.engine.frames.displays[out] ?? '';
      if (text === live.texts[i]) continue;
      live.texts[i] = text;
      live.lines[i].textContent = text;
      live.node.setAttribute(
        'aria-label',
        `${live.control.label}: ${live.texts.map((t) => t.trim()).join(', ')}`,
      );
    }
    const meter = live.outs['meter'];
    if (meter === undefined || !live.moving) return;
    const height = frame.out(meter, OutField.Value);
    if (height === live.meterHeight) return;
    live.meterHeight = height;
    const { x, y } = live.control;
    live.moving.setAttribute('transform', `translate(${x} ${y + 28}) scale(1 ${-height})`);
  }

  private controlAt(target: EventTarget | null): Control | null {
    const id = (target as Element | null)?.closest('g[data-id]')?.getAttribute('data-id');
    return this.surface().controls.find((c) => c.id === id) ?? null;
  }

  private pick(control: Control): void {
    const parts = inputsOf(this.surface(), control);
    if (parts.length === 0) return;
    const main = mainPart(control.kind);
    const part: InputPart = main && parts.includes(main) ? main : parts[0];
    this.picked.emit({ surface: this.surfaceId(), control: control.id, part });
  }

  private positionOf(control: Control): number {
    return this.live.find((live) => live.control === control)?.position ?? 0;
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
    if (!control || this.isSilent(control)) return null;
    this.pick(control);
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
    const from = this.positionOf(control);
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
    this.visited.set(control.id);
    if (control.id !== this.taken()) this.taken.set('');
    if ((event.target as Element).matches(':focus-visible')) this.pick(control);
  }

  /** Puts the focus on the next control in an arrow's direction; Home and End on the first and the last. */
  private go(from: Control, key: string): void {
    const others = this.surface().controls.filter((c) => c !== from && !this.isSilent(c));
    const next =
      key === 'Home'
        ? others.at(0)
        : key === 'End'
          ? others.at(-1)
          : nearest(from, others, ARROWS[key]);
    if (next) this.host.querySelector<SVGGElement>(`g[data-id="${next.id}"]`)?.focus();
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
      return presses ? this.press(control) : null;
    }
    if (event.key === 'Enter') {
      event.preventDefault();
      // What is taken hold of is in hand, however the focus came to it.
      this.pick(control);
      if (!event.repeat) this.taken.update((taken) => (taken === control.id ? '' : control.id));
      return null;
    }
    if (event.key === 'Escape' && this.taken() !== '') {
      // What else Escape closes stays open.
      event.stopPropagation();
      this.taken.set('');
      return null;
    }
    if (up === 0 && page === 0 && end === undefined) return null;
    event.preventDefault();
    if (this.taken() !== control.id) {
      this.go(control, event.key);
      return null;
    }
    if (turns(this.surface(), control, 'value')) {
      this.do(control, 'turn', up + page * 10);
      return null;
    }
    // The hand stays on it until the key is up.
    const grip = event.repeat || held ? null : this.touch(control);
    const positions = control.positions?.length;
    const one = positions ? 1 / (positions - 1) : event.shiftKey ? FINE_STEP : KEY_STEP;
    this.do(control, 'move', end ?? clamp(this.positionOf(control) + up * one + page * PAGE_STEP));
    return grip;
  }
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));
