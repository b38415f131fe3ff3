import { z } from 'zod';
import { RELATIVE_ENCODINGS } from '@rondo/core/wire';

const channel = z.int().min(1).max(16);
const number = z.int().min(0).max(127);

/**
 * A message pattern: what an input part sends, what an output part takes, how a host's function is set or reported.
 * Channels are 1–16. Values travel normalised, 0…1, except ticks and text.
 */
export const patternSchema = z.discriminatedUnion('type', [
  /** A note whose velocity is the value; velocity 0 and note off are 0. */
  z.object({ type: z.literal('note'), channel, number }),
  /** A 7-bit controller. */
  z.object({ type: z.literal('controller'), channel, number }),
  /** Two controllers, MSB first, taken when the LSB comes (MIDI 1.0: LSB number = MSB number + 32). */
  z.object({ type: z.literal('controllerPair'), channel, number, lsb: number }),
  /** A controller that carries ticks. */
  z.object({
    type: z.literal('relative'),
    channel,
    number,
    encoding: z.enum(RELATIVE_ENCODINGS),
  }),
  /** Pitch bend of which the upper `bits` count: a 10-bit fader's top is 1023, sent as 16368. */
  z.object({ type: z.literal('pitchBend'), channel, bits: z.int().min(7).max(14) }),
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

/** The largest whole number a pattern's value has on the wire: 1023 for a 10-bit fader, 127 for a note. */
export function topOf(pattern: Pattern): number {
  switch (pattern.type) {
    case 'pitchBend':
      return (1 << pattern.bits) - 1;
    case 'controllerPair':
      return 16_383;
    case 'ring':
      return 10;
    case 'stripMeter':
      return 12;
    default:
      return 127;
  }
}
