import fc from 'fast-check';
import { freshState } from '../live/state.js';
import { FAMILIES, type Sizes } from '../live/columns.js';
import { Beliefs, DOUBT } from '../return/beliefs.js';
import { BoxRoom, fn, profileOf } from '../../testing/box-room.js';
import { Shaper } from '../plan/shaper.js';
import { TakeoverAt, Takeovers } from './takeover.js';

const sizes = Object.fromEntries(FAMILIES.map((family) => [family, 1])) as Sizes;
const share = fc.double({ min: 0, max: 1, noNaN: true });
type How = 'jump' | 'pickup' | 'scale' | 'rest';

/** A control before a function of a host that rounds what it is told to so many steps, and tells that some time later. */
class Pair {
  readonly clock = Float64Array.of(1e9);
  private readonly state = freshState(sizes);
  private readonly beliefs = new Beliefs(this.state, this.clock, Float64Array.of(0));
  private readonly takeovers: Takeovers;
  private readonly value = new Float64Array(1);
  private before = -1;
  host: number;

  constructor(
    takeover: How,
    tolerance: number,
    private readonly steps: number,
    start: number,
    private readonly late: number,
  ) {
    this.takeovers = new Takeovers([{ takeover, tolerance }], this.state);
    this.host = this.rounded(start);
    this.tell();
  }
  private rounded(value: number): number {
    return Math.round(value * (this.steps - 1)) / (this.steps - 1);
  }
  private tell(): void {
    this.value[0] = this.host;
    this.beliefs.believe(0, this.value, 0);
  }
  /** The host's own user moves the function, long after it was told anything. */
  change(value: number): void {
    this.clock[0] += DOUBT;
    this.host = this.rounded(value);
    this.tell();
  }
  /** The hand puts the control somewhere; the host has rounded it and says so a little later. */
  move(position: number): void {
    const r = this.takeovers.register;
    r[TakeoverAt.Position] = r[TakeoverAt.Wanted] = position;
    r[TakeoverAt.Before] = this.before;
    this.before = position;
    this.beliefs.meantOf(0, r, TakeoverAt.Now);
    r[TakeoverAt.Low] = 0;
    r[TakeoverAt.High] = 1;
    r[TakeoverAt.Rest] = 0.5;
    if (this.takeovers.meet(0, 0)) {
      this.value[0] = r[TakeoverAt.Wanted];
      this.beliefs.assume(0, this.value, 0);
      this.host = this.rounded(this.value[0]);
    }
    this.clock[0] += this.late;
    this.tell();
  }
}

test('whatever jump reaches with a host that rounds to some steps, every other takeover reaches too, at any tolerance', () => {
  fc.assert(
    fc.property(
      fc.constantFrom<How>('pickup', 'scale'),
      fc.constantFrom(0, 0.02),
      fc.integer({ min: 2, max: 128 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.integer({ min: 0, max: DOUBT - 1 }),
      (how, tolerance, steps, start, late) => {
        /** A knob of seven bits from one end to the other and back. */
        const reached = (takeover: How) => {
          const pair = new Pair(takeover, tolerance, steps, start, late);
          const values = new Set<number>();
          for (let n = 0; n <= 254; n++) {
            pair.move((n <= 127 ? n : 254 - n) / 127);
            values.add(pair.host);
          }
          return values;
        };
        const jumped = reached('jump');
        const other = reached(how);
        for (const value of jumped) expect(other.has(value)).toBe(true);
      },
    ),
    { numRuns: 300 },
  );
});

test('a choice of five on a plain knob with pickup: all five are reached', () => {
  const pair = new Pair('pickup', 0.02, 5, 0, 20_000);
  const seen = new Set<number>();
  for (let n = 0; n <= 127; n++) {
    pair.move(n / 127);
    seen.add(pair.host);
  }
  expect([...seen]).toEqual([0, 0.25, 0.5, 0.75, 1]);
});

test('what the host does of its own accord has to be met again', () => {
  const pair = new Pair('pickup', 0.02, 128, 0, 20_000);
  pair.move(0);
  pair.move(0.5);
  expect(pair.host).toBeCloseTo(0.5, 1);
  pair.change(0.9);
  pair.move(0.52);
  expect(pair.host).toBeCloseTo(0.9, 1);
});

describe('takeover', () => {
  const unmet = () => ({ met: Int32Array.of(-1), sent: new Float64Array(1) });
  const TOLERANCE = 0.02;
  const play = (
    takeover: 'pickup' | 'scale' | 'rest',
    start: number,
    moves: readonly number[],
    rest = 0.5,
  ) => {
    const takeovers = new Takeovers([{ takeover, tolerance: TOLERANCE }], unmet());
    const r = takeovers.register;
    let now = start;
    let last = -1;
    return moves.map((position) => {
      r[TakeoverAt.Position] = position;
      r[TakeoverAt.Wanted] = position;
      r[TakeoverAt.Before] = last;
      last = position;
      r[TakeoverAt.Now] = now;
      r[TakeoverAt.Low] = 0;
      r[TakeoverAt.High] = 1;
      r[TakeoverAt.Rest] = r[TakeoverAt.AtRest] = rest;
      const before = now;
      const met = takeovers.meet(0, 7);
      if (met) now = r[TakeoverAt.Wanted];
      return { position, before, now, met, gap: r[TakeoverAt.Gap] };
    });
  };
  // No wire tells a hand's place finer than in 14 bits.
  const walk = fc.array(
    fc.integer({ min: 0, max: 16_383 }).map((place) => place / 16_383),
    { minLength: 1, maxLength: 40 },
  );

  test('pickup never moves a value by more than its tolerance before it is reached or passed', () => {
    fc.assert(
      fc.property(share, walk, (start, moves) => {
        let last: number | null = null;
        for (const step of play('pickup', start, moves)) {
          const passed = last !== null && (last - step.before) * (step.position - step.before) <= 0;
          if (!step.met) {
            expect(step.now).toBe(step.before);
            expect(Math.sign(step.gap)).toBe(Math.sign(step.before - step.position));
          } else if (!passed && Math.abs((last ?? 2) - step.before) > TOLERANCE)
            // Met from afar: within the tolerance, or at an end that the value lies at.
            expect(Math.abs(step.now - step.before)).toBeLessThanOrEqual(TOLERANCE + 1e-9);
          last = step.position;
        }
      }),
    );
  });

  test('pickup: a value beyond the range is met at the end of the travel', () => {
    const takeovers = new Takeovers([{ takeover: 'pickup', tolerance: TOLERANCE }], unmet());
    const r = takeovers.register;
    const meets = (wanted: number) => {
      r.set([wanted, wanted, -1, 0.95, 0.2, 0.8]);
      return takeovers.meet(0, 1);
    };
    expect([meets(0.5), meets(0.79), meets(0.8)]).toEqual([false, false, true]);
  });

  test('scale reaches both ends and is monotone with the hand', () => {
    fc.assert(
      fc.property(share, walk, fc.constantFrom(0, 1), (start, moves, end) => {
        let last = { position: NaN, now: start };
        for (const step of play('scale', start, [...moves, end])) {
          const way = Math.sign(step.position - last.position);
          if (!Number.isNaN(way)) expect((step.now - last.now) * way).toBeGreaterThanOrEqual(-1e-9);
          expect(step.now).toBeGreaterThanOrEqual(0);
          expect(step.now).toBeLessThanOrEqual(1);
          last = step;
        }
        expect(last.now).toBe(end);
      }),
    );
  });

  test('what springs back goes as its shape does: where the function is what the shape has at rest, it tells just that', () => {
    const shapes = fc.record(
      {
        curve: fc.record({
          kind: fc.constantFrom('s' as const, 'exponential' as const),
          bend: fc.constantFrom(-3, 2, 4),
        }),
        invert: fc.boolean(),
        low: fc.constantFrom(0, 0.2),
        high: fc.constantFrom(0.7, 1),
        deadMiddle: fc.constantFrom(0.1, 0.3),
        deadEnds: fc.constantFrom(0.05, 0.2),
        steps: fc.constantFrom(3, 5, 9),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(shapes, fc.array(share, { minLength: 1, maxLength: 8 }), (shape, places) => {
        const shaper = new Shaper(shape);
        const room = new BoxRoom(
          profileOf([
            { on: 'wheel', feel: { takeover: 'rest' }, actions: fn('volume', 'follow', { shape }) },
          ]),
        );
        room.host('volume/1', shaper.at(0.5)).run(500_000);
        for (const place of places) {
          room.move('wheel', place).run(20_000);
          const stands = Math.round(place * 16_383) / 16_383;
          // What lies within the tolerance of rest is rest.
          if (Math.abs(stands - 0.5) > 0.02)
            expect(Math.abs(room.value('volume/1') - shaper.at(stands))).toBeLessThan(0.002);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('what springs back starts from where the function is and returns it there', () => {
    fc.assert(
      fc.property(share, fc.array(share, { maxLength: 10 }), (start, moves) => {
        const steps = play('rest', start, [...moves.filter((m) => Math.abs(m - 0.5) > 0.02), 0.5]);
        expect(steps.at(-1)!.now).toBeCloseTo(start, 9);
      }),
    );
    expect(play('rest', 0.7, [1]).at(-1)!.now).toBe(1);
    expect(play('rest', 0.7, [0]).at(-1)!.now).toBeCloseTo(0, 12);
    expect(play('rest', 0.7, [0.75]).at(-1)!.now).toBeCloseTo(0.85, 12);
  });
});
