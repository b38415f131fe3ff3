import fc from 'fast-check';
import { proposePairs, type Movement } from './pairs.js';

/** A movement of several steps, 50 ms apart. */
const moves = (
  what: string,
  from: number,
  switches = false,
  steps = switches ? 1 : 8,
): Movement[] => Array.from({ length: steps }, (_, n) => ({ t: from + n * 50, what, switches }));
const names = (pairs: ReturnType<typeof proposePairs>) =>
  pairs.map((pair) => `${pair.control}-${pair.function}`);

test('by turns, in either order, with hands of any pace', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          first: fc.boolean(),
          pause: fc.integer({ min: 1_000, max: 2_500 }),
          think: fc.integer({ min: 0, max: 700 }),
        }),
        { minLength: 1, maxLength: 8 },
      ),
      (steps) => {
        const controls: Movement[] = [];
        const functions: Movement[] = [];
        let t = 0;
        // Who moves a control first, or the function, keeps to it.
        const [{ first }] = steps;
        steps.forEach(({ pause, think }, n) => {
          const [a, b] = first ? [controls, functions] : [functions, controls];
          const [x, y] = first ? ['c', 'f'] : ['f', 'c'];
          a.push(...moves(`${x}${n}`, t));
          t += 400 + think;
          b.push(...moves(`${y}${n}`, t));
          t += 400 + pause;
        });
        expect(names(proposePairs(controls, functions))).toEqual(
          steps.map((_, n) => `c${n}-f${n}`),
        );
      },
    ),
  );
});

test('all controls first, then as many functions', () => {
  const controls = [0, 1, 2].flatMap((n) => moves(`c${n}`, n * 2_000));
  const functions = [0, 1, 2].flatMap((n) => moves(`f${n}`, 20_000 + n * 2_000));
  expect(names(proposePairs(controls, functions))).toEqual(['c0-f0', 'c1-f1', 'c2-f2']);
});

test('something touched by mistake stays alone, and a correction counts', () => {
  const controls = [
    ...moves('c0', 0),
    ...moves('slip', 4_000, true),
    ...moves('c1', 9_000),
    ...moves('c0', 14_000),
  ];
  const functions = [...moves('f0', 1_000), ...moves('f1', 10_000), ...moves('f9', 15_000)];
  expect(names(proposePairs(controls, functions)).sort()).toEqual(['c0-f9', 'c1-f1']);
});

test('a slide and a switch are paired with less confidence', () => {
  const [like] = proposePairs(moves('c', 0), moves('f', 600));
  const [unlike] = proposePairs(moves('c', 0), moves('f', 600, true));
  expect(unlike.confidence).toBeLessThan(like.confidence);
  expect(proposePairs(moves('c', 0), [])).toEqual([]);
});
