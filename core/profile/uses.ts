import { HOST_MODELS, expectedBy } from '@rondo/core/host';
import { STOCK_SURFACES } from '@rondo/core/surface';
import type { Profile } from './profile.js';

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
