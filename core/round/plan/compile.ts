import type { Profile } from '@rondo/core/profile';
import { groupsOf } from './actions.js';
import { compileBindings } from './bindings.js';
import { compileLayers } from './compile-layers.js';
import { PlanDraft } from './draft.js';
import { addFocuses } from './focuses.js';
import { addHosts } from './hosts.js';
import { outPlans } from './outputs.js';
import { addOwnSlots } from './own-slots.js';
import { partPlans } from './parts.js';
import { FOCUS } from './aim.js';
import type { Library } from './library.js';
import type { Plan } from './plan.js';
import { compileRoutes, joinStandIns } from './routes.js';
import { compileShowings } from './showings.js';
import { addSurfaces } from './surfaces.js';
import { tablesOf } from './tables.js';

/**
 * Makes a profile ready to run, a slice of work at a time, so that traffic need not wait for all of it. What refers to
 * what is not there, or cannot work where it is, is kept in the profile, listed in `broken` and does nothing.
 */
export function* compileInSlices(profile: Profile, library: Library): Generator<void, Plan> {
  const draft = new PlanDraft(profile, library);
  const parts = addSurfaces(draft);
  yield;
  addHosts(draft);
  yield;
  addOwnSlots(draft);
  joinStandIns(
    draft,
    parts.surfaces.map(({ id }) => id),
  );
  const focuses = addFocuses(draft);
  const compiled = yield* compileBindings(draft, parts);
  const { bindings, causes, candidates, shown } = compiled;
  yield;
  const layers = compileLayers(draft, parts.surfaces);
  const shownAt = compileShowings(draft, bindings, parts, shown);
  yield;
  const partList = partPlans(parts, candidates);
  yield;
  const outs = outPlans(parts, candidates, shownAt);
  yield;
  const windowed = draft.actions.flatMap(({ aim }) =>
    aim && aim.strips !== FOCUS && aim.offset >= 0 ? [aim.offset] : [],
  );
  const untabled = {
    profileId: profile.id,
    profileName: profile.name,
    returns: profile.returns,
    times: profile.hostOrder.flatMap((id) => {
      const link = draft.linkIndex.get(`host:${id}`);
      if (link === undefined) return [];
      const slot = (fn: string) => draft.slotBase.get(`${id}/${fn}`) ?? -1;
      return [{ link, time: slot('time'), tempo: slot('tempo') }];
    }),
    links: draft.links,
    routes: compileRoutes(draft),
    parts: partList,
    outs,
    slots: draft.slots,
    actions: draft.actions,
    bindings,
    causes,
    layers,
    flags: profile.flagOrder.map((id) => ({
      id,
      slot: draft.flagSlots.get(id) ?? -1,
      initially: profile.flags[id].initially ?? false,
    })),
    focuses,
    groups: groupsOf(draft),
    strips: Math.max(0, ...draft.hostStrips.values()),
    window: windowed.reduce((most, offset) => Math.max(most, offset), -1) + 1,
    broken: draft.broken,
    clamped: draft.clamped,
  };
  yield;
  return { ...untabled, tables: yield* tablesOf(untabled) };
}

/** {@link compileInSlices} in one go. */
export function compile(profile: Profile, library: Library): Plan {
  const slices = compileInSlices(profile, library);
  for (;;) {
    const { done, value } = slices.next();
    if (done) return value;
  }
}
