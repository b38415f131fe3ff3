import { dequal } from 'dequal';
import type { BindingPlan } from '../plan/binding-plan.js';
import type { RoutePlan } from '../plan/link-plan.js';
import type { OutPlan } from '../plan/out-plan.js';
import type { PartPlan } from '../plan/part-plan.js';
import type { Plan } from '../plan/plan.js';
import type { SlotPlan } from '../plan/slot-plan.js';
import type { Move, Moves, Sizes } from './columns.js';

/** How many of each family a plan has. */
export const sizesOf = (plan: Plan): Sizes => ({
  one: 1,
  link: plan.links.length,
  part: plan.parts.length,
  out: plan.outs.length,
  slot: plan.slots.length,
  binding: plan.bindings.length,
  action: plan.actions.length,
  layer: plan.layers.length,
  cause: plan.causes.length,
  route: plan.routes.length,
  focusItem: plan.focuses.reduce((sum, { labels }) => sum + labels.length, 0),
});

const STAYS: Move = { was: Int32Array.of(0), now: Int32Array.of(0), stays: true };

/** Finds what was there before again by its key, where it still is the same. */
function moveOf<Item>(
  before: readonly Item[],
  after: readonly Item[],
  keyOf: (item: Item) => string,
  isSame: (was: Item, is: Item) => boolean = () => true,
): Move {
  const was = new Int32Array(after.length).fill(-1);
  const now = new Int32Array(before.length).fill(-1);
  let stays = before.length === after.length;
  let places: Map<string, number> | null = null;
  after.forEach((item, i) => {
    const key = keyOf(item);
    let from = -1;
    // Most edits move nothing.
    if (i < before.length && keyOf(before[i]) === key) from = i;
    else {
      places ??= new Map(before.map((other, at) => [keyOf(other), at]));
      from = places.get(key) ?? -1;
    }
    if (from !== i) stays = false;
    if (from < 0) return;
    if (!isSame(before[from], item)) {
      stays = false;
      return;
    }
    was[i] = from;
    now[from] = i;
  });
  return { was, now, stays };
}

const alike = (a: unknown, b: unknown): boolean => a === b || dequal(a, b);

/** Its messages mean the same: what was half pressed can still be let go. */
const samePart = (was: PartPlan, is: PartPlan): boolean =>
  was.moves === is.moves && was.latching === is.latching && alike(was.patterns, is.patterns);

const sameOut = (was: OutPlan, is: OutPlan): boolean =>
  was.shows === is.shows && alike(was.patterns, is.patterns);

const sameSlot = (was: SlotPlan, is: SlotPlan): boolean =>
  was.fn === is.fn ||
  (was.fn.kind === is.fn.kind && alike(was.set, is.set) && alike(was.report, is.report));

/** Actions belong to their binding; those of layers hold nothing and are left. */
function actionMove(old: Plan, plan: Plan, bindings: Move): Move {
  const was = new Int32Array(plan.actions.length).fill(-1);
  const now = new Int32Array(old.actions.length).fill(-1);
  plan.bindings.forEach(({ first, count }, binding) => {
    const from = bindings.was[binding];
    if (from < 0) return;
    for (let n = 0; n < count; n++) {
      was[first + n] = old.bindings[from].first + n;
      now[old.bindings[from].first + n] = first + n;
    }
  });
  return { was, now, stays: false };
}

/**
 * Where everything of one plan stands in another. What an edit has changed counts as new: a control whose message is
 * another one, a function that is set by another, a binding that does something else.
 */
export function movesBetween(old: Plan, plan: Plan): Moves {
  const part = moveOf(old.parts, plan.parts, ({ key }) => key, samePart);
  // What is called alike in another profile is another thing: of one only devices and hosts go on in the next.
  const isOne = old.profileId === plan.profileId;
  const sameBinding = (was: BindingPlan, is: BindingPlan): boolean =>
    isOne &&
    was.gesture === is.gesture &&
    (was.part < 0 ? is.part < 0 : part.now[was.part] === is.part) &&
    alike(was.actions, is.actions);
  const binding = moveOf(old.bindings, plan.bindings, ({ id }) => id, sameBinding);
  const items = ({ focuses, links }: Plan) =>
    focuses.flatMap(({ link, labels }) => labels.map((label) => `${links[link].key} ${label}`));
  const causes = (of: Plan) =>
    of.causes.map(({ binding: at, when }) => `${when} ${of.bindings[at].id}`);
  const ends = ({ links }: Plan, { from, to }: RoutePlan) => [links[from].key, links[to].key];
  const sameRoute = (was: RoutePlan, is: RoutePlan): boolean =>
    isOne &&
    alike(ends(old, was), ends(plan, is)) &&
    alike({ ...was, from: 0, to: 0 }, { ...is, from: 0, to: 0 });
  const itself = (key: string) => key;
  return {
    one: STAYS,
    link: moveOf(old.links, plan.links, ({ key }) => key),
    part,
    out: moveOf(old.outs, plan.outs, ({ key }) => key, sameOut),
    slot: moveOf(
      old.slots,
      plan.slots,
      ({ key }) => key,
      (was, is) => (isOne || is.link >= 0) && sameSlot(was, is),
    ),
    binding,
    action: actionMove(old, plan, binding),
    layer: moveOf(
      old.layers,
      plan.layers,
      ({ id }) => id,
      () => isOne,
    ),
    route: moveOf(old.routes, plan.routes, ({ id }) => id, sameRoute),
    cause: moveOf(causes(old), causes(plan), itself, () => isOne),
    focusItem: moveOf(items(old), items(plan), itself),
  };
}
