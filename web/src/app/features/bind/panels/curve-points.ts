import type { Shape } from '@rondo/core/profile';
import { shaperOf } from '@rondo/core/round';

/** Where something stands in a field of control in, function out: both 0…1. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** Where the points of a drawn curve stand; none of another curve. */
export function pointsOf(shape: Shape): Place[] {
  if (shape.curve?.kind !== 'drawn') return [];
  const shaper = shaperOf(shape);
  return shape.curve.points.map(({ x }) => ({ x, y: shaper.at(x) }));
}

/** A point of a drawn curve for a place in the field; a place beyond the range goes to its end. */
export function pointFor(shape: Shape, { x, y }: Place): Place {
  const { low, high, invert } = shaperOf(shape);
  const share = high === low ? 0 : Math.max(0, Math.min(1, (y - low) / (high - low)));
  // Inverted, the curve's top is the low end of the range.
  return { x: Math.round(x * 1_000) / 1_000, y: invert ? 1 - share : share };
}
