import type { z } from 'zod';
import { SURFACE_FORMAT, SURFACE_VERSION, type Surface, type surfaceSchema } from '../surface.js';

/**
 * A surface that ships with Rondo, with what its schema would fill in where it is left out. The schema itself is asked in
 * the tests, once for all, and not at each start of a page, a worker or a server.
 */
export function stock(drawn: z.input<typeof surfaceSchema>): Surface {
  const { device = {}, controls, ...rest } = drawn;
  return {
    format: SURFACE_FORMAT,
    version: SURFACE_VERSION,
    about: '',
    pages: [],
    ...rest,
    device: {
      sends: true,
      takes: true,
      wire: 'usb',
      bytesPerSecond: 60_000,
      sysexPause: 0,
      palette: [],
      notes: [],
      ...device,
    },
    controls: controls.map(({ pages, ...control }) => ({
      sends: {},
      takes: {},
      ...control,
      ...(pages && {
        pages: Object.fromEntries(
          Object.entries(pages).map(([id, page]) => [id, { sends: {}, takes: {}, ...page }]),
        ),
      }),
    })),
  } as Surface;
}
