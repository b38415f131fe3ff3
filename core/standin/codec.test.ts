import fc from 'fast-check';
import { HOST_MODELS, slotsOf } from '@rondo/core/host';
import {
  LinkDecoder,
  MAX_VALUE_BYTES,
  MessageMap,
  STOCK_SURFACES,
  Sender,
  inputsOf,
  isRelative,
  outputsOf,
  pagesOf,
  sendsOf,
  takesOf,
  topOf,
  type Pattern,
} from '@rondo/core/surface';
import { StreamParser } from '@rondo/core/wire';
import { Ear } from './codec/ear.js';
import { MOST_LATE, PLAIN_HABITS, habitsOf, onSteps } from './codec/habits.js';
import { Mouth } from './codec/mouth.js';
import { Speaker } from './codec/speaker.js';

/** Everything that stock surfaces and hosts say, and everything that they hear, list by list. */
const LISTS: readonly (readonly [string, readonly (Pattern | undefined)[]])[] = [
  ...[...STOCK_SURFACES.values()].flatMap((surface) =>
    pagesOf(surface).flatMap((page): [string, (Pattern | undefined)[]][] => [
      [
        `${surface.id} says, page ${page}`,
        surface.controls.flatMap((control) =>
          inputsOf(surface, control).map((part) => sendsOf(surface, control, page)[part]),
        ),
      ],
      [
        `${surface.id} hears, page ${page}`,
        surface.controls.flatMap((control) =>
          outputsOf(surface, control).map((part) => takesOf(surface, control, page)[part]),
        ),
      ],
    ]),
  ),
  ...[...HOST_MODELS.values()].flatMap((model): [string, (Pattern | undefined)[]][] => [
    [`${model.id} says`, slotsOf(model).map(({ report }) => report)],
    [`${model.id} hears`, slotsOf(model).map(({ set }) => set)],
  ]),
];
const isSaid = (pattern: Pattern | undefined): pattern is Pattern =>
  pattern !== undefined && !['text', 'digits', 'osc', 'colour'].includes(pattern.type);
const meant = (pattern: Pattern, share: number): number =>
  isRelative(pattern) ? 1 + Math.round(share * 20) : share;
const room = (pattern: Pattern): number => (isRelative(pattern) ? 0 : 0.51 / topOf(pattern));

// Two codecs that share no code: a mistake in one of them shows here, and one made alike in both in the published examples.
describe.each(LISTS.filter(([, patterns]) => patterns.some(isSaid)))('%s', (_, patterns) => {
  const said = patterns.flatMap((pattern, which) => (isSaid(pattern) ? [{ pattern, which }] : []));
  const entry = fc.constantFrom(...said);
  const share = fc.double({ min: 0.01, max: 1, noNaN: true });

  test('what the simulation says the engine reads: the same control, the same value', () => {
    const map = new MessageMap(patterns);
    expect(map.collisions).toEqual([]);
    fc.assert(
      fc.property(entry, share, ({ pattern, which }, at) => {
        const bytes = new Uint8Array(MAX_VALUE_BYTES * 2);
        const length = new Speaker(patterns).say(which, meant(pattern, at), bytes, 0);
        const decoder = new LinkDecoder(Float64Array.of(0), map);
        const heard: number[] = [];
        let sum = 0;
        const take = (target: number) => {
          if (target < 0) return;
          heard.push(target);
          sum += decoder.heard.value;
        };
        new StreamParser({
          short: (packed) => take(decoder.accept(packed)),
          sysex: (all, from, to) => take(decoder.acceptSysex(all, from, to)),
        }).feed(bytes, 0, length);
        expect(new Set(heard)).toEqual(new Set([which]));
        if (pattern.type === 'program' && pattern.number !== undefined) return;
        expect(Math.abs(sum - meant(pattern, at))).toBeLessThanOrEqual(room(pattern) + 1e-9);
      }),
      { numRuns: 60 },
    );
  });

  test('what the engine writes the simulation hears: the same control, the same value', () => {
    const sender = new Sender(patterns);
    fc.assert(
      fc.property(entry, share, ({ pattern, which }, at) => {
        const heard: number[] = [];
        let sum = 0;
        const ear = new Ear(patterns, {
          heard: (target) => {
            heard.push(target);
            sum += ear.value;
          },
        });
        const bytes = new Uint8Array(MAX_VALUE_BYTES * 2);
        const length = sender.write(which, sender.wire(which, meant(pattern, at)), bytes, 0);
        ear.listen(bytes, 0, length);
        expect(new Set(heard)).toEqual(new Set([which]));
        if (pattern.type === 'program' && pattern.number !== undefined) return;
        expect(Math.abs(sum - meant(pattern, at))).toBeLessThanOrEqual(room(pattern) + 1e-9);
      }),
      { numRuns: 60 },
    );
  });
});

describe('habits', () => {
  test('the same seed has the same habits, within what the standards and the time of doubt allow', () => {
    fc.assert(
      fc.property(fc.integer(), (seed) => {
        const habits = habitsOf(seed);
        expect(habitsOf(seed)).toEqual(habits);
        expect(habits.late).toBeLessThanOrEqual(MOST_LATE);
        expect(habits.steps === 0 || (habits.steps >= 2 && habits.steps <= 128)).toBe(true);
      }),
    );
    const many = Array.from({ length: 200 }, (_, seed) => habitsOf(seed));
    for (const halves of ['both', 'highOnly', 'lowWhenHighStays'])
      expect(many.some((one) => one.halves === halves)).toBe(true);
    for (const habit of ['runningStatus', 'partialTexts', 'echoes', 'silent'] as const)
      expect(new Set(many.map((one) => one[habit])).size).toBe(2);
  });

  test('with running status a stream says the same in fewer bytes (MIDI 1.0)', () => {
    const message = fc.tuple(fc.constantFrom(0x90, 0xb0, 0xe1), fc.nat(127), fc.nat(127));
    fc.assert(
      fc.property(fc.array(message, { minLength: 1 }), (list) => {
        const read = (habits: typeof PLAIN_HABITS) => {
          const seen: number[] = [];
          let length = 0;
          const parser = new StreamParser({
            short: (packed) => seen.push(packed),
            sysex: () => undefined,
          });
          const mouth = new Mouth(
            (bytes, from, to) => {
              length += to - from;
              parser.feed(bytes, from, to);
            },
            habits,
            new Float64Array(1),
          );
          for (const bytes of list) mouth.say(Uint8Array.from(bytes), 0, 3);
          return { seen, length };
        };
        const plain = read(PLAIN_HABITS);
        const short = read({ ...PLAIN_HABITS, runningStatus: true });
        expect(short.seen).toEqual(plain.seen);
        expect(short.length).toBeLessThanOrEqual(plain.length);
      }),
    );
  });

  test('steps: so many values and no other, both ends among them', () => {
    const values = new Set(Array.from({ length: 500 }, (_, n) => onSteps(n / 499, 7)));
    expect([...values]).toEqual(Array.from({ length: 7 }, (_, n) => n / 6));
    expect(onSteps(0.123, 0)).toBe(0.123);
  });
});
