import * as z from 'zod';
import { LONGEST_ADDRESS, OSC_TYPES, RELATIVE_ENCODINGS, type OscType } from '@rondo/core/wire';

const channel = z.int().min(1).max(16);
const number = z.int().min(0).max(127);

/** The first and last number that a value goes through, where that is not the whole range; turned round where the first is the larger. */
const range = z.tuple([z.int().min(0).max(16_383), z.int().min(0).max(16_383)]).optional();

/** Arguments of an OSC message among which a value is looked for. */
export const OSC_ARGUMENTS = 16;

/** What counts one step in each direction. */
const PAIR_MESSAGES = ['note', 'controller'] as const;

/**
 * A message pattern: what an input part sends, what an output part takes, how a host's function is set or reported.
 * Channels are 1–16. Values travel normalised, 0…1, except ticks and text.
 */
export const patternSchema = z.discriminatedUnion('type', [
  /** A note whose velocity is the value; velocity 0 and note off are 0. */
  z.object({ type: z.literal('note'), channel, number }),
  /** A 7-bit controller. */
  z.object({ type: z.literal('controller'), channel, number, range }),
  /**
   * Two controllers, taken when the second comes (MIDI 1.0: LSB number = MSB number + 32). The MSB comes first unless
   * the device is known to send it last.
   */
  z.object({
    type: z.literal('controllerPair'),
    channel,
    number,
    lsb: number,
    lsbFirst: z.boolean().optional(),
    range,
  }),
  /** Registered and non-registered parameters (MIDI 1.0: 101/100 or 99/98 choose, 6 and 38 carry the value). */
  z.object({
    type: z.enum(['nrpn', 'rpn']),
    channel,
    number: z.int().min(0).max(16_383),
    bits: z.union([z.literal(7), z.literal(14)]),
    range,
  }),
  /** A controller that carries ticks; reversed where the device counts the other way round. */
  z.object({
    type: z.literal('relative'),
    channel,
    number,
    encoding: z.enum(RELATIVE_ENCODINGS),
    reversed: z.boolean().optional(),
  }),
  /** Two notes or controllers, one for each direction; each message is one tick. */
  z.object({
    type: z.literal('upDown'),
    message: z.enum(PAIR_MESSAGES),
    channel,
    up: number,
    down: number,
    reversed: z.boolean().optional(),
  }),
  /** Pitch bend of which the upper `bits` count: a 10-bit fader's top is 1023, sent as 16368. */
  z.object({ type: z.literal('pitchBend'), channel, bits: z.int().min(7).max(14), range }),
  z.object({ type: z.literal('channelPressure'), channel }),
  z.object({ type: z.literal('polyPressure'), channel, number }),
  /** A program change: with a number a press of that number, without one the number is the value. */
  z.object({ type: z.literal('program'), channel, number: number.optional(), range }),
  /** A SysEx message with places for a value, as it is typed; see `readTemplate`. */
  z.object({ type: z.literal('sysex'), template: z.string().max(1_024) }),
  /** A colour as SysEx, as it is typed: with places for red, green and blue, seven bits each. */
  z.object({ type: z.literal('colour'), template: z.string().max(1_024) }),
  /**
   * Characters of a time display, a controller each: the rightmost has the first number. Six bits are the character,
   * the seventh is the dot behind it.
   */
  z.object({
    type: z.literal('digits'),
    channel,
    number,
    count: z.int().min(1).max(16),
  }),
  /**
   * An OSC address and which of its arguments carries the value (OSC 1.0; the first is 1), as what it is written, and the
   * numbers that it goes from and to. Whatever number comes is read.
   */
  z.object({
    type: z.literal('osc'),
    address: z.string().max(LONGEST_ADDRESS),
    argument: z.int().min(1).max(OSC_ARGUMENTS),
    as: z.enum(OSC_TYPES),
    low: z.number().min(-1e9).max(1e9).optional(),
    high: z.number().min(-1e9).max(1e9).optional(),
  }),
  /** Encoder ring of the Mackie-style protocol: position, style and centre lamp in one controller. */
  z.object({
    type: z.literal('ring'),
    channel,
    number,
    style: z.enum(['dot', 'fromCentre', 'fromEnd', 'widening']),
  }),
  /** Level meter of the Mackie-style protocol: channel pressure, strip × 16 + level. */
  z.object({ type: z.literal('stripMeter'), channel, strip: z.int().min(0).max(7) }),
  /** Text as SysEx: header bytes, an offset byte where given, 7-bit characters. */
  z.object({
    type: z.literal('text'),
    header: z.array(number).min(1).max(16),
    offset: number.optional(),
    /** Characters of the field; the last `gap` of them stay blank. Without a width the text ends with the message. */
    width: z.int().min(1).max(112).optional(),
    gap: z.int().min(0).max(8).default(0),
  }),
]);
export type Pattern = z.infer<typeof patternSchema>;
export type PatternType = Pattern['type'];

/** Whether a pattern counts ticks instead of telling a position. */
export const isRelative = (pattern: Pattern): boolean =>
  pattern.type === 'relative' || pattern.type === 'upDown';

/** The first and last number of a pattern's range on the wire; null where it goes through all of them. */
export function rangeOf(pattern: Pattern): readonly [first: number, last: number] | null {
  if (!('range' in pattern) || !pattern.range) return null;
  const top = topOf(pattern);
  const [first, last] = pattern.range;
  return [Math.min(top, first), Math.min(top, last)];
}

/** The numbers that an OSC value goes from and to, where nobody says otherwise. */
const OSC_RANGE: Readonly<Record<OscType, readonly [low: number, high: number]>> = {
  float: [0, 1],
  double: [0, 1],
  integer: [0, 127],
  long: [0, 127],
  boolean: [0, 1],
  string: [0, 1],
};

/** The numbers that an OSC value goes from and to; turned round where the first is the larger. */
export function oscRangeOf({
  as,
  low,
  high,
}: Extract<Pattern, { type: 'osc' }>): readonly [low: number, high: number] {
  return [low ?? OSC_RANGE[as][0], high ?? OSC_RANGE[as][1]];
}

/** Steps that an OSC value is told in: those of its whole numbers, else fourteen bits. */
function oscTop(pattern: Extract<Pattern, { type: 'osc' }>): number {
  if (pattern.as === 'boolean') return 1;
  if (pattern.as === 'float' || pattern.as === 'double') return 16_383;
  const [low, high] = oscRangeOf(pattern);
  return Math.max(1, Math.min(16_383, Math.round(Math.abs(high - low))));
}

/** The largest whole number a pattern's value has on the wire: 1023 for a 10-bit fader, 127 for a note. */
export function topOf(pattern: Pattern): number {
  switch (pattern.type) {
    case 'pitchBend':
      return (1 << pattern.bits) - 1;
    case 'controllerPair':
      return 16_383;
    case 'nrpn':
    case 'rpn':
      return (1 << pattern.bits) - 1;
    case 'sysex':
      return /\bhigh\b/i.test(pattern.template) ? 16_383 : 127;
    case 'colour':
      return 0x1f_ffff;
    case 'ring':
      return 10;
    case 'stripMeter':
      return 12;
    case 'osc':
      return oscTop(pattern);
    default:
      return 127;
  }
}

/** A place on a pattern's way, 0…1, as its wire has it: “598 of 1023”, or the number that an OSC message carries. */
export function placeText(pattern: Pattern, share: number): string {
  if (pattern.type !== 'osc') return `${Math.round(share * topOf(pattern))} of ${topOf(pattern)}`;
  const [low, high] = oscRangeOf(pattern);
  return String(Math.round((low + share * (high - low)) * 1_000) / 1_000);
}

const ENCODING_WORDS = {
  twosComplement: 'two’s complement',
  signMagnitude: 'sign-magnitude',
  signMagnitudeReversed: 'sign-magnitude, reversed',
  binaryOffset: 'binary offset',
} as const;

/** A number as people write it, decimal or hexadecimal. */
const numberText = (value: number, hex = false): string =>
  hex ? `${value.toString(16).toUpperCase().padStart(2, '0')}h` : String(value);

/** A pattern in a few words: “controller 21, channel 1”. */
export function patternText(pattern: Pattern, hex = false): string {
  const n = (value: number) => numberText(value, hex);
  const turn = (reversed: boolean | undefined) => (reversed ? ', inverted' : '');
  switch (pattern.type) {
    case 'note':
      return `note ${n(pattern.number)}, channel ${pattern.channel}`;
    case 'controller':
      return `controller ${n(pattern.number)}, channel ${pattern.channel}`;
    case 'controllerPair':
      return `controllers ${n(pattern.number)} + ${n(pattern.lsb)}, 14 bit, channel ${pattern.channel}`;
    case 'nrpn':
    case 'rpn':
      return `${pattern.type.toUpperCase()} ${pattern.number}, ${pattern.bits} bit, channel ${pattern.channel}`;
    case 'relative':
      return `controller ${n(pattern.number)}, ${ENCODING_WORDS[pattern.encoding]}${turn(pattern.reversed)}, channel ${pattern.channel}`;
    case 'upDown':
      return `${pattern.message}s ${n(pattern.up)} up, ${n(pattern.down)} down${turn(pattern.reversed)}, channel ${pattern.channel}`;
    case 'pitchBend':
      return `pitch bend, ${pattern.bits} bit, channel ${pattern.channel}`;
    case 'channelPressure':
      return `channel pressure, channel ${pattern.channel}`;
    case 'polyPressure':
      return `key pressure ${n(pattern.number)}, channel ${pattern.channel}`;
    case 'program':
      return pattern.number === undefined
        ? `program, channel ${pattern.channel}`
        : `program ${n(pattern.number)}, channel ${pattern.channel}`;
    case 'sysex':
      return `SysEx ${pattern.template}`;
    case 'colour':
      return `colour by SysEx ${pattern.template}`;
    case 'digits':
      return `${pattern.count} digits by controllers ${n(pattern.number)}–${n(pattern.number + pattern.count - 1)}, channel ${pattern.channel}`;
    case 'osc':
      return `OSC ${pattern.address}, argument ${pattern.argument}`;
    case 'ring':
      return `ring by controller ${n(pattern.number)}, channel ${pattern.channel}`;
    case 'stripMeter':
      return `meter ${pattern.strip + 1} by channel pressure, channel ${pattern.channel}`;
    case 'text':
      return `text by SysEx${pattern.width ? `, ${pattern.width} characters` : ''}`;
  }
}
