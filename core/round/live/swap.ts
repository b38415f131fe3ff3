import type { Plan } from '../plan/plan.js';
import type { Round } from '../round.js';
import { carryAll, type Moves } from './columns.js';
import { sizesOf } from './moves.js';
import { NO_GRIP, STATE, freshState, type State } from './state.js';

/** Lets go of what bindings hold down that the new plan no longer has as they were, and of parts that say it otherwise now. */
export function letGoOfChanged(round: Round, { binding, part, route }: Moves): void {
  round.plan.parts.forEach((_, p) => {
    if (part.now[p] < 0) round.hands.letGo(p);
  });
  round.plan.routes.forEach((_, r) => {
    if (route.now[r] < 0) round.passOn.endRoute(r);
  });
  round.plan.parts.forEach((_, p) => {
    const runs = round.state.running[p];
    if (runs >= 0 && binding.now[runs] < 0) round.hands.gestures.stop(p);
  });
  round.plan.bindings.forEach((run, b) => {
    if (binding.now[b] < 0 && round.holds.holds(run)) round.holds.letGoOf(run);
  });
  round.layerChanges.apply();
  round.pump();
}

/** The live state of a round, by key, as it goes on under another plan. */
export function carriedTo(plan: Plan, before: Round, moves: Moves): State {
  const state = freshState(sizesOf(plan));
  carryAll(STATE, before.state, state, moves);
  plan.parts.forEach(({ candidates }, part) => {
    // What a touched control means is asked again where something else is bound to it now.
    const from = moves.part.was[part];
    if (from < 0 || state.grip[part] >= 0 || state.grip[part] === NO_GRIP) return;
    const ids = (of: Plan, list: readonly (readonly number[])[]) =>
      list.flat().map((binding) => of.bindings[binding].id);
    const was = ids(before.plan, before.plan.parts[from].candidates);
    if (String(was) !== String(ids(plan, candidates))) state.grip[part] = NO_GRIP;
  });
  return state;
}
