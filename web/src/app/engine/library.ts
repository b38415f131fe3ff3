import { HOST_MODELS } from '@rondo/core/host';
import type { Library } from '@rondo/core/round';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';

/** Surfaces of the user's own by id; null for those that are known to be gone. */
export type OwnSurfaces = Readonly<Record<string, Surface | null>>;

/** A library of hosts and surfaces: those that ship with Rondo, and the user's own. */
export const libraryWith = (own: OwnSurfaces): Library => ({
  surface: (id) =>
    STOCK_SURFACES.get(id) ?? (Object.hasOwn(own, id) ? (own[id] ?? undefined) : undefined),
  host: (id) => HOST_MODELS.get(id),
});
