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
} from '@angular/core';
import { scaleLinear } from 'd3';
import type { ControlRef, Profile } from '@rondo/core/profile';
import { partKey } from '@rondo/core/round';
import type { Control, InputPart, Surface } from '@rondo/core/surface';
import { EngineService } from '../engine/engine.service';
import { OutField, PartField, type Frame } from '../engine/frame';
import { tapeText } from './names';

const CAP = 22;
const RING_DOTS = 11;
const PIXELS_PER_TICK = 7;
const DEGREES_PER_TICK = 9;
const KEY_STEP = 0.01;
const FINE_STEP = 1 / 1023;
const PAGE_STEP = 0.1;

interface Live {
  readonly control: Control;
  readonly parts: Partial<Record<string, number>>;
  readonly outs: Partial<Record<string, number>>;
  readonly node: SVGGElement;
  /** Its group on the sheet of what moves. */
  readonly above: SVGGElement | null;
  readonly moving: SVGElement | null;
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

interface Drag {
  readonly control: Control;
  readonly x: number;
  readonly y: number;
  readonly from: number;
  readonly pixels: number;
  ticks: number;
  moved: boolean;
}

/** Keys with a letter of their own, as on consoles. */
const LETTERS: Readonly<Record<string, string>> = {
  mute: 'M',
  solo: 'S',
  arm: 'R',
  select: 'Select',
};
const SYMBOLS: Readonly<Record<string, string>> = {
  rewind: '◂◂',
  forward: '▸▸',
  stop: '■',
  play: '▶',
  record: '●',
  'bank-left': '◂ bank',
  'bank-right': 'bank ▸',
  'strip-left': '◂ strip',
  'strip-right': 'strip ▸',
};
const SHORT = /^Function (\d)$/;

/** A surface as it stands on the desk: real proportions, moving and lighting as the hardware does, live. */
@Component({
  selector: 'rondo-surface-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      [attr.viewBox]="viewBox()"
      preserveAspectRatio="xMidYMin meet"
      role="group"
      [attr.aria-label]="surface().name"
      (pointerdown)="onDown($event)"
      (pointermove)="onMove($event)"
      (pointerup)="onUp($event)"
      (pointercancel)="onUp($event)"
      (wheel)="onWheel($event)"
      (keydown)="onKey($event)"
      (keyup)="onKeyUp($event)"
      (focusin)="onFocus($event)"
    >
      <rect class="panel" width="100%" height="100%" rx="9" />
      <text class="maker" x="16" [attr.y]="surface().height - 14">{{ surface().name }}</text>
      @if (band(); as b) {
        <rect
          class="band"
          [attr.x]="b.x"
          [attr.y]="b.y"
          [attr.width]="b.width"
          [attr.height]="b.height"
          rx="3"
        />
      }
      @for (c of surface().controls; track c.id) {
        <g
          class="control"
          [attr.data-id]="c.id"
          [class]="c.kind"
          [class.round]="c.kind === 'button' && c.width === c.height"
          [class.bound]="isBound(c)"
          [class.selected]="isSelected(c)"
          [attr.transform]="'translate(' + c.x + ' ' + c.y + ')'"
          [attr.tabindex]="c.kind === 'display' ? null : 0"
          [attr.role]="c.kind === 'button' ? 'button' : c.kind === 'display' ? 'img' : 'slider'"
          [attr.aria-label]="ariaLabel(c)"
          [attr.aria-valuemin]="c.kind === 'fader' ? 0 : null"
          [attr.aria-valuemax]="c.kind === 'fader' ? 1023 : null"
          [attr.aria-orientation]="c.kind === 'fader' ? 'vertical' : null"
        >
          @switch (c.kind) {
            @case ('fader') {
              <rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
              @for (tick of ticks; track tick) {
                <line
                  class="tick"
                  x1="2"
                  x2="6"
                  [attr.y1]="tickY(c, tick)"
                  [attr.y2]="tickY(c, tick)"
                />
                <line
                  class="tick"
                  [attr.x1]="c.width - 6"
                  [attr.x2]="c.width - 2"
                  [attr.y1]="tickY(c, tick)"
                  [attr.y2]="tickY(c, tick)"
                />
              }
              <rect
                class="slot"
                [attr.x]="c.width / 2 - 1.5"
                y="2"
                width="3"
                [attr.height]="c.height - 4"
                rx="1.5"
              />
            }
            @case ('encoder') {
              <rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
              @for (dot of dots; track dot) {
                <circle class="dot" [attr.cx]="dotX(c, dot)" [attr.cy]="dotY(c, dot)" r="1.5" />
              }
              <circle class="dot centre" [attr.cx]="c.width / 2" [attr.cy]="-3.4" r="1" />
              <circle class="knob" [attr.cx]="c.width / 2" [attr.cy]="c.height / 2" r="10" />
            }
            @case ('jog') {
              <circle
                class="knob"
                [attr.cx]="c.width / 2"
                [attr.cy]="c.height / 2"
                [attr.r]="c.width / 2"
              />
              <circle
                class="jog-face"
                [attr.cx]="c.width / 2"
                [attr.cy]="c.height / 2"
                [attr.r]="c.width / 2 - 6"
              />
            }
            @case ('display') {}
            @default {
              <rect
                class="key"
                [attr.width]="c.width"
                [attr.height]="c.height"
                [attr.rx]="c.width === c.height ? c.width / 2 : 3"
              />
              <text
                class="legend"
                [class.symbol]="isSymbol(c)"
                [attr.x]="c.width / 2"
                [attr.y]="c.height / 2"
                dominant-baseline="central"
              >
                {{ legend(c) }}
              </text>
            }
          }
        </g>
      }
      @for (tape of tapes(); track tape.id) {
        <g
          class="tape"
          [attr.transform]="'translate(' + tape.x + ' ' + tape.y + ')'"
          aria-hidden="true"
        >
          <rect [attr.width]="tape.width" height="10.5" />
          <text [attr.x]="tape.width / 2" y="5.6" dominant-baseline="central">{{ tape.text }}</text>
        </g>
      }
    </svg>
    <!-- What is written and what moves lies above, on sheets of its own: moving it lays out no text anew. -->
    <svg
      class="above"
      [attr.viewBox]="viewBox()"
      preserveAspectRatio="xMidYMin meet"
      aria-hidden="true"
    >
      @for (c of displays(); track c.id) {
        <g [attr.data-over]="c.id" [attr.transform]="'translate(' + c.x + ' ' + c.y + ')'">
          <text class="line" x="3" y="12"></text>
          <text class="line" x="3" y="24"></text>
        </g>
      }
    </svg>
    <svg
      class="above"
      [attr.viewBox]="viewBox()"
      preserveAspectRatio="xMidYMin meet"
      aria-hidden="true"
    >
      @for (c of movers(); track c.id) {
        <g
          [attr.data-over]="c.id"
          [class]="c.kind"
          [class.bound]="isBound(c)"
          [class.selected]="isSelected(c)"
        >
          <g class="moving" [attr.transform]="'translate(' + c.x + ' ' + c.y + ')'">
            @switch (c.kind) {
              @case ('fader') {
                <rect class="cap" x="2" width="20" height="22" rx="2.5" />
                <line class="cap-line" x1="2" x2="22" y1="11" y2="11" />
              }
              @case ('encoder') {
                <line
                  class="pointer"
                  [attr.x1]="c.width / 2"
                  [attr.x2]="c.width / 2"
                  [attr.y1]="c.height / 2 - 9"
                  [attr.y2]="c.height / 2 - 4"
                />
              }
              @case ('jog') {
                <circle class="dimple" [attr.cx]="c.width / 2" cy="14" r="5" />
              }
              @case ('display') {
                <rect class="meter" [attr.x]="c.width - 3.4" width="2" y="0" height="26" />
              }
            }
          </g>
        </g>
      }
    </svg>
  `,
  styleUrl: './surface-drawing.css',
})
export class SurfaceDrawing {
  readonly surface = input.required<Surface>();
  readonly surfaceId = input.required<string>();
  readonly profile = input.required<Profile>();
  readonly selected = input<ControlRef | null>(null);
  readonly bank = input(0);
  readonly picked = output<ControlRef>();

  protected readonly ticks = [0, 0.25, 0.5, 0.75, 1];
  protected readonly dots = Array.from({ length: RING_DOTS }, (_, i) => i);
  private readonly engine = inject(EngineService);
  private readonly host: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private live: Live[] = [];
  private livePlan: unknown = null;
  private drag: Drag | null = null;
  private readonly keysDown = new Set<string>();
  private readonly dotAngle = scaleLinear([0, RING_DOTS - 1], [-135, 135]);

  protected readonly viewBox = computed(
    () => `0 0 ${this.surface().width} ${this.surface().height}`,
  );
  protected readonly displays = computed(() =>
    this.surface().controls.filter((c) => c.kind === 'display'),
  );
  protected readonly movers = computed(() =>
    this.surface().controls.filter((c) => c.kind !== 'button'),
  );

  /** One wide band behind the pieces of the display. */
  protected readonly band = computed(() => {
    const pieces = this.displays();
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

  private readonly actions = computed(() => {
    const profile = this.profile();
    const found = new Map<string, (typeof profile.bindings)[string]['actions'][number]>();
    for (const key of profile.bindingOrder) {
      const { control, actions } = profile.bindings[key];
      if (control.surface === this.surfaceId())
        found.set(`${control.control}/${control.part}`, actions[0]);
    }
    return found;
  });

  /** Strips of tape under the faders: what each reaches now. */
  protected readonly tapes = computed(() =>
    this.surface()
      .controls.filter((c) => c.kind === 'fader')
      .flatMap((c) => {
        const action = this.actions().get(`${c.id}/value`);
        const width = 43;
        return action
          ? [
              {
                id: c.id,
                x: c.x + c.width / 2 - width / 2,
                y: c.y + c.height + 1.5,
                width,
                text: fit(tapeText(this.profile(), action, this.bank())),
              },
            ]
          : [];
      }),
  );

  constructor() {
    const stop = this.engine.paint((frame) => this.paint(frame));
    inject(DestroyRef).onDestroy(stop);
    afterRenderEffect(() => {
      this.surface();
      this.livePlan = null;
    });
  }

  protected isBound(control: Control): boolean {
    const parts = Object.keys(control.sends);
    return (
      control.kind === 'display' ||
      parts.some((part) => this.actions().has(`${control.id}/${part}`))
    );
  }

  protected isSelected(control: Control): boolean {
    const selected = this.selected();
    return selected?.control === control.id && selected.surface === this.surfaceId();
  }

  protected ariaLabel(control: Control): string {
    const action = [...Object.keys(control.sends)]
      .map((part) => this.actions().get(`${control.id}/${part}`))
      .find(Boolean);
    const does = action ? tapeText(this.profile(), action, this.bank()) : 'nothing bound';
    return control.kind === 'display' ? control.label : `${control.label}: ${does}`;
  }

  protected legend(control: Control): string {
    const short = SHORT.exec(control.label);
    if (short) return `F${short[1]}`;
    return SYMBOLS[control.id] ?? LETTERS[control.id.split('-')[0]] ?? control.label;
  }

  protected isSymbol(control: Control): boolean {
    return control.id in SYMBOLS && !control.id.includes('-');
  }

  protected tickY(control: Control, share: number): number {
    return CAP / 2 + share * (control.height - CAP);
  }

  protected dotX(control: Control, dot: number): number {
    return control.width / 2 + 14 * Math.sin((this.dotAngle(dot) * Math.PI) / 180);
  }

  protected dotY(control: Control, dot: number): number {
    return control.height / 2 - 14 * Math.cos((this.dotAngle(dot) * Math.PI) / 180);
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
          parts: indices(parts, Object.keys(control.sends)),
          outs: indices(outs, Object.keys(control.takes)),
          node,
          above: above.at(-1) ?? null,
          moving: find('.moving')[0] ?? null,
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
      if (live.control.kind === 'display') this.paintDisplay(live, frame);
      else if (live.control.kind === 'button') this.paintKey(live, frame);
      else this.paintMoving(live, frame);
    }
  }

  private paintMoving(live: Live, frame: Frame): void {
    const { control, moving } = live;
    const part = live.parts['value'];
    if (part === undefined || !moving) return;
    const position = frame.part(part, PartField.Position);
    if (position !== live.position) {
      live.position = position;
      if (control.kind === 'fader') {
        const y = control.y + (1 - position) * (control.height - CAP);
        moving.setAttribute('transform', `translate(${control.x} ${y})`);
        live.node.setAttribute('aria-valuenow', String(Math.round(position * 1023)));
      } else {
        const middle = `${control.width / 2} ${control.height / 2}`;
        moving.setAttribute(
          'transform',
          `translate(${control.x} ${control.y}) rotate(${position * DEGREES_PER_TICK} ${middle})`,
        );
        live.node.setAttribute('aria-valuenow', String(position));
      }
    }
    const touch = live.parts['touch'] ?? live.parts['push'];
    const down = touch === undefined ? 0 : frame.part(touch, PartField.Down);
    if (down !== live.down) {
      live.down = down;
      live.above?.classList.toggle('down', down === 1);
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
    const part = live.parts['push'];
    const lit = light === undefined ? 0 : frame.out(light, OutField.Value);
    const down = part === undefined ? 0 : frame.part(part, PartField.Down);
    if (lit !== live.lit) {
      live.lit = lit;
      live.node.classList.toggle('lit', lit >= 0.5);
      live.node.setAttribute('aria-pressed', String(lit >= 0.5));
    }
    if (down !== live.down) {
      live.down = down;
      live.node.classList.toggle('down', down === 1);
    }
  }

  private paintDisplay(live: Live, frame: Frame): void {
    for (const [i, name] of ['upper', 'lower'].entries()) {
      const out = live.outs[name];
      if (out === undefined) continue;
      const text = this.engine.displays[out] ?? '';
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
    const parts = Object.keys(control.sends) as InputPart[];
    if (parts.length === 0) return;
    const part = parts.includes('value') ? 'value' : parts[0];
    this.picked.emit({ surface: this.surfaceId(), control: control.id, part });
  }

  private positionOf(control: Control): number {
    return this.live.find((live) => live.control === control)?.position ?? 0;
  }

  private do(control: Control, does: 'touch' | 'move' | 'press' | 'turn', value: number): void {
    this.engine.hand({ link: this.link(), control: control.id, does, value });
  }

  protected onDown(event: PointerEvent): void {
    const control = this.controlAt(event.target);
    if (!control || event.button !== 0 || this.drag) return;
    const svg = event.currentTarget as SVGSVGElement;
    svg.setPointerCapture(event.pointerId);
    this.pick(control);
    if (control.kind === 'fader') this.do(control, 'touch', 1);
    if (control.kind === 'button') this.do(control, 'press', 1);
    const millimetre = svg.getBoundingClientRect().width / this.surface().width;
    this.drag = {
      control,
      x: event.clientX,
      y: event.clientY,
      from: this.positionOf(control),
      pixels: (control.height - CAP) * millimetre,
      ticks: 0,
      moved: false,
    };
  }

  protected onMove(event: PointerEvent): void {
    const { drag } = this;
    if (!drag) return;
    const { control } = drag;
    const up = drag.y - event.clientY;
    if (control.kind === 'fader') {
      drag.moved = true;
      this.do(control, 'move', clamp(drag.from + up / drag.pixels));
    } else if (control.kind === 'encoder' || control.kind === 'jog') {
      const ticks = Math.trunc((event.clientX - drag.x + up) / PIXELS_PER_TICK);
      if (ticks === drag.ticks) return;
      this.do(control, 'turn', ticks - drag.ticks);
      drag.ticks = ticks;
      drag.moved = true;
    }
  }

  protected onUp(event: PointerEvent): void {
    const { drag } = this;
    if (!drag) return;
    this.drag = null;
    const { control } = drag;
    if (control.kind === 'fader') this.do(control, 'touch', 0);
    if (control.kind === 'button') this.do(control, 'press', 0);
    if (control.kind === 'encoder' && !drag.moved && event.type === 'pointerup') {
      this.do(control, 'press', 1);
      this.do(control, 'press', 0);
    }
  }

  protected onWheel(event: WheelEvent): void {
    const control = this.controlAt(event.target);
    if (control?.kind !== 'encoder' && control?.kind !== 'jog') return;
    event.preventDefault();
    this.pick(control);
    this.do(control, 'turn', event.deltaY < 0 ? 1 : -1);
  }

  protected onFocus(event: FocusEvent): void {
    const control = this.controlAt(event.target);
    if (control && !this.drag && (event.target as Element).matches(':focus-visible'))
      this.pick(control);
  }

  protected onKey(event: KeyboardEvent): void {
    const control = this.controlAt(event.target);
    if (!control || event.ctrlKey || event.metaKey || event.altKey) return;
    const press = event.key === ' ' || event.key === 'Enter';
    const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key] ?? 0;
    const page = { PageUp: 1, PageDown: -1 }[event.key] ?? 0;
    const end = { Home: 0, End: 1 }[event.key];
    if (!press && up === 0 && page === 0 && end === undefined) return;
    event.preventDefault();
    if (press) {
      if (!event.repeat && control.sends.push) {
        this.keysDown.add(control.id);
        this.do(control, 'press', 1);
      }
    } else if (control.kind === 'fader') {
      if (!this.keysDown.has(control.id)) this.do(control, 'touch', 1);
      this.keysDown.add(control.id);
      const step = up * (event.shiftKey ? FINE_STEP : KEY_STEP) + page * PAGE_STEP;
      const to = end ?? clamp(this.positionOf(control) + step);
      this.do(control, 'move', to);
    } else if (control.kind !== 'button') this.do(control, 'turn', up + page * 10);
  }

  protected onKeyUp(event: KeyboardEvent): void {
    const control = this.controlAt(event.target);
    if (!control || !this.keysDown.delete(control.id)) return;
    this.do(control, control.kind === 'fader' ? 'touch' : 'press', 0);
  }
}

const clamp = (value: number): number => Math.max(0, Math.min(1, value));

/** What a tape has room for. */
const fit = (text: string): string => (text.length > 11 ? `${text.slice(0, 10).trimEnd()}…` : text);
