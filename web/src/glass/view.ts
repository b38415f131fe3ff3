import {
  keyCaption,
  lightTarget,
  mainPart,
  outputsOf,
  shownColour,
  turns,
  type Control,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';
import { DOES_AND_WHOSE, type GlassChanges } from '@rondo/core/wire';
import {
  capOf,
  fitName,
  fitText,
  inLayers,
  isLying,
  isTurned,
  moverAt,
} from '../app/shared/panel/geometry';

const SVG = 'http://www.w3.org/2000/svg';
const DOTS = 11;
/** Letters of tape and signs, in millimetres at most, and a tape's height. */
const LETTER = 6;
const TAPE = 8;

/** Makes an element of the drawing. */
function make(
  parent: Element,
  name: string,
  attributes: Readonly<Record<string, string | number>>,
  text = '',
): SVGElement {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  if (text) element.textContent = text;
  parent.append(element);
  return element;
}

/** One control on the panel. */
interface Shown {
  readonly control: Control;
  readonly group: SVGElement;
  readonly mover: SVGElement | null;
  readonly dots: readonly SVGElement[];
  readonly lines: readonly SVGElement[];
  readonly meter: SVGElement | null;
  /** Lines of a list, from the first. */
  readonly rows: readonly SVGElement[];
  /** Where it says what it does, in so many millimetres and letters of that size; null for a sign that stays. */
  readonly caption: {
    readonly line: SVGElement;
    readonly room: number;
    readonly size: number;
  } | null;
  readonly relative: boolean;
}

/** A panel as paper with tape on it, drawn once and then moved, lit and written on as it is told. */
export class View {
  readonly svg: SVGSVGElement;
  private readonly shown = new Map<Control, Shown>();
  private readonly outs: readonly { readonly control: Control; readonly part: OutputPart }[];
  private readonly positions: number[];
  /** Of XY pads the line that goes across. */
  private readonly crossings = new Map<Control, SVGElement>();

  constructor(readonly surface: Surface) {
    this.svg = document.createElementNS(SVG, 'svg');
    this.svg.setAttribute('viewBox', `0 0 ${surface.width} ${surface.height}`);
    this.outs = surface.controls.flatMap((control) =>
      outputsOf(surface, control).map((part) => ({ control, part })),
    );
    this.positions = surface.controls.map(() => 0);
    for (const control of inLayers(surface.controls)) this.shown.set(control, this.draw(control));
  }

  /** Lays it on the screen. */
  lay(width: number, height: number, left: number, top: number): void {
    this.svg.setAttribute('width', String(width));
    this.svg.setAttribute('height', String(height));
    this.svg.style.left = `${left}px`;
    this.svg.style.top = `${top}px`;
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
      if (!caption) continue;
      const { line, room, size } = caption;
      const letters = Math.floor(room / (size * 0.54));
      line.textContent = captionOf(control, says, letters) || fitName(control.label, room, size);
    }
    for (const [place, says] of text ?? []) {
      const one = this.outs.at(place);
      const line = one && this.shown.get(one.control)?.lines[one.part === 'lower' ? 1 : 0];
      if (line) line.textContent = says.trim();
    }
  }

  /** Puts a control at a position, 0…1; ticks turned in all where it counts them. */
  move(control: Control, position: number): void {
    this.positions[this.surface.controls.indexOf(control)] = position;
    const shown = this.shown.get(control);
    shown?.mover?.setAttribute('transform', placeOf(control, position, shown.relative));
    shown?.rows.forEach((row, n) => row.classList.toggle('chosen', n === rowAt(control, position)));
    for (const [pad, line] of this.crossings)
      if (pad.across === control.id) {
        line.setAttribute('x1', String(pad.x + position * pad.width));
        line.setAttribute('x2', String(pad.x + position * pad.width));
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
      shown.dots.forEach((dot, n) =>
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

  private draw(control: Control): Shown {
    const { x, y } = control;
    const group = make(this.svg, 'g', { transform: `translate(${x} ${y})`, 'data-id': control.id });
    const main = mainPart(control.kind);
    const relative = turns(this.surface, control, 'value');
    const nothing = { mover: null, dots: [], lines: [], meter: null, rows: [], caption: null };
    if (main === null)
      return { control, group, relative, ...nothing, ...this.drawWindow(group, control) };
    if (main === 'push')
      return { control, group, relative, ...nothing, caption: this.drawKey(group, control) };
    if (control.kind === 'list')
      return { control, group, relative, ...nothing, rows: this.drawList(group, control) };
    if (control.kind === 'xyPad')
      return { control, group, relative, ...nothing, mover: this.drawPad(group, control) };
    const moving = isTurned(control)
      ? this.drawTurned(group, control, relative)
      : this.drawSlid(group, control);
    return { control, group, relative, ...nothing, ...moving, caption: this.drawTape(control) };
  }

  /** What turns: a face with a pointer, and a ring of lights where it has one. */
  private drawTurned(group: SVGElement, control: Control, relative: boolean) {
    const { width, height } = control;
    const radius = Math.min(width, height) / 2;
    const dots = control.takes.ring ? this.drawRing(group, control, radius) : [];
    const r = radius * (dots.length > 0 ? 0.68 : 0.9);
    make(group, 'circle', { class: 'face', cx: width / 2, cy: height / 2, r });
    const mover = make(this.svg, 'g', { transform: placeOf(control, 0, relative) });
    make(mover, 'line', {
      class: 'pointer',
      x1: width / 2,
      x2: width / 2,
      y1: height / 2 - radius * 0.6,
      y2: height / 2 - radius * 0.2,
    });
    return { mover, dots };
  }

  /** What slides: a slot, or a field, with a cap. */
  private drawSlid(group: SVGElement, control: Control) {
    const { width, height } = control;
    const lies = isLying(control);
    const isWide = control.kind !== 'fader';
    make(group, 'rect', {
      class: isWide ? 'wide' : 'slot',
      x: isWide || lies ? 0 : width / 2 - 2,
      y: isWide || !lies ? 0 : height / 2 - 2,
      width: isWide || lies ? width : 4,
      height: isWide || !lies ? height : 4,
      rx: 2,
    });
    const cap = capOf(control);
    const mover = make(this.svg, 'g', { transform: placeOf(control, 0, false) });
    const size = { width: lies ? cap : width, height: lies ? height : cap };
    make(mover, 'rect', { class: 'cap', ...size, rx: 2.5 });
    make(mover, 'line', {
      class: 'cap-line',
      x1: lies ? cap / 2 : width * 0.15,
      x2: lies ? cap / 2 : width * 0.85,
      y1: lies ? height * 0.15 : cap / 2,
      y2: lies ? height * 0.85 : cap / 2,
    });
    return { mover };
  }

  private drawList(group: SVGElement, control: Control): SVGElement[] {
    const { width, height, positions = [0, 127], names = [] } = control;
    const tall = height / positions.length;
    const size = Math.min(LETTER * 1.2, tall * 0.6);
    return positions.map((position, n) => {
      const row = make(group, 'rect', { class: 'wide', y: n * tall, width, height: tall });
      const text = fitText(names[n] ?? String(position), width, size);
      const at = { x: width / 2, y: (n + 0.5) * tall, 'font-size': size };
      make(group, 'text', { class: 'sign', ...at }, text);
      return row;
    });
  }

  /** A pad with a line for each of its two ways. */
  private drawPad(group: SVGElement, control: Control): SVGElement {
    const { x, y, width, height, label } = control;
    make(group, 'rect', { class: 'wide', width, height, rx: 3 });
    make(group, 'text', { class: 'name', x: width / 2, y: LETTER, 'font-size': LETTER }, label);
    const mover = make(this.svg, 'g', { transform: placeOf(control, 0, false) });
    make(mover, 'line', { class: 'cross', x1: 0, x2: width, y1: 0, y2: 0 });
    const across = { class: 'cross', x1: x, x2: x, y1: y, y2: y + height };
    if (control.across !== undefined) this.crossings.set(control, make(this.svg, 'line', across));
    return mover;
  }

  private drawKey(group: SVGElement, control: Control): Shown['caption'] {
    const { width, height, round, kind } = control;
    const shape = { width, height, rx: round ? Math.min(width, height) / 2 : 3 };
    make(group, 'rect', { class: 'face', ...shape });
    make(group, 'rect', { class: 'lamp', ...shape });
    const size = Math.min(LETTER, height * 0.5);
    if (kind === 'key') return null;
    const text = control.legend ?? fitName(control.label, width, size);
    const at = { class: 'sign', x: width / 2, y: height / 2, 'font-size': size };
    const line = make(group, 'text', at, fitText(text, width, size) || text);
    return control.legend === undefined ? { line, room: width * 0.94, size } : null;
  }

  private drawRing(group: SVGElement, { width, height }: Control, radius: number): SVGElement[] {
    return Array.from({ length: DOTS }, (_, n) => {
      const angle = ((-135 + (270 * n) / (DOTS - 1)) * Math.PI) / 180;
      return make(group, 'circle', {
        class: 'dot',
        cx: width / 2 + Math.sin(angle) * radius * 0.9,
        cy: height / 2 - Math.cos(angle) * radius * 0.9,
        r: radius / 10,
      });
    });
  }

  private drawWindow(group: SVGElement, control: Control) {
    const { width, height, takes } = control;
    make(group, 'rect', { class: 'window', width, height, rx: 2 });
    const room = takes.meter ? width - 4 : width;
    const parts = (['upper', 'lower'] as const).filter((part) => takes[part]);
    const size = Math.min(height / (parts.length + 0.6), room / 4.4, 26);
    const at = (part: 'upper' | 'lower') => {
      const n = parts.indexOf(part);
      return ((n + 0.5) * height) / Math.max(1, parts.length);
    };
    const lines = (['upper', 'lower'] as const).map((part) =>
      make(group, 'text', { class: 'says', x: room / 2, y: at(part), 'font-size': size }),
    );
    const meter = takes.meter
      ? make(group, 'rect', {
          class: 'meter',
          x: width - 3.4,
          y: height - 2,
          width: 2,
          height: 0,
          'data-height': height - 4,
        })
      : null;
    return { lines, meter };
  }

  /** A strip of tape below what moves, with its name on it. */
  private drawTape(control: Control): Shown['caption'] {
    const { x, y, width, height } = control;
    const middle = x + width / 2;
    const row = this.surface.controls.filter(
      (one) => one !== control && one.y < y + height + TAPE && one.y + one.height > y + height - 1,
    );
    const beside = row.map((one) => Math.abs(one.x + one.width / 2 - middle) - 1);
    const room = Math.max(width, Math.min(30, ...beside));
    const top = Math.min(y + height + 1, this.surface.height - TAPE);
    const next = this.surface.controls.find(
      (one) =>
        one !== control &&
        one.y >= y + height &&
        one.y < top + TAPE &&
        one.x < x + width &&
        x < one.x + one.width,
    );
    if (next) return null;
    const group = make(this.svg, 'g', {
      transform: `translate(${x + width / 2 - room / 2} ${top})`,
    });
    make(group, 'rect', { class: 'tape', width: room, height: TAPE });
    const size = LETTER * 0.9;
    const text = fitName(control.label, room, size);
    const at = { class: 'name', x: room / 2, y: TAPE / 2, 'font-size': size };
    return { line: make(group, 'text', at, text), room, size };
  }
}

/** What a control does and whose, in so many letters; only one of the two where both have no room. */
function captionOf(control: Control, says: string, letters: number): string {
  const [does, whose = ''] = says.split(DOES_AND_WHOSE);
  const all = `${does} ${whose}`.trim();
  if (all.length <= letters) return all;
  // A fader is known by whose it is, all else by what it does.
  return keyCaption(control.kind === 'fader' && whose ? whose : does, letters);
}

/** Where what moves of a control stands. */
const placeOf = (control: Control, position: number, relative: boolean): string =>
  control.kind === 'xyPad'
    ? `translate(${control.x} ${control.y + (1 - position) * control.height})`
    : moverAt(control, position, relative);

/** The line of a list that stands for a position, 0…1: the nearest. */
function rowAt({ positions = [0, 127] }: Control, position: number): number {
  const wire = position * (positions.at(-1) ?? 1);
  return positions.reduce(
    (best, one, n) => (Math.abs(one - wire) < Math.abs(positions[best] - wire) ? n : best),
    0,
  );
}
