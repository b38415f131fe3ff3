import { fromHex } from '@rondo/core/wire';
import type { Pattern } from '@rondo/core/surface';
import { PLAIN_HABITS, type Habits } from './habits.js';
import { sayOsc, type OscPattern } from './osc.js';

/** Writes a value that stands in a list as a message; returns its bytes. */
type Saying = (values: Float64Array, from: number, into: Uint8Array, at: number) => number;

/** A value of a list as a share of what a message can carry, or of the range that it is to keep to. */
type Scaled = (values: Float64Array, from: number, top: number) => number;

const unit = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

/** Data bytes that count ticks, from −63 to 63 (common practice, no source). */
const TICKS: Readonly<Record<string, (ticks: number) => number>> = {
  twosComplement: (n) => (n + 128) % 128,
  signMagnitude: (n) => (n < 0 ? 64 - n : n),
  signMagnitudeReversed: (n) => (n > 0 ? 64 + n : -n),
  binaryOffset: (n) => 64 + n,
};

const RING_STYLES = ['dot', 'fromCentre', 'fromEnd', 'widening'];
const DIGIT_SPACE = 0x20;

/**
 * Says what a simulated device or program has to say, by the patterns of its description. It shares no code with what
 * the engine reads and writes by, so that a mistake made on both sides would show.
 */
export class Speaker {
  private readonly sayings: (Saying | null)[];
  private readonly one = new Float64Array(1);
  private readonly shown = new Map<number, string>();
  /** What was said last, by OSC pattern. */
  private readonly lastSaid = new Map<OscPattern, number>();

  constructor(
    private readonly patterns: readonly (Pattern | undefined)[],
    private readonly habits: Habits = PLAIN_HABITS,
  ) {
    this.sayings = patterns.map((pattern) => (pattern ? this.sayingOf(pattern) : null));
  }

  /** Writes a value, 0…1, ticks, or below 0 for a dark ring; returns its bytes. */
  say(which: number, value: number, into: Uint8Array, at: number): number {
    this.one[0] = value;
    return this.sayFrom(which, this.one, 0, into, at);
  }

  /** The same of a value that stands in a list. */
  sayFrom(which: number, values: Float64Array, from: number, into: Uint8Array, at: number): number {
    const saying = this.sayings[which];
    return saying ? saying(values, from, into, at) : 0;
  }

  private sayingOf(pattern: Pattern): Saying | null {
    if (pattern.type === 'osc') return this.oscSaying(pattern);
    if (pattern.type === 'text' || pattern.type === 'digits') return null;
    if (pattern.type === 'sysex' || pattern.type === 'colour') return sysexSaying(pattern.template);
    const channel = pattern.channel - 1;
    const [first, last] = ('range' in pattern ? pattern.range : undefined) ?? [0, Infinity];
    const scaled: Scaled = (values, from, top) => {
      const low = first < top ? first : top;
      const high = last < top ? last : top;
      return low + Math.round(unit(values[from]) * (high - low));
    };
    const three = (status: number, number: number, top = 127): Saying => {
      return (values, from, into, at) => {
        into[at] = status | channel;
        into[at + 1] = number;
        into[at + 2] = scaled(values, from, top);
        return 3;
      };
    };
    switch (pattern.type) {
      case 'note':
        return three(0x90, pattern.number);
      case 'controller':
        return three(0xb0, pattern.number);
      case 'polyPressure':
        return three(0xa0, pattern.number);
      case 'controllerPair':
        return this.pair(channel, pattern.number, pattern.lsb, pattern.lsbFirst ?? false, scaled);
      case 'pitchBend':
        const top = 2 ** pattern.bits - 1;
        const unused = 2 ** (14 - pattern.bits);
        return (values, from, into, at) => {
          const bend = scaled(values, from, top) * unused;
          into[at] = 0xe0 | channel;
          into[at + 1] = bend % 128;
          into[at + 2] = Math.floor(bend / 128);
          return 3;
        };
      case 'channelPressure':
        return (values, from, into, at) => {
          into[at] = 0xd0 | channel;
          into[at + 1] = scaled(values, from, 127);
          return 2;
        };
      case 'program':
        return (values, from, into, at) => {
          if (pattern.number !== undefined && !(values[from] > 0)) return 0;
          into[at] = 0xc0 | channel;
          into[at + 1] = pattern.number ?? scaled(values, from, 127);
          return 2;
        };
      case 'nrpn':
      case 'rpn':
        return parameterSaying(channel, pattern, scaled);
      case 'relative':
        return (values, from, into, at) => {
          const way = pattern.reversed ? -1 : 1;
          const ticks = Math.max(-63, Math.min(63, Math.trunc(values[from]))) * way;
          into[at] = 0xb0 | channel;
          into[at + 1] = pattern.number;
          into[at + 2] = TICKS[pattern.encoding](ticks);
          return 3;
        };
      case 'upDown':
        return tickSaying(channel, pattern);
      case 'ring':
        return (values, from, into, at) => {
          const value = values[from];
          into[at] = 0xb0 | channel;
          into[at + 1] = pattern.number;
          into[at + 2] =
            value < 0
              ? 0
              : (Math.abs(unit(value) - 0.5) < 1 / 256 ? 64 : 0) +
                16 * RING_STYLES.indexOf(pattern.style) +
                1 +
                Math.round(unit(value) * 10);
          return 3;
        };
      case 'stripMeter':
        return (values, from, into, at) => {
          into[at] = 0xd0 | channel;
          into[at + 1] = pattern.strip * 16 + Math.round(unit(values[from]) * 12);
          return 2;
        };
    }
  }

  /** All arguments of its address, the others as they were said last. */
  private oscSaying(pattern: OscPattern): Saying {
    const nobody: OscPattern = { type: 'osc', address: pattern.address, argument: 1, as: 'float' };
    return (values, from, into, at) => {
      this.lastSaid.set(pattern, unit(values[from]));
      const args: (readonly [OscPattern, number])[] = [];
      for (const other of this.patterns)
        if (other?.type === 'osc' && other.address === pattern.address)
          args[other.argument - 1] = [other, this.lastSaid.get(other) ?? 0];
      return sayOsc(
        Array.from(args, (arg) => arg ?? [nobody, 0]),
        into,
        at,
      );
    };
  }

  private pair(
    channel: number,
    high: number,
    low: number,
    lowFirst: boolean,
    scaled: Scaled,
  ): Saying {
    let said = -1;
    const status = 0xb0 | channel;
    const leavesHigh = this.habits.halves === 'lowWhenHighStays';
    const saysLow = this.habits.halves !== 'highOnly';
    return (values, from, into, at) => {
      const whole = scaled(values, from, 16_383);
      const top = Math.floor(whole / 128);
      const stays = leavesHigh && top === said;
      said = top;
      const fine = whole - top * 128;
      let end = at;
      if (saysLow && (lowFirst || stays)) end = put(into, end, status, low, fine);
      if (!stays) end = put(into, end, status, high, top);
      if (saysLow && !lowFirst && !stays) end = put(into, end, status, low, fine);
      return end - at;
    };
  }

  /** Writes a text into a display; returns its bytes. What has not changed may be left out. */
  sayText(which: number, text: string, into: Uint8Array, at: number): number {
    const pattern = this.patterns[which];
    if (pattern?.type === 'digits') return this.sayDigits(which, pattern, text, into, at);
    if (pattern?.type === 'osc') return sayOsc([[pattern, text]], into, at);
    if (pattern?.type !== 'text') return 0;
    const { header, offset, width, gap } = pattern;
    const safe = text.replace(/[^\x20-\x7e]/g, '?');
    const whole = width === undefined ? safe : safe.slice(0, width - gap).padEnd(width);
    let first = 0;
    let last = whole.length;
    const before = this.shown.get(which) ?? '';
    this.shown.set(which, whole);
    if (this.habits.partialTexts && offset !== undefined && before.length === whole.length) {
      while (first < last && before[first] === whole[first]) first++;
      while (last > first && before[last - 1] === whole[last - 1]) last--;
    }
    const place = offset === undefined ? [] : [offset + first];
    const codes = Array.from(whole.slice(first, last), (c) => c.charCodeAt(0));
    const bytes = [0xf0, ...header, ...place, ...codes, 0xf7];
    into.set(bytes, at);
    return bytes.length;
  }

  private sayDigits(
    which: number,
    { channel, number, count }: Extract<Pattern, { type: 'digits' }>,
    text: string,
    into: Uint8Array,
    at: number,
  ): number {
    const whole = text.slice(-count).padStart(count);
    const before = this.shown.get(which) ?? '';
    this.shown.set(which, whole);
    let end = at;
    for (let cell = 0; cell < count; cell++) {
      const character = whole[count - 1 - cell].toUpperCase();
      if (before[count - 1 - cell] === whole[count - 1 - cell]) continue;
      const code = character.charCodeAt(0);
      const letter = code >= 0x40 && code < 0x60;
      into[end++] = 0xb0 | (channel - 1);
      into[end++] = number + cell;
      into[end++] = letter ? code - 0x40 : code >= 0x20 && code < 0x40 ? code : DIGIT_SPACE;
    }
    return end - at;
  }
}

/** Writes a message of three bytes; returns where it ends. */
function put(into: Uint8Array, at: number, status: number, one: number, two: number): number {
  into[at] = status;
  into[at + 1] = one;
  into[at + 2] = two;
  return at + 3;
}

function parameterSaying(
  channel: number,
  { type, number, bits }: Extract<Pattern, { type: 'nrpn' | 'rpn' }>,
  scaled: Scaled,
): Saying {
  const [high, low] = type === 'nrpn' ? [99, 98] : [101, 100];
  const status = 0xb0 | channel;
  const numberHigh = Math.floor(number / 128);
  const numberLow = number % 128;
  const most = 2 ** bits - 1;
  return (values, from, into, at) => {
    const whole = scaled(values, from, most);
    const top = bits === 14 ? Math.floor(whole / 128) : whole;
    let end = put(into, at, status, high, numberHigh);
    end = put(into, end, status, low, numberLow);
    end = put(into, end, status, 6, top);
    if (bits === 14) end = put(into, end, status, 38, whole - top * 128);
    return end - at;
  };
}

function tickSaying(
  channel: number,
  { message, up, down, reversed }: Extract<Pattern, { type: 'upDown' }>,
): Saying {
  return (values, from, into, at) => {
    const ticks = Math.trunc(values[from]) * (reversed ? -1 : 1);
    const number = ticks > 0 ? up : down;
    let end = at;
    for (let n = 0; n < Math.abs(ticks); n++) {
      into.set([(message === 'note' ? 0x90 : 0xb0) | channel, number, 127], end);
      end += 3;
      if (message === 'note') {
        into.set([0x80 | channel, number, 0], end);
        end += 3;
      }
    }
    return end - at;
  };
}

/** A SysEx as it is typed, with words where the parts of the value go. */
function sysexSaying(template: string): Saying | null {
  const words = template.trim().toLowerCase().split(/\s+/);
  if (!fromHex(words.map((word) => (/^[0-9a-f]{2}$/.test(word) ? word : '00')).join(' ')))
    return null;
  const isFine = words.includes('high');
  const hasPlace = words.some((word) => !/^[0-9a-f]{2}$/.test(word));
  return (values, from, into, at) => {
    const value = values[from];
    if (!hasPlace && !(value > 0)) return 0;
    const share = unit(value);
    const fine = Math.round(share * 16_383);
    words.forEach((word, i) => {
      into[at + i] =
        word === 'value'
          ? Math.round(share * 127)
          : word === 'high' && isFine
            ? Math.floor(fine / 128)
            : word === 'low' && isFine
              ? fine % 128
              : word === 'red'
                ? Math.floor(value / 16_384) % 128
                : word === 'green'
                  ? Math.floor(value / 128) % 128
                  : word === 'blue'
                    ? value % 128
                    : parseInt(word, 16);
    });
    return words.length;
  };
}
