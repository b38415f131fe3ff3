import type { OutputRef, Scope } from '@rondo/core/profile';
import { STANDS_IN } from '@rondo/core/profile';
import { PART_NAMES, type ReturnSettings } from '@rondo/core/surface';
import { resolveAim, conditionsOf, resolveTarget } from './aims.js';
import type { PlanDraft } from './draft.js';
import type { SurfaceParts } from './surfaces.js';
import { usualReturns } from './look-book.js';
import { type Aim, FOCUS } from './aim.js';
import type { BindingPlan } from './binding-plan.js';
import type { ShownHere } from './out-plan.js';
import { GestureAt, partKey } from './part-plan.js';

/** Texts are shown as the program writes them. */
const AS_TOLD: ReturnSettings = { upper: '{value}', lower: '{value}' };

/** What comes back of what is aimed at where nobody says otherwise. */
export function usualOf(draft: PlanDraft, aim: Aim | null): ReturnSettings | undefined {
  if (!aim || aim.base < 0 || aim.strips === FOCUS) return undefined;
  return usualReturns(draft.slots[aim.base].fn);
}

const NO_ACTIONS: BindingPlan['actions'] = [];

/** Showings as bindings that nothing triggers; where each output shows them, the highest layer first. */
export function compileShowings(
  draft: PlanDraft,
  bindings: BindingPlan[],
  parts: SurfaceParts,
  standing: readonly { readonly out: OutputRef; readonly aim: Aim }[],
): Map<number, ShownHere[]> {
  const shownAt = new Map<number, ShownHere[]>();
  const add = (out: number, shown: ShownHere) =>
    shownAt.set(out, [...(shownAt.get(out) ?? []), shown]);
  const showing = (
    id: string,
    layer: number,
    aim: Aim,
    of: Pick<BindingPlan, 'when' | 'showsName' | 'showsMeter' | 'returns'>,
  ): BindingPlan => ({
    ...of,
    first: 0,
    count: 0,
    actions: NO_ACTIONS,
    id,
    layer,
    part: -1,
    gesture: GestureAt.Press,
    passOn: false,
    shows: aim,
    shown: -1,
    lit: [0.5, Infinity],
    usual: usualOf(draft, aim),
  });
  for (const key of draft.profile.showingOrder) {
    const shows = draft.profile.showings[key];
    const of = { binding: '', layer: shows.layer, showing: key };
    const layer = draft.layerIndex.get(shows.layer);
    const when = conditionsOf(draft, shows.when, of);
    const aim = resolveTarget(draft, shows.shows, of);
    if (layer === undefined)
      draft.say({ ...of, what: 'layer', why: 'A showing is on a layer that is not there.' });
    if (layer === undefined || when === null || !aim) continue;
    const target = 'host' in shows.shows ? shows.shows : null;
    const other = (fn: string) =>
      target && aim.strips !== FOCUS
        ? resolveAim(draft, target.host as string, fn, target.scope as Scope)
        : null;
    const binding = bindings.length;
    bindings.push(
      showing(`showing:${key}`, layer, aim, {
        when,
        showsName: other('name'),
        showsMeter: other('meter'),
        returns: shows.returns,
      }),
    );
    const count = shows.on.length;
    shows.on.forEach(({ surface, control, part }, at) => {
      const out = parts.outAt(surface, control, part);
      if (out === undefined) {
        const where = Object.hasOwn(draft.profile.surfaces, surface)
          ? draft.profile.surfaces[surface].label
          : surface;
        draft.say({
          ...of,
          what: 'control',
          why: `There is no ${PART_NAMES[part]} of ${control} on ${where} to show it on.`,
        });
        return;
      }
      const place = shows.spread === 'row' ? at : -1;
      add(out, { binding, place, count });
    });
  }
  const rank = ({ binding }: ShownHere): number =>
    bindings[binding].layer * 2 + (bindings[binding].when.length > 0 ? 1 : 0);
  for (const list of shownAt.values()) list.sort((a, b) => rank(b) - rank(a));
  // What stands in for another surface comes last.
  for (const { out, aim } of standing) {
    const at = parts.outAt(out.surface, out.control, out.part);
    if (at === undefined) continue;
    const binding = bindings.length;
    const of = { when: [], showsName: null, showsMeter: null, returns: AS_TOLD };
    bindings.push(
      showing(`${STANDS_IN}${partKey(out.surface, out.control, out.part)}`, 0, aim, of),
    );
    add(at, { binding, place: -1, count: 1 });
  }
  return shownAt;
}
