import { HOST_MODELS } from '@rondo/core/host';
import type { Library } from '@rondo/core/round';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';

/** A surface without the limits of any wire: every message must come out. */
export const unlimited = (surface: Surface): Surface => ({
  ...surface,
  device: { ...surface.device, bytesPerSecond: Infinity },
});

/** All stock surfaces and hosts without the limits of their wires. */
export const unlimitedLibrary: Library = {
  surface: (id) => {
    const surface = STOCK_SURFACES.get(id);
    return surface && unlimited(surface);
  },
  host: (id) => {
    const host = HOST_MODELS.get(id);
    return host && { ...host, bytesPerSecond: Infinity };
  },
};
