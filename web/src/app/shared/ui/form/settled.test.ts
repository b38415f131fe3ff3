import fc from 'fast-check';
import { settled } from './settled';

const numbers = fc.double({ noNaN: true, noDefaultInfinity: true });
const limits = fc
  .tuple(fc.integer({ min: -1_000, max: 0 }), fc.integer({ min: 0, max: 1_000 }), fc.boolean())
  .map(([min, max, mayBeEmpty]) => ({ min, max, mayBeEmpty }));

test('what is taken lies within the limits, is what was typed wherever that does, and is said where it is not', () => {
  fc.assert(
    fc.property(numbers, limits, (number, within) => {
      const { value, said } = settled(String(number), within);
      expect(value).toBeGreaterThanOrEqual(within.min);
      expect(value).toBeLessThanOrEqual(within.max);
      // By value: a zero below zero is a zero.
      expect(value === number).toBe(said === '');
      // Taken once, it is taken again, and nothing is left to say.
      expect(settled(String(value), within)).toEqual({ value: Number(String(value)), said: '' });
    }),
  );
});

test('nothing but a number is taken, whatever is typed', () => {
  fc.assert(
    fc.property(fc.string(), limits, (typed, within) => {
      const { value, said } = settled(typed, within);
      const isEmpty = typed.trim() === '';
      if (isEmpty && within.mayBeEmpty) expect(value).toBeNull();
      else if (isEmpty || !Number.isFinite(Number(typed.trim().replace(',', '.'))))
        expect([value, said]).toEqual([undefined, 'That is no number: it stays as it was.']);
      else expect(typeof value).toBe('number');
    }),
  );
});

test('a limit that is not named is none; a comma is a point', () => {
  expect(settled('1e9', { min: 0, mayBeEmpty: false }).value).toBe(1e9);
  expect(settled('-5', { max: 3, mayBeEmpty: false }).value).toBe(-5);
  expect(settled('2,5', { mayBeEmpty: false }).value).toBe(2.5);
});
