import fc from 'fast-check';
import { StreamParser } from '@rondo/core/wire';
import { HALF_WAITS, HIGHS_ALONE } from './half-values.js';
import { HALF, NO_MATCH } from './heard.js';
import { LinkDecoder } from './link-decoder.js';
import { MessageMap } from './message-map.js';
import type { Pattern } from './pattern.js';

/** A link at a clock that the test turns; what it tells as [target, value on a scale of 14 bits]. */
class Wire {
  readonly clock = Float64Array.of(0);
  readonly decoder: LinkDecoder;
  readonly heard: [number, number][] = [];
  private readonly parser = new StreamParser({
    short: (packed) => this.tell(this.decoder.accept(packed)),
    sysex: (bytes, from, to) => this.tell(this.decoder.acceptSysex(bytes, from, to)),
  });

  constructor(...patterns: Pattern[]) {
    this.decoder = new LinkDecoder(this.clock, new MessageMap(patterns));
  }
  private tell(target: number): void {
    if (target >= 0) this.heard.push([target, Math.round(this.decoder.heard.value * 16_383)]);
  }
  say(...bytes: number[]): this {
    this.parser.feed(Uint8Array.from(bytes));
    return this;
  }
  wait(micros: number): this {
    this.clock[0] += micros;
    for (
      let target = this.decoder.takeOverdue();
      target !== NO_MATCH;
      target = this.decoder.takeOverdue()
    )
      this.tell(target);
    return this;
  }
  /** The same wire under another description, as after an edit. */
  edit(...patterns: Pattern[]): this {
    this.decoder.use(new MessageMap(patterns));
    return this;
  }
  get values(): number[] {
    return this.heard.map(([, value]) => value);
  }
}
const pair = (lsbFirst = false): Pattern => ({
  type: 'controllerPair',
  channel: 1,
  number: 7,
  lsb: 39,
  ...(lsbFirst ? { lsbFirst } : {}),
});
const nrpn = (number: number, bits: 7 | 14 = 14): Pattern => ({
  type: 'nrpn',
  channel: 1,
  number,
  bits,
});
const seven = (data: number): number => Math.round((data / 127) * 16_383);

// MIDI 1.0 Detailed Specification 4.2.1, Control Change: controllers 0–31 are high halves, 32–63 their low ones, which
// may be left out; and CA-022/RP-021 on numbers of 14 bits.
describe('halves of 14-bit controllers', () => {
  test('steps of a parameter go on from what was said last, be it a high half alone (MIDI 1.0, RP-018)', () => {
    const nrpn: Pattern = { type: 'nrpn', channel: 1, number: 5, bits: 14 };
    fc.assert(
      fc.property(
        fc.nat(127),
        fc.nat(126),
        fc.nat(127),
        fc.boolean(),
        (before, high, low, isWaitedFor) => {
          const wire = new Wire(nrpn).say(0xb0, 99, 0, 98, 5, 6, before, 38, low, 6, high);
          if (isWaitedFor) wire.wait(10_000);
          wire.say(0xb0, 96, 0);
          // A high half alone is a value of seven bits.
          expect(wire.values.at(-1)).toBe(Math.round((high / 127) * 16_383) + 1);
        },
      ),
    );
  });

  test('both in one go are one value and nothing half new, in either order, cut anywhere', () => {
    fc.assert(
      fc.property(
        fc.boolean(),
        fc.array(fc.nat(16_383), { minLength: 1, maxLength: 20 }),
        (first, list) => {
          const wire = new Wire(pair(first));
          for (const value of list) {
            const halves = [
              [0xb0, 7, value >> 7],
              [0xb0, 39, value & 127],
            ];
            wire.say(...(first ? halves.reverse() : halves).flat()).wait(HALF_WAITS - 1);
          }
          expect(wire.values).toEqual(list);
        },
      ),
    );
  });

  test('the high half alone acts after five milliseconds, at both ends of its travel', () => {
    const wire = new Wire(pair()).say(0xb0, 7, 127);
    expect(wire.values).toEqual([]);
    expect(wire.decoder.deadline).toBe(HALF_WAITS);
    wire.wait(HALF_WAITS - 1);
    expect(wire.values).toEqual([]);
    wire.wait(1);
    expect(wire.values).toEqual([16_383]);
    wire.say(0xb0, 7, 0).wait(HALF_WAITS);
    expect(wire.values).toEqual([16_383, 0]);
  });

  test('a low half that comes later corrects it', () => {
    const wire = new Wire(pair()).say(0xb0, 7, 100).wait(HALF_WAITS).say(0xb0, 39, 5);
    expect(wire.values).toEqual([seven(100), 100 * 128 + 5]);
  });

  test('after three alone the next acts at once, also where they come faster than the wait', () => {
    const wire = new Wire(pair());
    for (let n = 0; n <= HIGHS_ALONE; n++) wire.say(0xb0, 7, 10 + n).wait(1_000);
    expect(wire.values.at(-1)).toBe(seven(10 + HIGHS_ALONE));
    wire.say(0xb0, 7, 90);
    expect(wire.values.at(-1)).toBe(seven(90));
    // A device that turns out to send both halves is waited for again.
    wire.say(0xb0, 39, 3);
    const told = wire.values.length;
    wire.say(0xb0, 7, 50);
    expect(wire.values.length).toBe(told);
    wire.say(0xb0, 39, 1);
    expect(wire.values.at(-1)).toBe(50 * 128 + 1);
  });

  test('the low half alone refines what the high one was, and means nothing before there was one', () => {
    const wire = new Wire(pair()).say(0xb0, 39, 64);
    expect(wire.values).toEqual([]);
    wire.say(0xb0, 7, 100, 0xb0, 39, 17).say(0xb0, 39, 18);
    expect(wire.values).toEqual([100 * 128 + 17, 100 * 128 + 18]);
  });

  test('low first: the low half alone acts with the old high one when its time is over', () => {
    const wire = new Wire(pair(true)).say(0xb0, 39, 1, 0xb0, 7, 64).say(0xb0, 39, 9);
    expect(wire.values).toEqual([64 * 128 + 1]);
    wire.wait(HALF_WAITS);
    expect(wire.values.at(-1)).toBe(64 * 128 + 9);
  });
});

// MIDI 1.0 Detailed Specification 4.2.1, (N)RPN; RP-018, data increment and decrement.
describe('registered and non-registered parameters', () => {
  const choose = (number: number) => [0xb0, 99, number >> 7, 0xb0, 98, number & 127];

  test('choosing another forgets the half data of the one before', () => {
    const wire = new Wire(nrpn(300), nrpn(301));
    wire.say(...choose(300), 0xb0, 6, 90, ...choose(301), 0xb0, 38, 4);
    // What was said of the first acts as far as it goes; its half does not go into the second.
    expect(wire.heard).toEqual([[0, seven(90)]]);
    wire.say(0xb0, 6, 1, 0xb0, 38, 2);
    expect(wire.heard.at(-1)).toEqual([1, 130]);
  });

  test('127/127 chooses none', () => {
    const wire = new Wire(nrpn(16_383, 7), nrpn(5, 7)).say(...choose(5), 0xb0, 6, 1);
    wire.say(...choose(16_383), 0xb0, 6, 99);
    expect(wire.heard).toEqual([[0 + 1, seven(1)]]);
  });

  test('data increment and decrement go by one step whatever number comes with them, and stop at the ends', () => {
    const wire = new Wire(nrpn(9)).say(...choose(9), 0xb0, 6, 127, 0xb0, 38, 126);
    wire.say(0xb0, 96, 0).say(0xb0, 96, 127).say(0xb0, 97, 64);
    expect(wire.values).toEqual([16_382, 16_383, 16_383, 16_382]);
    const coarse = new Wire(nrpn(9, 7)).say(...choose(9), 0xb0, 6, 0, 0xb0, 97, 1, 0xb0, 96, 1);
    expect(coarse.values).toEqual([0, 0, seven(1)]);
    // Where nothing was said there is nothing to go on from.
    expect(new Wire(nrpn(9)).say(...choose(9), 0xb0, 96, 1).values).toEqual([]);
  });

  test('the high half alone acts too', () => {
    expect(new Wire(nrpn(9)).say(...choose(9), 0xb0, 6, 127).wait(HALF_WAITS).values).toEqual([
      16_383,
    ]);
  });
});

describe('what the wire has half said outlives an edit', () => {
  test('halves, chosen parameters, displays, digits and the page', () => {
    const field = (offset: number): Pattern => ({
      type: 'text',
      header: [0, 0, 0x66, 0x14, 0x12],
      offset,
      width: 7,
      gap: 0,
    });
    const digits: Pattern = { type: 'digits', channel: 1, number: 0x40, count: 4 };
    const all = [pair(), nrpn(300), field(0), digits];
    const wire = new Wire(...all);
    wire.say(0xb0, 7, 100, 0xb0, 39, 17, 0xb0, 99, 2, 0xb0, 98, 44);
    wire.say(0xf0, 0, 0, 0x66, 0x14, 0x12, 0, ...[...'Bassoo '].map((c) => c.charCodeAt(0)), 0xf7);
    wire.say(0xb0, 0x40, 0x31, 0xb0, 0x41, 0x32);
    wire.heard.length = 0;
    // Another control stands before them now.
    wire.edit({ type: 'note', channel: 1, number: 1 }, ...all);
    wire.say(0xb0, 39, 18);
    expect(wire.heard).toEqual([[1, 100 * 128 + 18]]);
    wire.say(0xb0, 6, 3, 0xb0, 38, 4);
    expect(wire.heard.at(-1)).toEqual([2, 3 * 128 + 4]);
    wire.say(0xf0, 0, 0, 0x66, 0x14, 0x12, 6, 0x6e, 0xf7);
    expect(wire.decoder.textAt(3)).toBe('Bassoon');
    wire.say(0xb0, 0x42, 0x33);
    expect(wire.decoder.textAt(4)).toBe(' 321');
  });

  test('a half that waits while the edit comes acts under the new description', () => {
    const wire = new Wire(pair())
      .say(0xb0, 7, 64)
      .edit({ type: 'note', channel: 1, number: 1 }, pair());
    wire.wait(HALF_WAITS);
    expect(wire.heard).toEqual([[1, seven(64)]]);
    expect(new Wire(pair()).say(0xb0, 7, 64).edit().wait(HALF_WAITS).heard).toEqual([]);
  });

  test('a parameter may be chosen before anybody waits for it', () => {
    const wire = new Wire().say(0xb0, 99, 0, 0xb0, 98, 9).edit(nrpn(9, 7)).say(0xb0, 6, 127);
    expect(wire.values).toEqual([16_383]);
  });

  test('another cable has said nothing yet', () => {
    const wire = new Wire(pair()).say(0xb0, 7, 100, 0xb0, 39, 1);
    wire.decoder.reset();
    wire.say(0xb0, 39, 2);
    expect(wire.values).toEqual([100 * 128 + 1]);
  });
});

test('ring data beyond the range is clamped (Mackie-style: places 1 to 11, common practice, no source)', () => {
  const ring: Pattern = { type: 'ring', channel: 1, number: 0x30, style: 'dot' };
  const { decoder } = new Wire(ring);
  const place = (data: number) => (
    decoder.accept(0xb0 | (0x30 << 8) | (data << 16)),
    decoder.heard.value
  );
  expect([0, 1, 6, 11, 12, 15].map(place)).toEqual([-1, 0, 0.5, 1, 1, 1]);
});

test('what means nothing is told as such, and what is half of something as half', () => {
  const { decoder } = new Wire(nrpn(5), pair());
  expect(decoder.accept(0xb0 | (99 << 8))).toBe(HALF);
  expect(decoder.accept(0xb0 | (7 << 8) | (3 << 16))).toBe(HALF);
  expect(decoder.accept(0x90 | (60 << 8) | (3 << 16))).toBe(NO_MATCH);
  expect(decoder.accept(0xf8)).toBe(NO_MATCH);
});
