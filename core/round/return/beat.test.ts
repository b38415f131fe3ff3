import fc from 'fast-check';
import { Beat } from './beat.js';

/** Clock messages a quarter note (MIDI 1.0 Detailed Specification 4.2.1, Timing Clock). */
const TICKS = 24;

class Clock {
  readonly clock = Float64Array.of(0);
  readonly beat = new Beat(this.clock);
  /** Clock messages at a tempo, one after the other. */
  tick(count: number, bpm: number): this {
    for (let n = 0; n < count; n++) {
      this.clock[0] += 60_000_000 / bpm / TICKS;
      this.beat.tick(0, true);
    }
    return this;
  }
  wait(micros: number): this {
    this.clock[0] += micros;
    return this;
  }
  get bpm(): number {
    return 60_000_000 / this.beat.length;
  }
}

test('the tempo is that of the clock, and follows it within a beat', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 40, max: 260, noNaN: true }),
      fc.double({ min: 40, max: 260, noNaN: true }),
      (a, b) => {
        const clock = new Clock().tick(2 * TICKS, a);
        expect(clock.bpm).toBeCloseTo(a, 3);
        expect(clock.tick(TICKS + 1, b).bpm).toBeCloseTo(b, 3);
      },
    ),
  );
});

test('start in mid-beat, and a pause of a minute, leave the length of a beat alone', () => {
  const clock = new Clock().tick(2 * TICKS + 5, 96);
  clock.beat.start(0);
  expect(clock.tick(3 * TICKS, 96).bpm).toBeCloseTo(96, 3);
  expect(clock.wait(60_000_000).tick(2 * TICKS + 1, 96).bpm).toBeCloseTo(96, 3);
});

test('start: the next clock message is the first of a beat', () => {
  const clock = new Clock().tick(2 * TICKS + 7, 120);
  clock.beat.start(0);
  clock.tick(1, 120);
  expect(clock.beat.phase()).toBeCloseTo(0, 6);
  expect(clock.tick(12, 120).beat.phase()).toBeCloseTo(0.5, 6);
});

test('stop and continue: the music goes on at the place where it was', () => {
  const clock = new Clock();
  clock.beat.start(0);
  // Half a beat and one message have been played: the next one stands at 13 of 24.
  clock.tick(TICKS + 13, 120);
  clock.beat.stop(0);
  clock.tick(5, 120).wait(200_000);
  clock.beat.goOn(0);
  clock.tick(1, 120);
  expect(clock.beat.phase()).toBeCloseTo(13 / TICKS, 6);
});

test('song position counts in steps of six clock messages (Song Position Pointer)', () => {
  const clock = new Clock().tick(2 * TICKS, 120);
  clock.beat.stop(0);
  clock.beat.goTo(0, 10);
  clock.beat.goOn(0);
  clock.tick(1, 120);
  expect(clock.beat.phase()).toBeCloseTo(((10 * 6) % TICKS) / TICKS, 6);
});

test('another clock takes over when the first is silent, or at once where it is wanted; orders of others are let be', () => {
  const clock = new Clock().tick(TICKS * 2, 120);
  clock.beat.tick(1, false);
  clock.beat.start(1);
  expect(clock.tick(12, 120).beat.phase()).toBeCloseTo((12 - 1) / TICKS, 6);
  clock.wait(600_000).beat.tick(1, false);
  expect(clock.beat.phase()).toBeCloseTo(0, 6);
});

test('a light that flashes with the beat changes when it is said to', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 5e6, noNaN: true }), (at) => {
      const clock = new Clock().wait(Math.round(at));
      const { beat } = clock;
      const lit = beat.isLit();
      const until = beat.untilChange();
      clock.wait(until - 2);
      if (until > 2) expect(beat.isLit()).toBe(lit);
      expect(clock.wait(4).beat.isLit()).toBe(!lit);
    }),
  );
});

test('a light by the bar is lit for the first of four beats, and is asked for when it changes', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 40, max: 260, noNaN: true }),
      fc.nat(6 * 4 * TICKS),
      fc.nat(16 * 6),
      (bpm, ticks, steps) => {
        const clock = new Clock().tick(2 * TICKS, bpm);
        // A song position is a number of sixteenths, six clock messages each (MIDI 1.0).
        clock.beat.stop(0);
        clock.beat.goTo(0, steps);
        clock.beat.goOn(0);
        clock.tick(1 + ticks, bpm);
        const quarter = Math.floor((steps * 6 + ticks) / TICKS);
        expect(clock.beat.isLitInBar()).toBe(quarter % 4 === 0);
        const before = clock.beat.isLitInBar();
        const until = clock.beat.untilChangeInBar();
        const length = clock.beat.length;
        expect(until).toBeLessThanOrEqual(3 * length + 1);
        clock.wait(until - 2);
        if (until > 2) expect(clock.beat.isLitInBar()).toBe(before);
        clock.wait(4);
        expect(clock.beat.isLitInBar()).toBe(!before);
      },
    ),
  );
});
