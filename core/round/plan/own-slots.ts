import type { HostFunction } from '@rondo/core/host';
import type { PlanDraft } from './draft.js';

const toggleFunction = (id: string, label: string): HostFunction => ({
  id,
  label,
  words: [],
  category: 'Actions',
  kind: 'toggle',
  law: 'switch',
  rest: 0,
  per: 'host',
  messages: [{}],
});

/** Layers and flags are values like those of hosts, so that lights and conditions need know no difference. */
export function addOwnSlots(draft: PlanDraft): void {
  const add = (key: string, label: string): number => {
    draft.slots.push({
      key: `rondo/${key}`,
      address: key,
      link: -1,
      local: -1,
      fn: toggleFunction(key, label),
      law: 'switch',
      strip: -1,
      exists: true,
      set: undefined,
      report: undefined,
      settable: true,
      reports: true,
      toggleOnly: false,
      taps: false,
      touch: -1,
      needs: -1,
      armed: -1,
      waits: -1,
    });
    return draft.slots.length - 1;
  };
  draft.profile.layerOrder.forEach((id, index) => {
    const { label, group } = draft.profile.layers[id];
    draft.layerIndex.set(id, index);
    draft.layerSlots.set(id, add(`layer:${id}`, label));
    if (group !== undefined)
      draft.layerGroups.set(group, [...(draft.layerGroups.get(group) ?? []), index]);
  });
  for (const id of draft.profile.flagOrder)
    draft.flagSlots.set(id, add(`flag:${id}`, draft.profile.flags[id].label));
}
