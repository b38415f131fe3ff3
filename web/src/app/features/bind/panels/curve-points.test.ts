import '@angular/compiler';
import fc from 'fast-check';
import type { Shape } from '@rondo/core/profile';
import { pointFor, pointsOf } from './curve-points';

const thousandth = fc.integer({ min: 0, max: 1_000 }).map((n) => n / 1_000);

test('a point of a drawn curve goes where it is dragged, inverted or not', () => {
  fc.assert(
    fc.property(
      fc.boolean(),
      fc.integer({ min: 0, max: 40 }).map((n) => n / 100),
      fc.integer({ min: 60, max: 100 }).map((n) => n / 100),
      thousandth,
      thousandth,
      (invert, low, high, x, share) => {
        const shape: Shape = { invert, low, high, curve: { kind: 'drawn', points: [] } };
        const to = { x, y: low + share * (high - low) };
        const points = [pointFor(shape, to), { x: 0.5, y: 0.5 }];
        fc.pre(Math.abs(points[0].x - 0.5) > 0.01);
        points.sort((a, b) => a.x - b.x);
        const drawn = points.map((point) => ({ ...point }));
        const now: Shape = { ...shape, curve: { kind: 'drawn', points: drawn } };
        const seen = pointsOf(now)[points[0].x === 0.5 ? 1 : 0];
        expect(seen.x).toBeCloseTo(to.x, 3);
        expect(seen.y).toBeCloseTo(to.y, 3);
      },
    ),
  );
});
