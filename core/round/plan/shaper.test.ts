import fc from 'fast-check';
import { scaleLinear, scalePow } from 'd3';
import { partOfTravel, type Shape, type Zone } from '@rondo/core/profile';
import { NOTHING, Shaper, shapeWithClick, shaperOf } from './shaper.js';

/** A place of a 14-bit control. */
const share = fc.integer({ min: 0, max: 16_383 }).map((n) => n / 16_383);
const bend = fc.integer({ min: -80, max: 80 }).map((n) => n / 10);
const curve = fc.oneof(
  fc.constant({ kind: 'linear' as const }),
  fc.record({
    kind: fc.constant('exponential' as const),
    bend,
  }),
  fc.record({ kind: fc.constant('s' as const), bend }),
);
const shape = fc.record({
  low: share,
  high: share,
  invert: fc.boolean(),
  curve,
  deadMiddle: share.map((n) => n * 0.4),
  deadEnds: share.map((n) => n * 0.2),
});

describe('shapes', () => {
  test('a straight shape is a linear scale, an inverted range too (against d3)', () => {
    fc.assert(
      fc.property(share, share, share, (low, high, x) => {
        const ours = new Shaper({ low, high, invert: true }).at(x);
        expect(ours).toBeCloseTo(scaleLinear([0, 1], [high, low]).clamp(true)(x), 12);
      }),
    );
  });

  test('an exponential curve bends as its formula says: (e^bx − 1) / (e^b − 1)', () => {
    fc.assert(
      fc.property(
        share,
        bend.filter((n) => n !== 0),
        (x, bend) => {
          const expected = (Math.E ** (bend * x) - 1) / (Math.E ** bend - 1);
          expect(new Shaper({ curve: { kind: 'exponential', bend } }).at(x)).toBeCloseTo(
            expected,
            9,
          );
        },
      ),
    );
    // A drawn square law, against d3's power scale at the points.
    const points = Array.from({ length: 11 }, (_, i) => ({
      x: i / 10,
      y: scalePow().exponent(2)(i / 10),
    }));
    const drawn = new Shaper({ curve: { kind: 'drawn', points } });
    for (const { x, y } of points) expect(drawn.at(x)).toBeCloseTo(y, 12);
  });

  test('functions that share a travel take turns: each its whole range in its own part, at rest elsewhere', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 8 }), share, (of, x) => {
        for (let at = 0; at < of; at++) {
          const value = new Shaper({ zones: partOfTravel(at, of) }).at(x);
          // A part of the travel, stretched over the whole range and held at its ends.
          const expected = scaleLinear([at / of, (at + 1) / of], [0, 1]).clamp(true)(x);
          expect(value).toBeCloseTo(expected, 12);
        }
      }),
    );
  });

  test('any shape without zones is monotone and meets both ends of its range exactly', () => {
    fc.assert(
      fc.property(shape, fc.array(share, { minLength: 2, maxLength: 20 }), (given, xs) => {
        const shaper = new Shaper(given);
        const [from, to] = given.invert ? [given.high, given.low] : [given.low, given.high];
        expect([shaper.at(0), shaper.at(1)]).toEqual([from, to]);
        const ys = [...xs].sort((a, b) => a - b).map((x) => shaper.at(x));
        for (let i = 1; i < ys.length; i++)
          expect((ys[i] - ys[i - 1]) * (to >= from ? 1 : -1)).toBeGreaterThanOrEqual(-1e-9);
      }),
    );
  });

  test('a motor is sent to where the hand would have made the value', () => {
    const round = fc.record({
      low: fc.constant(0.1),
      high: fc.constant(0.9),
      invert: fc.boolean(),
      curve,
    });
    fc.assert(
      fc.property(round, share, (given, x) => {
        const shaper = new Shaper(given);
        expect(shaper.at(shaper.inverse(shaper.at(x)))).toBeCloseTo(shaper.at(x), 5);
      }),
    );
  });

  test('steps give so many values and no other', () => {
    const shaper = new Shaper({ steps: 5 });
    const seen = new Set(Array.from({ length: 128 }, (_, i) => shaper.at(i / 127)));
    expect([...seen]).toEqual([0, 0.25, 0.5, 0.75, 1]);
  });

  test('a detent’s middle is the exact middle over its width, and nothing jumps beside it', () => {
    const shaper = new Shaper({ deadMiddle: 0.1 });
    for (const x of [0.451, 0.5, 0.549]) expect(shaper.at(x)).toBe(0.5);
    expect(shaper.at(0.4501 - 0.002)).toBeLessThan(0.5);
    expect(Math.abs(shaper.at(0.449) - 0.5)).toBeLessThan(0.01);
  });

  const zone = fc.oneof(
    fc.record({ does: fc.constant('value' as const), upTo: share, value: share }),
    fc.record({ does: fc.constant('range' as const), upTo: share, low: share, high: share }),
    fc.record({ does: fc.constant('nothing' as const), upTo: share }),
  );
  test('zones cover the travel without gap, in whatever order their ends were given', () => {
    fc.assert(
      fc.property(fc.array<Zone>(zone, { minLength: 1, maxLength: 8 }), share, (zones, x) => {
        const y = new Shaper({ zones }).at(x);
        let end = 0;
        const ends = zones.map(
          (z, i) => (end = i === zones.length - 1 ? 1 : Math.max(end, z.upTo)),
        );
        const at = ends.findIndex((e, i) => x < e || i === zones.length - 1);
        const meant = zones[at];
        if (meant.does === 'nothing') expect(y).toBe(NOTHING);
        else if (meant.does === 'value') expect(y).toBe(meant.value);
        else {
          const [lowest, highest] = [
            Math.min(meant.low, meant.high),
            Math.max(meant.low, meant.high),
          ];
          expect(y).toBeGreaterThanOrEqual(lowest - 1e-9);
          expect(y).toBeLessThanOrEqual(highest + 1e-9);
        }
      }),
    );
  });

  test('a knob with a detent drives two functions, each over its full range', () => {
    const left: Shape = {
      zones: [
        { does: 'range', upTo: 0.5, low: 0, high: 1 },
        { does: 'value', upTo: 1, value: 1 },
      ],
    };
    const right: Shape = {
      zones: [
        { does: 'value', upTo: 0.5, value: 0 },
        { does: 'range', upTo: 1, low: 0, high: 1 },
      ],
    };
    const at = (x: number) => [new Shaper(left).at(x), new Shaper(right).at(x)];
    expect([at(0), at(0.25), at(0.5), at(0.75), at(1)]).toEqual([
      [0, 0],
      [0.5, 0],
      [1, 0],
      [1, 0.5],
      [1, 1],
    ]);
  });

  test('numbers outside 0…1 are held at the ends and counted', () => {
    const shaper = new Shaper({ low: -0.5, high: 7 });
    expect([shaper.low, shaper.high, shaper.clamped]).toEqual([0, 1, 2]);
    expect([shaper.at(-3), shaper.at(9)]).toEqual([0, 1]);
  });
});

describe('the inverse finds what the shape has', () => {
  // Drawn by hand: nobody puts two points nearer than a thousandth.
  const point = fc.record({ x: fc.nat(1_000).map((x) => x / 1_000), y: share });
  const drawn = fc.uniqueArray(point, { minLength: 2, maxLength: 8, selector: ({ x }) => x });
  test('every corner of a drawn curve, however narrow the peak is', () => {
    fc.assert(
      fc.property(drawn, share, share, fc.boolean(), (points, middle, ends, invert) => {
        const curve = { kind: 'drawn' as const, points };
        const shaper = new Shaper({
          curve,
          invert,
          deadMiddle: middle * 0.3,
          deadEnds: ends * 0.1,
        });
        for (const { x } of points) {
          // What a corner is made of is found again: as a value, for places may share one.
          const value = new Shaper({ curve, invert }).at(x);
          expect(shaper.at(shaper.inverse(value))).toBeCloseTo(value, 4);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('of a flat its middle, of one that goes to an end of the travel that end', () => {
    const zones = fc.array(
      fc.oneof(
        fc.record({ does: fc.constant('value' as const), upTo: share, value: share }),
        fc.record({ does: fc.constant('range' as const), upTo: share, low: share, high: share }),
        fc.record({ does: fc.constant('nothing' as const), upTo: share }),
      ),
      { minLength: 1, maxLength: 4 },
    );
    const shapes = fc.record(
      {
        curve: fc.record({ kind: fc.constant('s' as const), bend: fc.constantFrom(-3, 2) }),
        invert: fc.boolean(),
        deadMiddle: fc.constantFrom(0.1, 0.3),
        deadEnds: fc.constantFrom(0.05, 0.2),
        steps: fc.constantFrom(2, 3, 5),
        zones,
      },
      { requiredKeys: [] },
    );
    const FINE = 2_000;
    fc.assert(
      fc.property(shapes, share, (shape, x) => {
        const shaper = new Shaper(shape);
        const value = shaper.at(x);
        if (value === NOTHING) return;
        const place = shaper.inverse(value);
        // Seen by trying all places around it.
        const isAlike = (n: number) =>
          n >= 0 && n <= FINE && Math.abs(shaper.at(n / FINE) - shaper.at(place)) <= 1e-9;
        let [from, to] = [Math.ceil(place * FINE), Math.floor(place * FINE)];
        while (isAlike(from - 1)) from--;
        while (isAlike(to + 1)) to++;
        // Less than a step is none.
        if (to - from < 4 || (from <= 0 && to >= FINE)) return;
        if (from <= 0) expect(place).toBe(0);
        else if (to >= FINE) expect(place).toBe(1);
        else expect(Math.abs(place - (from + to) / 2 / FINE)).toBeLessThan(2 / FINE);
      }),
      { numRuns: 500 },
    );
  });

  test('a peak narrower than a sixty-fourth', () => {
    const points = [
      { x: 0, y: 0 },
      { x: 0.401, y: 0 },
      { x: 0.403, y: 1 },
      { x: 0.405, y: 0 },
      { x: 1, y: 0.2 },
    ];
    const shaper = new Shaper({ curve: { kind: 'drawn', points } });
    expect(shaper.at(shaper.inverse(1))).toBeCloseTo(1, 6);
    expect(shaper.inverse(1)).toBeCloseTo(0.403, 6);
  });
});

test('a knob with a click in the middle that is split in two is at rest at 63 and at 64, and reaches both ends', () => {
  const left: Shape = {
    zones: [
      { does: 'range', upTo: 0.5, low: 0, high: 1 },
      { does: 'value', upTo: 1, value: 1 },
    ],
  };
  const right: Shape = {
    zones: [
      { does: 'value', upTo: 0.5, value: 0 },
      { does: 'range', upTo: 1, low: 0, high: 1 },
    ],
  };
  const at = (data: number) =>
    [left, right].map((shape) => shaperOf(shapeWithClick(shape)).at(data / 127));
  expect([63, 64].map(at)).toEqual([
    [1, 0],
    [1, 0],
  ]);
  expect([0, 127].map(at)).toEqual([
    [0, 0],
    [1, 1],
  ]);
  // Beside the click each moves at once, and by no more than a step.
  expect(at(62)[0]).toBeLessThan(1);
  expect(at(62)[0]).toBeGreaterThan(0.97);
  expect(at(65)[1]).toBeGreaterThan(0);
  expect(at(65)[1]).toBeLessThan(0.03);
  // What is not split is left as it is.
  expect(shapeWithClick({ invert: true })).toEqual({ invert: true });
});
