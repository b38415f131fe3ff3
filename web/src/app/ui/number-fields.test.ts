import '@angular/compiler';
import fc from 'fast-check';
import { taken } from './number-fields';

test('what is taken lies within the limits, and is what was typed wherever that does', () => {
  fc.assert(
    fc.property(
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.integer({ min: -1_000, max: 0 }),
      fc.integer({ min: 0, max: 1_000 }),
      (value, low, high) => {
        const now = taken(String(value), String(low), String(high))!;
        expect(now).toBeGreaterThanOrEqual(low);
        expect(now).toBeLessThanOrEqual(high);
        // By value: a zero below zero is a zero.
        if (value >= low && value <= high) expect(now === value).toBe(true);
        // Taken once, it is taken again.
        expect(taken(String(now), String(low), String(high)) === now).toBe(true);
      },
    ),
  );
});

test('a limit that is not named is none; what is no number is not taken', () => {
  expect(taken('1e9', '0', '')).toBe(1e9);
  expect(taken('-5', '', '3')).toBe(-5);
  for (const typed of ['', ' ', 'e', '1-2', 'NaN']) expect(taken(typed, '0', '9')).toBeNull();
});
