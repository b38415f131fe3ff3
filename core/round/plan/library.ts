import type { HostModel } from '@rondo/core/host';
import type { Surface } from '@rondo/core/surface';

/** What a profile needs to know of the world to be compiled. */
export interface Library {
  surface(modelId: string): Surface | undefined;
  host(modelId: string): HostModel | undefined;
}
