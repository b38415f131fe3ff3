import type { Control, OutputPart, InputPart, Pattern } from '@rondo/core/surface';
import { mainPart } from '@rondo/core/surface';
import type { OscMessage, OscType, OscValue } from '@rondo/core/wire';
import { MOVED, PRESSED, type Lore } from './settle.js';

/** A message of a movement, and when it came, ms. */
export interface OscHeardAt {
  readonly t: number;
  readonly message: OscMessage;
}

/** Fewer different values than this are a switch or a brush. */
const MOVEMENT = 4;
/** Tops of whole numbers that are common; common practice, no source. */
const TOPS = [1, 127, 255, 1_023, 16_383, 65_535];
const TYPES: Readonly<Record<string, OscType>> = {
  f: 'float',
  i: 'integer',
  d: 'double',
  h: 'long',
  s: 'string',
};

const numberOf = (value: OscValue | undefined): number | null =>
  typeof value === 'number' ? value : typeof value === 'boolean' ? Number(value) : null;

/** The numbers that an argument had, in their order. */
const numbersOf = (lines: readonly OscHeardAt[], argument: number): number[] =>
  lines.flatMap(({ message }) => numberOf(message.values[argument]) ?? []);

/** The argument that changed most often; the first that is a number where none did. */
function argumentOf(lines: readonly OscHeardAt[]): number {
  const count = Math.max(0, ...lines.map(({ message }) => message.values.length));
  let best = 0;
  let most = -1;
  for (let argument = 0; argument < count; argument++) {
    const values = numbersOf(lines, argument);
    const changes = values.length === 0 ? -1 : new Set(values).size;
    if (changes > most) [best, most] = [argument, changes];
  }
  return best;
}

/** The numbers that a control goes from and to, as far as its movement tells; undefined where that goes without saying. */
function rangeOf(
  as: OscType,
  values: readonly number[],
): { low: number; high: number } | undefined {
  const least = Math.min(...values);
  const most = Math.max(...values);
  if (as === 'boolean') return undefined;
  if (as === 'float' || as === 'double') {
    if (least >= 0 && most <= 1) return undefined;
    if (least >= -1 && most <= 1) return { low: -1, high: 1 };
    const top = [100, 127].find((one) => most <= one);
    if (least >= 0 && top !== undefined) return { low: 0, high: top };
    return { low: least, high: most };
  }
  if (least < 0) return { low: least, high: most };
  const top = TOPS.find((one) => most <= one) ?? most;
  return top === 127 ? undefined : { low: 0, high: top };
}

/**
 * What a movement under one address says: OSC names its sender itself, so that what is left to find is which argument, of
 * which type and range, and whether it was pressed or moved.
 */
export function oscLore(control: Control, part: InputPart, lines: readonly OscHeardAt[]): Lore {
  const { address } = lines[0].message;
  const argument = argumentOf(lines);
  const values = numbersOf(lines, argument);
  const tag = lines[0].message.tags[argument] ?? 'T';
  const as = TYPES[tag] ?? 'boolean';
  const distinct = [...new Set(values)].sort((a, b) => a - b);
  const isMovement = distinct.length >= MOVEMENT;
  const [least = 0, most = 1] = [distinct[0], distinct.at(-1)];
  const isPress = !isMovement && distinct.length <= 2;
  const pressRange =
    as === 'integer' || as === 'long' || as === 'float' || as === 'double'
      ? { low: Math.min(0, least), high: most === 0 ? 1 : most }
      : undefined;
  const range = isPress ? pressRange : rangeOf(as, values);
  const isUsual = range?.low === 0 && range.high === (as === 'float' || as === 'double' ? 1 : 127);
  const pattern: Pattern = {
    type: 'osc',
    address,
    argument: argument + 1,
    as,
    ...(range && !isUsual ? range : {}),
  };
  const isMain = part === mainPart(control.kind);
  const own: InputPart = !isMain ? part : isMovement ? 'value' : isPress ? 'push' : part;
  const kind = !isMain
    ? control.kind
    : own === 'push'
      ? PRESSED.has(control.kind)
        ? control.kind
        : 'button'
      : MOVED.has(control.kind)
        ? control.kind
        : 'fader';
  const shows: OutputPart = own === 'push' ? 'light' : 'motor';
  // A key that is let go of says so at once; one that says something with each press only stays as it is.
  const presses = values.filter((value) => value === most && most > 0).length;
  const isLatching = own === 'push' && presses === 1 && values.length === 2 && isSlow(lines);
  const isWhole = as === 'boolean' || tag === 'N' || tag === 'I';
  const says =
    own === 'push'
      ? `It goes between ${least} and ${most}: a key.`
      : range
        ? `It went from ${least} to ${most}. Where that is not its whole way, move it from end to end once more.`
        : `Smooth values between 0 and ${as === 'integer' || as === 'long' ? 127 : 1}.`;
  const crosses = isMain && (own === 'push') !== (mainPart(control.kind) === 'push');
  return {
    kind,
    sends: { [own]: pattern },
    takes: { [shows]: pattern },
    latching: isLatching,
    positions: undefined,
    detent: false,
    springs: undefined,
    confidence: crosses
      ? 0.5
      : values.length < 2 && !isWhole
        ? 0.5
        : range && own === 'value'
          ? 0.7
          : 0.9,
    why: crosses
      ? `What came is ${own === 'push' ? 'pressed' : 'moved'}, and ${control.label} is drawn as a ${control.kind}.`
      : says,
  };
}

/** A press that stays for longer than a finger usually does, ms. Common practice, no source. */
const STAYS_MS = 900;
const isSlow = (lines: readonly OscHeardAt[]): boolean => lines.at(-1)!.t - lines[0].t > STAYS_MS;
