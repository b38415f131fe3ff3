import { pageIdsOf, usualFeel, type Surface } from '@rondo/core/surface';
import { addActions } from './actions.js';
import type { PlanDraft } from './draft.js';
import { circlesOf, setsAState } from './entering.js';
import { NO_CONTROL } from './feel-of-binding.js';
import type { LayerPlan, Run } from './binding-plan.js';

/** Makes layers ready, and what entering and leaving them does. */
export function compileLayers(
  draft: PlanDraft,
  surfaces: readonly { readonly id: string; readonly surface: Surface }[],
): LayerPlan[] {
  const circles = circlesOf(draft.profile);
  const groups = [...draft.layerGroups.keys()];
  return draft.profile.layerOrder.map((id): LayerPlan => {
    const layer = draft.profile.layers[id];
    const eventRun = (event: 'enter' | 'leave'): Run => {
      const actions = layer[event] ?? [];
      const of = { binding: '', layer: id };
      const run = addActions(draft, actions, of, usualFeel(NO_CONTROL), -1, null);
      actions.forEach((action, n) => {
        const at = run.first + n;
        const why = circles.has(action)
          ? `${layer.label} changes layers in a circle.`
          : setsAState(action)
            ? null
            : `What ${layer.label} does on ${event === 'enter' ? 'entering' : 'leaving'} would turn a state over. Set it on or off.`;
        if (why === null) return;
        draft.say({ ...of, what: circles.has(action) ? 'circle' : 'turnsOver', why });
        draft.actions[at] = { ...draft.actions[at], broken: true, why };
      });
      return run;
    };
    const page = layer.page;
    const surface = page && surfaces.find((s) => s.id === page.surface)?.surface;
    const number = surface && page ? pageIdsOf(surface).indexOf(page.page) : -1;
    if (page && number < 0)
      draft.say({
        binding: '',
        layer: id,
        what: 'control',
        why: `${layer.label} hangs on an onboard page that is not there.`,
      });
    return {
      id,
      label: layer.label,
      group: layer.group === undefined ? -1 : groups.indexOf(layer.group),
      slot: draft.layerSlots.get(id) ?? -1,
      page:
        page && number >= 0
          ? { link: draft.linkIndex.get(`surface:${page.surface}`) ?? -1, page: number }
          : null,
      enter: eventRun('enter'),
      leave: eventRun('leave'),
      returns: layer.returns,
    };
  });
}
