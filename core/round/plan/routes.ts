import { endKey, loopsOf, type Destination } from '@rondo/core/profile';
import type { PlanDraft } from './draft.js';
import { KIND_BITS, type RoutePlan } from './link-plan.js';

/** Joins surfaces to the hosts before which they stand in for a desk. */
export function joinStandIns(draft: PlanDraft, ids: readonly string[]): void {
  ids.forEach((id, link) => {
    const { standsIn } = draft.profile.surfaces[id];
    const before = standsIn && draft.linkIndex.get(`host:${standsIn.host}`);
    if (before === undefined) return;
    const [first] = standsIn?.pairs ?? [];
    draft.links[link] = { ...draft.links[link], standsBefore: before + (first?.unit ?? 0) };
  });
}

/** The link of a host's first unit, or of a surface; −1 where it is not in the profile. */
export function destination(draft: PlanDraft, to: Destination): number {
  return draft.linkIndex.get(endKey(to)) ?? -1;
}

/**
 * The routes that can be gone along: both ends are there and speak alike, and no message comes back to where it came from.
 */
export function compileRoutes(draft: PlanDraft): RoutePlan[] {
  const loops = loopsOf(draft.profile);
  return draft.profile.routeOrder.flatMap((id) => {
    const route = draft.profile.routes[id];
    const [from, to] = [destination(draft, route.from), destination(draft, route.to)];
    // What is OSC says nothing to MIDI, nor the other way round.
    if (from < 0 || to < 0 || draft.links[from].isOsc !== draft.links[to].isOsc) return [];
    if (loops.has(id)) return [];
    return [
      {
        id,
        from,
        to,
        kinds: route.kinds.reduce((bits, kind) => bits | KIND_BITS[kind], 0),
        channels: route.channels?.reduce((bits, one) => bits | (1 << (one - 1)), 0) ?? 0xffff,
        low: route.notes?.from ?? 0,
        high: route.notes?.to ?? 127,
        shift: route.transpose ?? 0,
        channel: (route.channel ?? 0) - 1,
        rest: route.rest ?? false,
      },
    ];
  });
}
