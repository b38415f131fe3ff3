import fc from 'fast-check';
import { FAMILIES, type Sizes } from '../live/columns.js';
import { freshState } from '../live/state.js';
import { GestureAt } from '../plan/part-plan.js';
import { Gestures } from './gestures.js';

const LONG = 500_000;
const DOUBLE = 300_000;
const PARTS = 3;
const sizes = Object.fromEntries(FAMILIES.map((family) => [family, PARTS])) as Sizes;
/** Bindings of a part's gestures, by number: which of the three is bound. */
type Bound = Partial<Record<'press' | 'long' | 'double', true>>;

/** A key, a clock, and what its gestures tell. */
class Key {
  readonly clock = Float64Array.of(0);
  readonly agenda = Float64Array.of(Infinity);
  readonly told: string[] = [];
  readonly gestures: Gestures;
  private readonly names = ['press', 'release', 'long', 'double'];

  constructor(private readonly bound: Bound) {
    this.gestures = new Gestures(
      freshState(sizes),
      {
        begin: (part, binding) => this.told.push(`${part} ${this.names[binding]}`),
        end: (part, binding) => this.told.push(`${part} ${this.names[binding]} ends`),
      },
      this.clock,
      this.agenda,
    );
  }
  down(part = 0): this {
    if (!this.gestures.isBetween(part)) {
      const at = part * GestureAt.Count;
      const { settled } = this.gestures;
      settled[at + GestureAt.Press] = this.bound.press ? GestureAt.Press : -1;
      settled[at + GestureAt.Long] = this.bound.long ? GestureAt.Long : -1;
      settled[at + GestureAt.Double] = this.bound.double ? GestureAt.Double : -1;
    }
    this.gestures.press(part, LONG, DOUBLE);
    return this;
  }
  up(part = 0): this {
    this.gestures.release(part, DOUBLE);
    return this;
  }
  /** Time goes on; what is due is told at its own time. */
  wait(micros: number): this {
    const end = this.clock[0] + micros;
    while (this.gestures.deadline <= end) {
      this.clock[0] = this.gestures.deadline;
      this.gestures.advance();
    }
    this.clock[0] = end;
    return this;
  }
}

test('a plain press is told at once where nothing longer is bound, and ends with its release', () => {
  const key = new Key({ press: true }).down();
  expect(key.told).toEqual(['0 press']);
  expect(key.wait(LONG * 3).up().told).toEqual(['0 press', '0 press ends']);
});

test('a long press is told at its time, a short one at its release', () => {
  const both = { press: true, long: true } as const;
  const held = new Key(both).down().wait(LONG - 1);
  expect(held.told).toEqual([]);
  expect(held.wait(1).told).toEqual(['0 long']);
  expect(held.up().told).toEqual(['0 long', '0 long ends']);
  expect(
    new Key(both)
      .down()
      .wait(LONG - 1)
      .up().told,
  ).toEqual(['0 press', '0 press ends']);
});

test('two presses within the time are a double tap; one alone is a press when that can no longer come', () => {
  const both = { press: true, double: true } as const;
  const twice = new Key(both).down().wait(50_000).up().wait(100_000).down();
  expect(twice.told).toEqual(['0 double']);
  expect(twice.up().wait(DOUBLE * 2).told).toEqual(['0 double', '0 double ends']);
  const once = new Key(both).down().wait(50_000).up();
  expect(once.told).toEqual([]);
  expect(once.wait(DOUBLE - 50_000).told).toEqual(['0 press', '0 press ends']);
});

test('whatever hands do, all that begins ends once, in order, and nothing is planned when all is let go', () => {
  const deed = fc.tuple(fc.nat(PARTS - 1), fc.constantFrom('down', 'up', 'stop'), fc.nat(700_000));
  const bound = fc.record({ press: fc.boolean(), long: fc.boolean(), double: fc.boolean() });
  fc.assert(
    fc.property(bound, fc.array(deed, { maxLength: 40 }), (which, deeds) => {
      const given = Object.fromEntries(Object.entries(which).filter(([, is]) => is)) as Bound;
      const key = new Key(given);
      for (const [part, does, micros] of deeds) {
        if (does === 'down') key.down(part);
        else if (does === 'up') key.up(part);
        else key.gestures.stop(part);
        // Who has planned something has said so.
        expect(key.agenda[0]).toBeLessThanOrEqual(key.gestures.deadline);
        key.wait(micros);
      }
      for (let part = 0; part < PARTS; part++) key.up(part);
      key.wait(DOUBLE * 2);
      expect(key.gestures.deadline).toBe(Infinity);
      for (let part = 0; part < PARTS; part++) {
        const own = key.told.filter((line) => line.startsWith(`${part} `));
        own.forEach((line, n) => {
          if (n % 2 === 0) expect(line).not.toContain('ends');
          else expect(line).toBe(`${own[n - 1]} ends`);
        });
        expect(own.length % 2).toBe(0);
      }
    }),
    { numRuns: 300 },
  );
});
