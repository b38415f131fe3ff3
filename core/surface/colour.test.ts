import fc from 'fast-check';
import { contrast } from '../testing/wcag.js';
import { dimmed, inkOn } from './colour.js';

const colour = fc
  .integer({ min: 0, max: 0xffffff })
  .map((n) => `#${n.toString(16).padStart(6, '0')}`);

test('whatever colour a light has, and however dim it is, what is written on it can be read (WCAG 2.2, 1.4.3)', () => {
  fc.assert(
    fc.property(colour, fc.double({ min: 0, max: 1, noNaN: true }), (full, brightness) => {
      const lamp = dimmed(full, brightness);
      expect(contrast(inkOn(lamp), lamp)).toBeGreaterThanOrEqual(4.5);
    }),
    { numRuns: 1000 },
  );
});

test('on bright lights it is the panel’s own dark ink', () => {
  for (const bright of ['#ffffff', '#f59e0b', '#22c55e']) expect(inkOn(bright)).toBe('#221a08');
});
