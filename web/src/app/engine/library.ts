import {
  HOST_MODELS,
  expectedBy,
  hostNamed,
  modelOfHost,
  type MessageHost,
} from '@rondo/core/host';
import type { Profile } from '@rondo/core/profile';
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

/** The user's own surfaces and hosts that a profile names, those that its programs expect among them. */
export function idsOf(profile: Profile): { surfaces: string[]; hosts: string[] } {
  const models = profile.hostOrder.map((id) => profile.hosts[id].model);
  const surfaces = [
    ...profile.surfaceOrder.map((id) => profile.surfaces[id].model),
    ...models.flatMap((model) => expectedBy(model) ?? []),
  ];
  return {
    surfaces: [...new Set(surfaces)].filter((id) => !STOCK_SURFACES.has(id)),
    hosts: [...new Set(models)].filter((id) => !HOST_MODELS.has(id) && expectedBy(id) === null),
  };
}
