import {
  lightTarget,
  outputsOf,
  shownColour,
  type Control,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';
import type { GlassChanges } from '@rondo/core/wire';
import { inLayers } from '../app/shared/panel/geometry';
import { DOTS, captionOf, drawControl, placeOf, type Shown, type Writing } from './drawing';

const SVG = 'http://www.w3.org/2000/svg';
/** Nothing to read is smaller, in pixels; what has no room at that size is left out. */
const LEAST_LETTER = 10;

/** A panel that is drawn once and then moved, lit and written on as it is told. */
export class View {
  readonly svg: SVGSVGElement;
  private readonly shown = new Map<Control, Shown>();
  private readonly outs: readonly { readonly control: Control; readonly part: OutputPart }[];
  private readonly positions: number[];
  /** The smallest letters that can be read, in millimetres. */
  private least = 0;

  constructor(readonly surface: Surface) {
    this.svg = document.createElementNS(SVG, 'svg');
    this.svg.setAttribute('viewBox', `0 0 ${surface.width} ${surface.height}`);
    this.outs = surface.controls.flatMap((control) =>
      outputsOf(surface, control).map((part) => ({ control, part })),
    );
    this.positions = surface.controls.map(() => 0);
    for (const control of inLayers(surface.controls))
      this.shown.set(control, drawControl(this.svg, surface, control));
  }

  /**
   * Lays it on the screen.
   * @param scale pixels a millimetre
   */
  lay(scale: number, left: number, top: number): void {
    const { width, height } = this.surface;
    this.svg.setAttribute('width', String(width * scale));
    this.svg.setAttribute('height', String(height * scale));
    this.svg.style.left = `${left}px`;
    this.svg.style.top = `${top}px`;
    this.least = LEAST_LETTER / scale;
    for (const { writings } of this.shown.values())
      for (const writing of writings ?? []) this.write(writing);
  }

  private write({ line, room, tall, size, says }: Writing): void {
    const letter = Math.max(size, this.least);
    line.setAttribute('font-size', String(letter));
    line.textContent = letter <= tall ? says(room, letter) : '';
  }

  positionOf(control: Control): number {
    return this.positions[this.surface.controls.indexOf(control)] ?? 0;
  }

  /** Shows what has changed; what a finger has hold of stays where that has put it. */
  take({ at, out, text, does }: GlassChanges, held: ReadonlySet<Control>): void {
    for (const [place, position] of at ?? []) {
      const control = this.surface.controls.at(place);
      if (control && !(held.has(control) && !this.shown.get(control)?.relative))
        this.move(control, position);
    }
    for (const [place, value] of out ?? []) {
      const one = this.outs.at(place);
      if (one) this.light(one.control, one.part, value);
    }
    for (const [place, says] of does ?? []) {
      const control = this.surface.controls.at(place);
      const caption = control && this.shown.get(control)?.caption;
      if (caption) this.say(caption, captionOf(control, says));
    }
    for (const [place, says] of text ?? []) {
      const one = this.outs.at(place);
      if (one?.part !== 'upper' && one?.part !== 'lower') continue;
      const line = this.shown.get(one.control)?.lines?.[one.part];
      if (line) this.say(line, () => says.trim());
    }
  }

  private say(writing: Writing, says: Writing['says']): void {
    writing.says = says;
    this.write(writing);
  }

  /** Puts a control at a position, 0…1; ticks turned in all where it counts them. */
  move(control: Control, position: number): void {
    this.positions[this.surface.controls.indexOf(control)] = position;
    const shown = this.shown.get(control);
    shown?.mover?.setAttribute('transform', placeOf(control, position, shown.relative));
    shown?.rows?.forEach((row, n) =>
      row.classList.toggle('chosen', n === rowAt(control, position)),
    );
    for (const [pad, { crossing }] of this.shown) {
      if (pad.across !== control.id) continue;
      const x = String(pad.x + position * pad.width);
      crossing?.setAttribute('x1', x);
      crossing?.setAttribute('x2', x);
    }
  }

  /** Marks what fingers have hold of. */
  hold(held: ReadonlySet<Control>): void {
    for (const [control, { group }] of this.shown)
      group.classList.toggle('held', held.has(control));
  }

  private light(control: Control, part: OutputPart, value: number): void {
    const shown = this.shown.get(control);
    if (!shown) return;
    if (part === 'light') {
      const colour = this.colourOf(control, value);
      shown.group.classList.toggle('lit', colour !== null);
      const lamp = shown.group.querySelector<SVGElement>('.lamp');
      if (lamp) lamp.style.fill = colour ?? '';
    } else if (part === 'ring')
      shown.dots?.forEach((dot, n) =>
        dot.classList.toggle('lit', value >= 0 && n <= Math.round(value * (DOTS - 1))),
      );
    else if (part === 'meter' && shown.meter) {
      const height = Number(shown.meter.getAttribute('data-height'));
      shown.meter.setAttribute('height', String(Math.max(0, value) * height));
      shown.meter.setAttribute('y', String(2 + (1 - Math.max(0, value)) * height));
    }
  }

  /** The colour of a light for what it was told; '' for a plain lamp, null for dark. */
  private colourOf(control: Control, value: number): string | null {
    const pattern = control.takes.light;
    if (!pattern || value <= 0) return null;
    const target = lightTarget(this.surface, control, pattern);
    if (target.kind === 'onOff') return '';
    return shownColour(target, target.kind === 'rgb' ? value : Math.round(value * 127));
  }
}

/** The line of a list that stands for a position, 0…1: the nearest. */
function rowAt({ positions = [0, 127] }: Control, position: number): number {
  const wire = position * (positions.at(-1) ?? 1);
  return positions.reduce(
    (best, one, n) => (Math.abs(one - wire) < Math.abs(positions[best] - wire) ? n : best),
    0,
  );
}
