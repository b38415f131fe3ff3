import { HOST_MODELS, hostNamed, modelOfHost, type MessageHost } from '@rondo/core/host';
import type { Library } from '@rondo/core/round';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';

/** What the user has made, by id; null for what is known to be gone. */
export interface Own {
  readonly surfaces: Readonly<Record<string, Surface | null>>;
  readonly hosts: Readonly<Record<string, MessageHost | null>>;
}
export const NOTHING_OWN: Own = { surfaces: {}, hosts: {} };

/** A library of hosts and surfaces: those that ship with Rondo, and the user's own. */
export function libraryWith({ surfaces, hosts }: Own): Library {
  const surface = (id: string) =>
    STOCK_SURFACES.get(id) ??
    (Object.hasOwn(surfaces, id) ? (surfaces[id] ?? undefined) : undefined);
  const known = (id: string) => {
    const own = Object.hasOwn(hosts, id) ? hosts[id] : null;
    return HOST_MODELS.get(id) ?? (own ? modelOfHost(own) : undefined);
  };
  return { surface, host: (id) => hostNamed(id, known, surface) };
}
