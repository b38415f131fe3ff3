import type { PlanDraft } from './draft.js';
import type { FocusPlan } from './slot-plan.js';

/** Parameters in the order wanted; those that the order does not name follow. */
function orderOf(parameters: readonly string[], order: readonly string[] | undefined): string[] {
  const wanted = (order ?? []).filter((id) => parameters.includes(id));
  return [...wanted, ...parameters.filter((id) => !wanted.includes(id))];
}

/** Finds the parameters of what can have focus in each host. */
export function addFocuses(draft: PlanDraft): FocusPlan[] {
  const widths = new Map<string, number>();
  for (const key of draft.profile.bindingOrder)
    for (const action of draft.profile.bindings[key].actions)
      if (action.do === 'function' && action.scope.kind === 'focus')
        widths.set(action.host, Math.max(widths.get(action.host) ?? 0, action.scope.slot + 1));
  return draft.profile.hostOrder.flatMap((id) => {
    const model = draft.library.host(draft.profile.hosts[id].model);
    const slot = model?.focus ? draft.slotBase.get(`${id}/${model.focus.function}`) : undefined;
    if (!model?.focus || slot === undefined) return [];
    draft.focusIndex.set(id, draft.focusIndex.size);
    const orders = draft.profile.focusOrders?.[id] ?? {};
    return [
      {
        link: draft.linkIndex.get(`host:${id}`) ?? -1,
        slot,
        tables: model.focus.items.map(({ label, parameters }) =>
          Int32Array.from(
            orderOf(parameters, orders[label]).flatMap((fn) => {
              const base = draft.slotBase.get(`${id}/${fn}`);
              if (base === undefined) return [];
              const own = draft.slots[base].strip < 0;
              return [own ? base : base + model.strips.length];
            }),
          ),
        ),
        labels: model.focus.items.map(({ label }) => label),
        width: Math.max(1, widths.get(id) ?? 8),
      },
    ];
  });
}
