import { keyCaption, mainPart, turns, type Control, type Surface } from '@rondo/core/surface';
import { DOES_AND_WHOSE } from '@rondo/core/wire';
import { capOf, fitName, fitText, isLying, isTurned, moverAt } from '../app/shared/panel/geometry';

const SVG = 'http://www.w3.org/2000/svg';
/** Lights of a ring. */
export const DOTS = 11;
/** Letters of tape and signs, in millimetres, and a tape's height. */
const LETTER = 6;
const TAPE = 8;

/** Makes an element of the drawing. */
export function make(
  parent: Element,
  name: string,
  attributes: Readonly<Record<string, string | number>>,
): SVGElement {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  parent.append(element);
  return element;
}

/** A line of text with so much room, in millimetres, in letters of that size or larger. */
export interface Writing {
  readonly line: SVGElement;
  readonly room: number;
  readonly tall: number;
  readonly size: number;
  /** What it says in so much room, in letters of a size. */
  says: (room: number, size: number) => string;
}

/** One control on the panel. */
export interface Shown {
  readonly group: SVGElement;
  readonly relative: boolean;
  readonly mover?: SVGElement;
  readonly dots?: readonly SVGElement[];
  readonly meter?: SVGElement;
  /** Lines of a list, from the first. */
  readonly rows?: readonly SVGElement[];
  /** Of an XY pad the line that goes across. */
  readonly crossing?: SVGElement;
  /** All that is written on it. */
  readonly writings?: readonly Writing[];
  /** Of those the one that says what it does. */
  readonly caption?: Writing | null;
  /** Of those the upper and the lower line of a display. */
  readonly lines?: Readonly<Record<'upper' | 'lower', Writing>>;
}

/** Where what moves of a control stands. */
export const placeOf = (control: Control, position: number, relative: boolean): string =>
  control.kind === 'xyPad'
    ? `translate(${control.x} ${control.y + (1 - position) * control.height})`
    : moverAt(control, position, relative);

/** What a control does and whose; only one of the two where both have no room, and its name where it does nothing. */
export function captionOf(control: Control, does: string): Writing['says'] {
  const [what, whose = ''] = does.split(DOES_AND_WHOSE);
  const all = `${what} ${whose}`.trim();
  return (room, size) => {
    if (all === '') return fitName(control.label, room, size);
    if (fitText(all, room, size) === all) return all;
    // A fader is known by whose it is, all else by what it does.
    return keyCaption(control.kind === 'fader' && whose ? whose : what, lettersIn(room, size));
  };
}
const lettersIn = (room: number, size: number): number => Math.floor(room / (size * 0.54));

/** Draws a control on a sheet, as paper with tape on it. */
export function drawControl(sheet: SVGElement, surface: Surface, control: Control): Shown {
  const { x, y } = control;
  const group = make(sheet, 'g', { transform: `translate(${x} ${y})`, 'data-id': control.id });
  const main = mainPart(control.kind);
  const relative = turns(surface, control, 'value');
  const shown = { group, relative };
  if (main === null) return { ...shown, ...drawWindow(group, control) };
  if (main === 'push') return { ...shown, ...drawKey(group, control) };
  if (control.kind === 'list') return { ...shown, ...drawList(group, control) };
  if (control.kind === 'xyPad') return { ...shown, ...drawPad(sheet, group, control) };
  const moving = isTurned(control)
    ? drawTurned(sheet, group, control, relative)
    : drawSlid(sheet, group, control);
  return { ...shown, ...moving, ...drawTape(sheet, surface, control) };
}

/** Writes a line at a place. */
function write(
  group: SVGElement,
  kind: 'sign' | 'name' | 'says',
  at: { readonly x: number; readonly y: number },
  fit: Pick<Writing, 'room' | 'tall' | 'size' | 'says'>,
): Writing {
  return { ...fit, line: make(group, 'text', { class: kind, ...at }) };
}

/** What turns: a face with a pointer, and a ring of lights where it has one. */
function drawTurned(sheet: SVGElement, group: SVGElement, control: Control, relative: boolean) {
  const { width, height } = control;
  const radius = Math.min(width, height) / 2;
  const dots = control.takes.ring ? drawRing(group, control, radius) : [];
  const r = radius * (dots.length > 0 ? 0.68 : 0.9);
  make(group, 'circle', { class: 'face', cx: width / 2, cy: height / 2, r });
  const mover = make(sheet, 'g', { transform: placeOf(control, 0, relative) });
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
function drawSlid(sheet: SVGElement, group: SVGElement, control: Control) {
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
  const mover = make(sheet, 'g', { transform: placeOf(control, 0, false) });
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

function drawRing(group: SVGElement, { width, height }: Control, radius: number): SVGElement[] {
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

function drawList(group: SVGElement, control: Control) {
  const { width, height, positions = [0, 127], names = [] } = control;
  const tall = height / positions.length;
  const rows = positions.map((_, n) =>
    make(group, 'rect', { class: 'wide', y: n * tall, width, height: tall }),
  );
  const writings = positions.map((position, n) =>
    write(
      group,
      'sign',
      { x: width / 2, y: (n + 0.5) * tall },
      {
        room: width,
        tall,
        size: Math.min(LETTER * 1.2, tall * 0.6),
        says: (room, size) => fitText(names[n] ?? String(position), room, size),
      },
    ),
  );
  return { rows, writings };
}

/** A pad with a line for each of its two ways. */
function drawPad(sheet: SVGElement, group: SVGElement, control: Control) {
  const { x, y, width, height } = control;
  make(group, 'rect', { class: 'wide', width, height, rx: 3 });
  const caption = write(
    group,
    'name',
    { x: width / 2, y: LETTER },
    {
      room: width,
      tall: 2 * LETTER,
      size: LETTER,
      says: captionOf(control, ''),
    },
  );
  const mover = make(sheet, 'g', { transform: placeOf(control, 0, false) });
  make(mover, 'line', { class: 'cross', x1: 0, x2: width, y1: 0, y2: 0 });
  const across = { class: 'cross', x1: x, x2: x, y1: y, y2: y + height };
  return {
    mover,
    caption,
    writings: [caption],
    ...(control.across === undefined ? {} : { crossing: make(sheet, 'line', across) }),
  };
}

function drawKey(group: SVGElement, control: Control) {
  const { width, height, round, kind, legend } = control;
  const shape = { width, height, rx: round ? Math.min(width, height) / 2 : 3 };
  make(group, 'rect', { class: 'face', ...shape });
  make(group, 'rect', { class: 'lamp', ...shape });
  if (kind === 'key') return {};
  const sign = write(
    group,
    'sign',
    { x: width / 2, y: height / 2 },
    {
      room: width * 0.94,
      tall: height,
      size: Math.min(LETTER, height * 0.5),
      says:
        legend === undefined
          ? captionOf(control, '')
          : (room, size) => keyCaption(legend, lettersIn(room, size)),
    },
  );
  // A sign that is printed on it stays.
  return { writings: [sign], caption: legend === undefined ? sign : null };
}

function drawWindow(group: SVGElement, control: Control) {
  const { width, height, takes } = control;
  make(group, 'rect', { class: 'window', width, height, rx: 2 });
  const room = takes.meter ? width - 4 : width;
  const parts = (['upper', 'lower'] as const).filter((part) => takes[part]);
  const tall = height / Math.max(1, parts.length);
  const line = (part: 'upper' | 'lower'): Writing =>
    write(
      group,
      'says',
      { x: room / 2, y: (parts.indexOf(part) + 0.5) * tall },
      {
        room,
        tall,
        size: Math.min(height / (parts.length + 0.6), room / 4.4, 26),
        says: () => '',
      },
    );
  const lines = { upper: line('upper'), lower: line('lower') };
  const meter = takes.meter
    ? make(group, 'rect', {
        class: 'meter',
        x: width - 3.4,
        y: height - 2,
        width: 2,
        height: 0,
        'data-height': height - 4,
      })
    : undefined;
  return { lines, writings: Object.values(lines), ...(meter ? { meter } : {}) };
}

/** A strip of tape below what moves, with what it does on it; none where another control begins there. */
function drawTape(sheet: SVGElement, surface: Surface, control: Control) {
  const { x, y, width, height } = control;
  const middle = x + width / 2;
  const others = surface.controls.filter((one) => one !== control);
  const beside = others
    .filter((one) => one.y < y + height + TAPE && one.y + one.height > y + height - 1)
    .map((one) => Math.abs(one.x + one.width / 2 - middle) - 1);
  const room = Math.max(width, Math.min(30, ...beside));
  const top = Math.min(y + height + 1, surface.height - TAPE);
  const isTaken = others.some(
    (one) =>
      one.y >= y + height && one.y < top + TAPE && one.x < x + width && x < one.x + one.width,
  );
  if (isTaken) return {};
  const tape = make(sheet, 'g', { transform: `translate(${middle - room / 2} ${top})` });
  make(tape, 'rect', { class: 'tape', width: room, height: TAPE });
  const caption = write(
    tape,
    'name',
    { x: room / 2, y: TAPE / 2 },
    {
      room,
      tall: TAPE * 1.2,
      size: LETTER * 0.9,
      says: captionOf(control, ''),
    },
  );
  return { writings: [caption], caption };
}
