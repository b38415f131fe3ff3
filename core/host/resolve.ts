import type { Surface } from '@rondo/core/surface';
import type { HostModel } from './catalogue.js';
import { expectedBy, expectingOnce } from './expected.js';

/**
 * The model of a host by its id: one that ships with Rondo or is the user's own, or the program that expects certain
 * surfaces; undefined where it, or one of those surfaces, is not there.
 */
export function hostNamed(
  id: string,
  known: (id: string) => HostModel | undefined,
  surface: (id: string) => Surface | undefined,
): HostModel | undefined {
  const expected = expectedBy(id);
  if (!expected) return known(id);
  const units = expected.flatMap((unit) => surface(unit) ?? []);
  return units.length === expected.length && units.length > 0 ? expectingOnce(units) : undefined;
}
