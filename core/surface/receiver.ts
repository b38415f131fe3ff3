import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  RELATIVE_ENCODINGS,
  join14,
  ticksOf,
} from '@rondo/core/wire';
import type { Pattern } from './pattern.js';

const enum How {
  Note,
  Controller,
  PairMsb,
  PairLsb,
  Relative,
  Bend,
  Ring,
  StripMeter,
}

/** No pattern matches the message. */
export const NO_MATCH = -1;
/** The message is the first half of a pair: nothing to do yet. */
export const HALF = -2;

const NUMBERS = 128;
const KEYS = 8 * 16 * NUMBERS;
const keyOf = (status: number, number: number): number =>
  ((status & 0x70) << 7) | ((status & 0x0f) << 7) | number;

/** An entry of the table is one number, so that a match touches one place in memory: how, aux, target. */
const AUX_SHIFT = 4;
const TARGET_SHIFT = 9;
const NO_ENTRY = -1;

/**
 * Matches messages against a set of patterns and reads their value. One look-up a message, nothing allocated.
 * Where two patterns have one message, the first keeps it and the second is listed in {@link collisions}.
 */
export class Receiver {
  /** Value of the last match: 0…1, or ticks where the pattern is relative; −1 for a dark ring. */
  value = 0;
  /** Start and end of the text of the last SysEx match, within the bytes given. */
  textFrom = 0;
  textTo = 0;
  /** Targets that got no message of their own because another has it. */
  readonly collisions: number[] = [];

  private readonly table = new Int32Array(KEYS).fill(NO_ENTRY);
  private readonly latched: Uint8Array;
  private readonly texts: { header: readonly number[]; target: number }[] = [];

  /** @param patterns index in this list is the target reported; undefined entries match nothing */
  constructor(patterns: readonly (Pattern | undefined)[]) {
    const add = (status: number, number: number, how: How, target: number, aux = 0) => {
      const key = keyOf(status, number);
      if (this.table[key] !== NO_ENTRY) this.collisions.push(target);
      else this.table[key] = how | (aux << AUX_SHIFT) | (target << TARGET_SHIFT);
    };
    patterns.forEach((pattern, target) => {
      if (!pattern) return;
      if (pattern.type === 'text') {
        const offset = pattern.offset === undefined ? [] : [pattern.offset];
        this.texts.push({ header: [...pattern.header, ...offset], target });
        return;
      }
      const channel = pattern.channel - 1;
      const control = CONTROL_CHANGE | channel;
      switch (pattern.type) {
        case 'note':
          add(NOTE_ON | channel, pattern.number, How.Note, target);
          break;
        case 'controller':
          add(control, pattern.number, How.Controller, target);
          break;
        case 'controllerPair':
          add(control, pattern.number, How.PairMsb, target);
          add(control, pattern.lsb, How.PairLsb, target);
          break;
        case 'relative': {
          const aux = RELATIVE_ENCODINGS.indexOf(pattern.encoding);
          add(control, pattern.number, How.Relative, target, aux);
          break;
        }
        case 'pitchBend':
          add(PITCH_BEND | channel, 0, How.Bend, target, pattern.bits);
          break;
        case 'ring':
          add(control, pattern.number, How.Ring, target);
          break;
        case 'stripMeter':
          // The strip stands in the value, so the key is the strip.
          add(CHANNEL_PRESSURE | channel, pattern.strip, How.StripMeter, target);
          break;
      }
    });
    this.latched = new Uint8Array(patterns.length);
  }

  /** The target of a packed message, {@link NO_MATCH} or {@link HALF}; its value is then in {@link value}. */
  accept(packed: number): number {
    let status = packed & 0xff;
    if (status >= 0xf0) return NO_MATCH;
    const one = (packed >> 8) & 0x7f;
    let two = (packed >> 16) & 0x7f;
    const kind = status & 0xf0;
    let number = one;
    if (kind === NOTE_OFF) {
      status |= 0x10;
      two = 0;
    } else if (kind === PITCH_BEND) number = 0;
    else if (kind === CHANNEL_PRESSURE) number = one >> 4;
    const entry = this.table[keyOf(status, number)];
    if (entry === NO_ENTRY) return NO_MATCH;
    const target = entry >> TARGET_SHIFT;
    const aux = (entry >> AUX_SHIFT) & 0x1f;
    switch (entry & 0x0f) {
      case How.Note:
      case How.Controller:
        this.value = two / 127;
        return target;
      case How.PairMsb:
        this.latched[target] = two;
        return HALF;
      case How.PairLsb:
        this.value = join14(two, this.latched[target]) / 16_383;
        return target;
      case How.Relative:
        this.value = ticksOf(RELATIVE_ENCODINGS[aux], two);
        return target;
      case How.Bend: {
        this.value = (join14(one, two) >> (14 - aux)) / ((1 << aux) - 1);
        return target;
      }
      case How.Ring:
        this.value = (two & 0x0f) === 0 ? -1 : ((two & 0x0f) - 1) / 10;
        return target;
      default:
        this.value = Math.min(12, one & 0x0f) / 12;
        return target;
    }
  }

  /** The target whose header a SysEx (F0 … F7) starts with, else {@link NO_MATCH}; its text is then in range. */
  acceptSysex(bytes: Uint8Array, from: number, to: number): number {
    for (const { header, target } of this.texts) {
      if (to - from < header.length + 2) continue;
      let same = true;
      for (let i = 0; i < header.length && same; i++) same = bytes[from + 1 + i] === header[i];
      if (!same) continue;
      this.textFrom = from + 1 + header.length;
      this.textTo = to - 1;
      return target;
    }
    return NO_MATCH;
  }
}
