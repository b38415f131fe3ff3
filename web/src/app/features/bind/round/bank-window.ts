import { stripsOf } from '@rondo/core/propose';
import type { Names } from '../names';

/** Strips of the bank window where no surface has strips to count. */
export const WINDOW = 8;

/** How wide the bank window is, and at which of its strips an extender begins: each unit goes on where the last ends. */
export function unitsOf(names: Names): {
  readonly width: number;
  readonly first: Map<string, number>;
} {
  const { surfaceOrder } = names.profile;
  const first = new Map<string, number>();
  let width = 0;
  for (const id of surfaceOrder) {
    const surface = names.surface(id);
    const strips = surface ? Math.max(0, ...[...stripsOf(surface).values()].map((n) => n + 1)) : 0;
    const isSide = surface?.device.desk === 'extender';
    first.set(id, isSide ? width : 0);
    if (strips) width = isSide ? width + strips : Math.max(width, strips);
  }
  return { width: width || WINDOW, first };
}

/** Strips that one window of the bank shows: the desk's, and those of what extends it. */
export const windowOf = (names: Names): number => unitsOf(names).width;
