import type { Destination } from '@rondo/core/profile';
import type { PlanDraft } from './draft.js';
import { KIND_BITS } from './plan.js';

/** Joins surfaces to where their messages go on to, and to the hosts before which they stand in for a desk. */
export function joinOnward(draft: PlanDraft, ids: readonly string[]): void {
  ids.forEach((id, link) => {
    const { onward, standsIn } = draft.profile.surfaces[id];
    const before = standsIn && draft.linkIndex.get(`host:${standsIn.host}`);
    if (before !== undefined) {
      const [first] = standsIn?.pairs ?? [];
      draft.links[link] = { ...draft.links[link], standsBefore: before + (first?.unit ?? 0) };
    }
    const to = onward && destination(draft, onward.to);
    // What is OSC says nothing to MIDI, nor the other way round.
    if (to === undefined || to < 0 || !onward || draft.links[to].isOsc !== draft.links[link].isOsc)
      return;
    const kinds = onward.kinds.reduce((bits, kind) => bits | KIND_BITS[kind], 0);
    draft.links[link] = { ...draft.links[link], onward: { link: to, kinds } };
  });
}

/** The link of a host's first unit, or of a surface; −1 where it is not in the profile. */
export function destination(draft: PlanDraft, to: Destination): number {
  const key = 'host' in to ? `host:${to.host as string}` : `surface:${to.surface as string}`;
  return draft.linkIndex.get(key) ?? -1;
}
