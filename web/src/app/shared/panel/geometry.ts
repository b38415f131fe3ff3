import { keyCaption, type Control, type Surface } from '@rondo/core/surface';

/** Panel that texts are sized for, in millimetres; on others they grow and shrink with the whole drawing. */
const USUAL = { width: 552, height: 350 };

/** How large texts are on this panel, so that they are read alike on the screen whatever the panel's size. */
export const unitOf = ({ width, height }: Surface): number =>
  Math.max(0.35, Math.min(1.6, Math.max(width / USUAL.width, height / USUAL.height)));

/** Whether something that slides does so from left to right. */
export const isLying = ({ width, height }: Control): boolean => width > height;

/** Length of the cap that slides along a control, in millimetres. */
export function capOf(control: Control): number {
  const length = Math.max(control.width, control.height);
  const share =
    control.kind === 'touchStrip' || control.kind === 'xyPad'
      ? 0.04
      : control.kind === 'expression'
        ? 0.12
        : 0.26;
  return Math.min(22, length * share);
}

const TURNED = new Set(['knob', 'encoder', 'jog']);
const DEGREES_PER_TICK = 9;
const SWEEP = 270;

/** Whether a control is drawn turning. */
export const isTurned = (control: Control): boolean => TURNED.has(control.kind);

/**
 * Where the moving part of a control stands, as an SVG transform.
 * @param position 0…1; ticks turned in all where it is relative
 */
export function moverAt(control: Control, position: number, relative: boolean): string {
  const { x, y, width, height } = control;
  if (isTurned(control)) {
    const degrees = relative ? position * DEGREES_PER_TICK : (position - 0.5) * SWEEP;
    return `translate(${x} ${y}) rotate(${degrees} ${width / 2} ${height / 2})`;
  }
  const cap = capOf(control);
  return isLying(control)
    ? `translate(${x + position * (width - cap)} ${y})`
    : `translate(${x} ${y + (1 - position) * (height - cap)})`;
}

/** Controls in the order in which they are drawn: what lies on top comes last. */
export const inLayers = (controls: readonly Control[]): Control[] => [
  ...controls.filter((control) => !control.dark),
  ...controls.filter((control) => control.dark),
];

/** Letters of a size that so many millimetres have room for; what is next to nothing is left to the whole name elsewhere. */
const roomFor = (width: number, size: number): number => Math.floor(width / (size * 0.54));

/** Cuts a text to what so many millimetres have room for at a letter's size; '' where that is nothing to go by. */
export function fitText(text: string, width: number, size: number): string {
  const room = roomFor(width, size);
  if (text.length > room && room < 3) return '';
  return text.length > room ? `${text.slice(0, room - 1).trimEnd()}…` : text;
}

/** How far lines of a text are apart, in letters' sizes. */
export const LINE = 1.15;

/**
 * What a control does, in so many millimetres: on two lines where there is room for them, and shortened so that it can
 * still be told apart. Lines are parted by a line feed.
 */
export function fitShort(text: string, width: number, height: number, size: number): string {
  const room = roomFor(width, size);
  if (room < 1) return '';
  const words = text.split(' ');
  if (text.length <= room || words.length < 2 || height < 2 * LINE * size)
    return keyCaption(text, room);
  const halves = words.slice(1).map((_, i) => {
    const lines = [words.slice(0, i + 1).join(' '), words.slice(i + 1).join(' ')];
    return { lines, longest: Math.max(...lines.map(({ length }) => length)) };
  });
  const { lines } = halves.reduce((best, one) => (one.longest < best.longest ? one : best));
  return lines.map((line) => keyCaption(line, room)).join('\n');
}

/** A control's name in so many millimetres: its number alone where the whole does not fit. */
export function fitName(label: string, width: number, size: number): string {
  const fitted = fitText(label, width, size);
  if (fitted === label) return label;
  const number = /\d+$/.exec(label)?.[0];
  return number === undefined || number.length > roomFor(width, size) ? fitted : number;
}

/** Where something stands, and how large it is; right and down, in any unit. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * What lies next in a direction, by the middles; undefined where none does.
 * @param way right and down, −1…1
 */
export function nearest<T extends Box>(
  from: Box,
  others: readonly T[],
  way: readonly [number, number] | undefined,
): T | undefined {
  if (!way) return undefined;
  const [right, down] = way;
  let best: T | undefined;
  let least = Infinity;
  for (const other of others) {
    const x = other.x + other.width / 2 - from.x - from.width / 2;
    const y = other.y + other.height / 2 - from.y - from.height / 2;
    const along = x * right + y * down;
    const beside = Math.abs(x * down) + Math.abs(y * right);
    // What is more beside than ahead is gone to by the other arrows.
    const far = along + 2 * beside;
    if (along <= 0 || beside > 2 * along || far >= least) continue;
    best = other;
    least = far;
  }
  return best;
}
