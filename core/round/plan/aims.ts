import { SELECTED } from '@rondo/core/host';
import type { Condition, Scope, Target } from '@rondo/core/profile';
import type { PlanDraft } from './draft.js';
import { type Aim, type ConditionPlan, FOCUS } from './aim.js';
import type { Broken } from './binding-plan.js';

/** An aim at nothing. */
export const NOWHERE: Aim = { base: -1, offset: -1, strips: 0 };

/** Where a function of a host is found; null where there is none such. */
export function resolveAim(
  draft: PlanDraft,
  host: string,
  functionId: string,
  scope: Scope,
): Aim | null {
  if (scope.kind === 'focus') {
    const table = draft.focusIndex.get(host);
    return table === undefined ? null : { base: table, offset: scope.slot, strips: FOCUS };
  }
  const base = draft.slotBase.get(`${host}/${functionId}`);
  if (base === undefined) return null;
  const perStrip = draft.slots[base].strip >= 0;
  const strips = draft.hostStrips.get(host) ?? 0;
  if (scope.kind === 'host') return perStrip ? null : { base, offset: -1, strips };
  if (!perStrip) return null;
  if (scope.kind === 'selected')
    return draft.slots.at(base + strips)?.strip === SELECTED
      ? { base: base + strips, offset: -1, strips }
      : null;
  if (scope.kind === 'window') return { base, offset: scope.offset, strips };
  return scope.strip < strips ? { base: base + scope.strip, offset: -1, strips } : null;
}

/** Conditions made ready; null where one of them names what is not there. */
export function conditionsOf(
  draft: PlanDraft,
  conditions: readonly Condition[] | undefined,
  of: Omit<Broken, 'what' | 'why'>,
): ConditionPlan[] | null {
  const plans: ConditionPlan[] = [];
  for (const condition of conditions ?? []) {
    let aim: Aim | null;
    let value = 0.5;
    if ('flag' in condition) {
      const slot = draft.flagSlots.get(condition.flag as string);
      aim = slot === undefined ? null : { ...NOWHERE, base: slot };
      if (!aim)
        draft.say({ ...of, what: 'flag', why: 'A condition names a flag that is not there.' });
    } else if ('layer' in condition) {
      const slot = draft.layerSlots.get(condition.layer as string);
      aim = slot === undefined ? null : { ...NOWHERE, base: slot };
      if (!aim)
        draft.say({ ...of, what: 'layer', why: 'A condition names a layer that is not there.' });
    } else {
      const { host, function: fn, scope, is } = condition;
      aim = resolveAim(draft, host, fn, scope);
      if (is === 'atLeast' || is === 'below') value = draft.share(condition.value ?? 0.5);
      if (!aim)
        draft.say({
          ...of,
          what: 'function',
          why: `A condition asks for ${fn}, which ${draft.hostName(host)} has not.`,
        });
    }
    if (!aim) return null;
    const above = condition.is === 'on' || condition.is === 'atLeast';
    plans.push({ aim, low: above ? value : -1, high: above ? Infinity : value });
  }
  return plans;
}

export function resolveTarget(
  draft: PlanDraft,
  target: Target,
  of: Omit<Broken, 'what' | 'why'>,
): Aim | null {
  if ('host' in target) {
    const { host, function: fn, scope } = target as Extract<Target, { function: string }>;
    const aim = resolveAim(draft, host, fn, scope);
    if (!aim)
      draft.say({
        ...of,
        what: 'function',
        why: `A showing shows ${fn}, which ${draft.hostName(host)} has not.`,
      });
    return aim;
  }
  const isLayer = 'layer' in target;
  const slot = isLayer
    ? draft.layerSlots.get(target.layer as string)
    : draft.flagSlots.get((target as { flag: string }).flag);
  if (slot !== undefined) return { ...NOWHERE, base: slot };
  const what = isLayer ? 'layer' : 'flag';
  draft.say({ ...of, what, why: `A showing shows a ${what} that is not there.` });
  return null;
}
