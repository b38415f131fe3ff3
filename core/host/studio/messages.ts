import type { Pattern } from '@rondo/core/surface';
import { Numbers } from '../numbered.js';
import { STRIPS } from './session.js';

/**
 * Manufacturer id of everything the Studio says as SysEx: 7D, kept for non-commercial use by MIDI 1.0.
 */
export const PRIVATE = 0x7d;
export const NAME = 0x4e;
export const CLOCK_TEXT = 0x54;
/** Channel of what belongs to the whole host. */
export const HOST_CHANNEL = 16;

/** Strips 1–16 have channels 1–16; strips 17–20 channels 1–4 with other numbers. */
export const blockOf = (strip: number) => (strip < 16 ? 0 : 1);
export const channelOf = (strip: number) => (strip % 16) + 1;

/** MSB and LSB controllers are 32 apart (MIDI 1.0). 7 is volume, 10 pan; 20–31 are undefined there. */
export const pair = (channel: number, number: number): Pattern => ({
  type: 'controllerPair',
  channel,
  number,
  lsb: number + 32,
});
export const controller = (channel: number, number: number): Pattern => ({
  type: 'controller',
  channel,
  number,
});
export const both = (pattern: Pattern) => ({ set: pattern, report: pattern });

export const numbers = new Numbers(HOST_CHANNEL, [PRIVATE, 0x50]);

export const perStrip = (
  controllers: readonly [number, number],
  pattern: (channel: number, number: number) => Pattern,
  kind: 'continuous' | 'toggle',
) => [
  ...STRIPS.map((_, strip) => both(pattern(channelOf(strip), controllers[blockOf(strip)]))),
  numbers.one(kind),
];

export const hostWide = (number: number) => [both(controller(HOST_CHANNEL, number))];
