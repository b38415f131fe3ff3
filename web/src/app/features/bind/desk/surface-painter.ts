import type { PlainPlan } from '@rondo/core/round';
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
  type Surface,
} from '@rondo/core/surface';
import { OutField, PartField, type Frame } from '../../../engine/frame';
import { moverAt } from '../../../shared/panel/geometry';

const RING_DOTS = 11;

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

/** Moves and lights the elements of a drawing as the engine tells: only what has changed touches the page. */
export class SurfacePainter {
  private live: Live[] = [];
  private livePlan: PlainPlan | null = null;

  /**
   * @param host holds the drawing
   * @param surface what is drawn, and its id in the profile
   * @param displays what stands in displays, by output
   */
  constructor(
    private readonly host: HTMLElement,
    private readonly surface: () => Surface,
    private readonly surfaceId: () => string,
    private readonly displays: () => readonly string[],
  ) {}

  /** The elements are others now. */
  anew(): void {
    this.livePlan = null;
  }

  /** Where a control stands as it is drawn, 0…1. */
  positionOf(control: Control): number {
    return this.live.find((live) => live.control === control)?.position ?? 0;
  }

  /** Finds the elements that move, once per plan. */
  private collect(plan: PlainPlan): void {
    if (this.livePlan === plan) return;
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

  paint(frame: Frame): void {
    this.collect(frame.plan);
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
      if (mainPart(live.control.kind) === 'push')
        live.node.setAttribute('aria-pressed', String(lit > 0));
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
      const text = this.displays()[out] ?? '';
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
}
