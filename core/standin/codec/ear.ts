import { StreamParser, type MessageSink } from '@rondo/core/wire';
import { textOfCells, type Pattern } from '@rondo/core/surface';

import { Data, EarParameters, type Hearing, type Meaning } from './ear-parameters.js';
import { oscEnds, oscIn, type OscPattern } from './osc.js';

/** What a simulated device or program does with what it hears. Values are in {@link Ear.value}. */
export interface Hearer {
  /** A value has come for a pattern. */
  heard(which: number): void;
  /** A text has come, or a part of it. */
  read?(which: number, text: string): void;
  /** The overload lamp of a meter. */
  overload?(which: number, on: boolean): void;
  /** A SysEx that no pattern has; it is valid during the call only. */
  other?(bytes: Uint8Array, from: number, to: number): void;
}

const PLACES = 128;

/** Ticks in a data byte (common practice, no source). */
const TICKS: Readonly<Record<string, (data: number) => number>> = {
  twosComplement: (data) => (data > 63 ? data - 128 : data),
  signMagnitude: (data) => (data & 63) * (data > 63 ? -1 : 1),
  signMagnitudeReversed: (data) => (data & 63) * (data > 63 ? 1 : -1),
  binaryOffset: (data) => data - 64,
};

interface Display {
  readonly header: readonly number[];
  readonly memory: string[];
  readonly fields: { which: number; offset: number; width: number }[];
}

interface OpenText {
  readonly which: number;
  readonly begins: readonly number[];
}

interface Words {
  readonly which: number;
  readonly words: readonly string[];
}

/**
 * Hears what comes to a simulated device or program, by the patterns of its description. It shares no code with what
 * the engine reads and writes by, so that a mistake made on both sides would show.
 */
export class Ear implements MessageSink {
  /** What came last: 0…1, ticks, a colour of 21 bits, or −1 for a dark ring. */
  value = 0;
  /** The bits that came beside a ring's place; −1 for none. */
  style = -1;
  private readonly parser = new StreamParser(this);
  /** By status without its highest bit × 128 + first data byte. Filled, since a list with holes is slow to look up. */
  private readonly hearings = new Array<Hearing | undefined>(PLACES * PLACES).fill(undefined);
  private readonly which = new Int32Array(PLACES * PLACES);
  /** Further meanings of what has one already. */
  private readonly more = new Map<number, Meaning[]>();
  private readonly displays: Display[] = [];
  private readonly openTexts: OpenText[] = [];
  private readonly words: Words[] = [];
  private readonly addresses = new Map<string, readonly { which: number; pattern: OscPattern }[]>();
  private readonly parameters = new EarParameters();

  constructor(
    patterns: readonly (Pattern | undefined)[],
    private readonly hearer: Hearer,
  ) {
    patterns.forEach((pattern, which) => {
      if (pattern) this.learn(pattern, which);
    });
  }

  /** Bytes that come, cut anywhere. */
  listen(bytes: Uint8Array, from: number, to: number): void {
    if (this.addresses.size > 0) this.listenOsc(bytes, from, to);
    else this.parser.feed(bytes, from, to);
  }

  private listenOsc(bytes: Uint8Array, from: number, to: number): void {
    for (const { address, args } of oscIn(bytes, from, to))
      for (const { which, pattern } of this.addresses.get(address) ?? []) {
        const said = args[pattern.argument - 1];
        if (said === undefined) continue;
        if (pattern.as === 'string') {
          this.hearer.read?.(which, String(said));
          continue;
        }
        const [low, high] = oscEnds(pattern);
        this.value =
          high === low ? 0 : Math.max(0, Math.min(1, (Number(said) - low) / (high - low)));
        this.hearer.heard(which);
      }
  }

  private on(status: number, number: number, which: number, hearing: Hearing): void {
    const at = (status & 0x7f) * 128 + number;
    if (this.hearings[at]) this.more.set(at, [...(this.more.get(at) ?? []), { which, hearing }]);
    else {
      this.hearings[at] = hearing;
      this.which[at] = which;
    }
  }

  private learn(pattern: Pattern, which: number): void {
    if (pattern.type === 'osc') {
      const list = this.addresses.get(pattern.address) ?? [];
      this.addresses.set(pattern.address, [...list, { which, pattern }]);
      return;
    }
    if (pattern.type === 'text') {
      const { header, offset, width } = pattern;
      if (offset === undefined || width === undefined) {
        this.openTexts.push({
          which,
          begins: [...header, ...(offset === undefined ? [] : [offset])],
        });
        return;
      }
      let display = this.displays.find((known) => known.header.join() === header.join());
      if (!display) {
        display = { header, memory: new Array<string>(PLACES).fill(' '), fields: [] };
        this.displays.push(display);
      }
      display.fields.push({ which, offset, width });
      return;
    }
    if (pattern.type === 'sysex' || pattern.type === 'colour') {
      this.words.push({ which, words: pattern.template.trim().toLowerCase().split(/\s+/) });
      return;
    }
    const channel = pattern.channel - 1;
    const [first, last] = ('range' in pattern ? pattern.range : undefined) ?? [0, Infinity];
    const share = (whole: number, top: number): true => {
      const low = first < top ? first : top;
      const high = last < top ? last : top;
      const part = high === low ? 0 : (whole - low) / (high - low);
      this.value = part > 0 ? (part < 1 ? part : 1) : 0;
      return true;
    };
    switch (pattern.type) {
      case 'note':
        this.on(0x90 | channel, pattern.number, which, (_, two, released) =>
          share(released ? 0 : two, 127),
        );
        return;
      case 'controller':
        this.on(0xb0 | channel, pattern.number, which, (_, two) => share(two, 127));
        return;
      case 'polyPressure':
        this.on(0xa0 | channel, pattern.number, which, (_, two) => share(two, 127));
        return;
      case 'controllerPair': {
        let waits = -1;
        const { number, lsb, lsbFirst } = pattern;
        const [begins, ends] = lsbFirst ? [lsb, number] : [number, lsb];
        this.on(0xb0 | channel, begins, which, (_, two) => {
          waits = two;
          return false;
        });
        this.on(0xb0 | channel, ends, which, (_, two) => {
          if (waits < 0) return false;
          return share(lsbFirst ? two * 128 + waits : waits * 128 + two, 16_383);
        });
        return;
      }
      case 'nrpn':
      case 'rpn':
        this.parameters.learn(pattern, which, share);
        return;
      case 'relative':
        this.on(0xb0 | channel, pattern.number, which, (_, two) => {
          this.value = TICKS[pattern.encoding](two) * (pattern.reversed ? -1 : 1);
          return true;
        });
        return;
      case 'upDown':
        for (const [number, way] of [
          [pattern.up, pattern.reversed ? -1 : 1],
          [pattern.down, pattern.reversed ? 1 : -1],
        ])
          this.on(
            (pattern.message === 'note' ? 0x90 : 0xb0) | channel,
            number,
            which,
            (_, two, r) => {
              this.value = way;
              return !r && (pattern.message !== 'note' || two > 0);
            },
          );
        return;
      case 'pitchBend':
        for (let number = 0; number < PLACES; number++)
          this.on(0xe0 | channel, number, which, (one, two) =>
            share(Math.floor((two * 128 + one) / 2 ** (14 - pattern.bits)), 2 ** pattern.bits - 1),
          );
        return;
      case 'channelPressure':
        for (let number = 0; number < PLACES; number++)
          this.on(0xd0 | channel, number, which, (one) => share(one, 127));
        return;
      case 'program':
        for (let number = 0; number < PLACES; number++)
          if (pattern.number === undefined || pattern.number === number)
            this.on(0xc0 | channel, number, which, (one) =>
              pattern.number === undefined ? share(one, 127) : share(127, 127),
            );
        return;
      case 'ring':
        this.on(0xb0 | channel, pattern.number, which, (_, two) => {
          this.style = two >> 4;
          this.value = two % 16 === 0 ? -1 : Math.min(1, ((two % 16) - 1) / 10);
          return true;
        });
        return;
      case 'stripMeter':
        for (let level = 0; level < 16; level++)
          this.on(0xd0 | channel, pattern.strip * 16 + level, which, () => {
            if (level >= 14) this.hearer.overload?.(which, level === 14);
            else this.value = Math.min(12, level) / 12;
            return level < 14;
          });
        return;
      case 'digits': {
        const cells = new Array<number>(pattern.count).fill(0x20);
        for (let cell = 0; cell < pattern.count; cell++)
          this.on(0xb0 | channel, pattern.number + cell, which, (_, two) => {
            cells[pattern.count - 1 - cell] = two;
            this.hearer.read?.(which, textOfCells(String.fromCharCode(...cells)));
            return false;
          });
        return;
      }
    }
  }

  short(packed: number): void {
    const released = (packed & 0xf0) === 0x80;
    const status = released ? (packed & 0xff) | 0x10 : packed & 0xff;
    const one = (packed >> 8) & 0x7f;
    const two = (packed >> 16) & 0x7f;
    if (this.parameters.isUsed && (status & 0xf0) === 0xb0) {
      const which = this.parameters.take(status & 0x0f, one, two);
      if (which >= 0) this.hearer.heard(which);
      if (which !== Data.None) return;
    }
    const at = (status & 0x7f) * 128 + one;
    const hearing = this.hearings[at];
    if (hearing === undefined || status >= 0xf0) return;
    if (hearing(one, two, released)) this.hearer.heard(this.which[at]);
    else if (this.more.size > 0) this.hearMore(at, one, two, released);
  }

  private hearMore(at: number, one: number, two: number, released: boolean): void {
    const found = this.more.get(at)?.find(({ hearing }) => hearing(one, two, released));
    if (found) this.hearer.heard(found.which);
  }

  sysex(bytes: Uint8Array, from: number, to: number): void {
    const inside = bytes.subarray(from + 1, to - 1);
    const beginsWith = (list: readonly number[]) => list.every((byte, i) => inside[i] === byte);
    for (const { header, memory, fields } of this.displays) {
      if (inside.length <= header.length || !beginsWith(header)) continue;
      const offset = inside[header.length];
      const text = inside.subarray(header.length + 1);
      text.forEach((code, i) => {
        if (offset + i < PLACES) memory[offset + i] = String.fromCharCode(code);
      });
      for (const { which, offset: first, width } of fields)
        if (first < offset + text.length && offset < first + width)
          this.hearer.read?.(which, memory.slice(first, first + width).join(''));
      return;
    }
    for (const { which, begins } of this.openTexts)
      if (beginsWith(begins)) {
        this.hearer.read?.(which, String.fromCharCode(...inside.subarray(begins.length)));
        return;
      }
    for (const { which, words } of this.words) {
      if (words.length !== to - from) continue;
      const part = new Map<string, number>();
      const fits = words.every((word, i) => {
        if (/^[0-9a-f]{2}$/.test(word)) return parseInt(word, 16) === bytes[from + i];
        part.set(word, bytes[from + i]);
        return true;
      });
      if (!fits) continue;
      const of = (word: string) => part.get(word) ?? 0;
      if (part.has('red')) this.value = of('red') * 16_384 + of('green') * 128 + of('blue');
      else if (part.has('value')) this.value = of('value') / 127;
      else if (part.has('high')) this.value = (of('high') * 128 + of('low')) / 16_383;
      else this.value = 1;
      this.hearer.heard(which);
      return;
    }
    this.hearer.other?.(bytes, from, to);
  }
}
