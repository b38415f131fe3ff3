import { pinnedFirst } from '@rondo/core/profile';
import type { PlanDraft } from './draft.js';
import { FOCUS } from './aim.js';
import type { BindingPlan } from './binding-plan.js';

/** A binding of the user's own that focus does not take. */
const isPinned = (draft: PlanDraft, { id }: BindingPlan): boolean =>
  Object.hasOwn(draft.profile.bindings, id) && draft.profile.bindings[id].pinned === true;

/**
 * Puts the bindings of one gesture in the order in which they may count, in place: topmost layer first, those with
 * conditions before those without; what stands in for another surface last, what follows the focus after what is pinned.
 * @param standing bindings by which a surface stands in for another
 */
export function rankCandidates(
  draft: PlanDraft,
  list: number[],
  bindings: readonly BindingPlan[],
  standing: ReadonlySet<number>,
): void {
  if (list.length < 2) return;
  const rank = (index: number): number => {
    const { layer, when } = bindings[index];
    return standing.has(index) ? -1 : layer * 2 + (when.length > 0 ? 1 : 0);
  };
  // The order within a layer is the profile's: sorting keeps it.
  list.sort((a, b) => rank(b) - rank(a));
  const follows = (index: number) => bindings[index].shows?.strips === FOCUS;
  const order = pinnedFirst(list, (index) => isPinned(draft, bindings[index]), follows);
  list.splice(0, list.length, ...order);
}
