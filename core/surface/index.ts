/** Surfaces, their controls, and what these send and take. */
import { HARROW_8 } from './stock/harrow8.js';
import type { Surface } from './surface.js';

export * from './pattern.js';
export * from './receiver.js';
export * from './sender.js';
export * from './surface.js';
export { HARROW_8 };

/** The surfaces that ship with Rondo, by id. */
export const STOCK_SURFACES: ReadonlyMap<string, Surface> = new Map(
  [HARROW_8].map((surface) => [surface.id, surface]),
);
