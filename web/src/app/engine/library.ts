import { HOST_MODELS } from '@rondo/core/host';
import type { Library } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';

/** The surfaces and hosts that ship with Rondo. */
export const LIBRARY: Library = {
  surface: (id) => STOCK_SURFACES.get(id),
  host: (id) => HOST_MODELS.get(id),
};
