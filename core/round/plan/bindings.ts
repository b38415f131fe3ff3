import { GESTURES, type Binding } from '@rondo/core/profile';
import { PART_NAMES, feelKindOf, type FeelKind, type FeelSettings } from '@rondo/core/surface';
import { type ActsOn, addActions, groupNumber, litRange, shownAction } from './actions.js';
import { resolveAim, conditionsOf } from './aims.js';
import { rankCandidates } from './candidates.js';
import type { PlanDraft } from './draft.js';
import { NO_CONTROL, feelOfBinding } from './feel-of-binding.js';
import { usualOf } from './showings.js';
import { standInsOf, type StandingIn } from './stand-ins.js';
import type { Present, Sending, SurfaceParts } from './surfaces.js';
import { FOCUS } from './aim.js';
import type { BindingPlan, CausePlan } from './binding-plan.js';
import { GestureAt } from './part-plan.js';

/** Bindings that are made ready before traffic gets its turn again. */
const SLICE = 64;

/** What a binding hangs on, while its plan is made. */
interface Hanging {
  readonly binding: Binding;
  readonly layer: number;
  readonly part: number;
  readonly kind: FeelKind;
  readonly surfaceFeel: FeelSettings | undefined;
}

/** All bindings made ready. */
export interface CompiledBindings {
  readonly bindings: BindingPlan[];
  readonly causes: CausePlan[];
  /** By part: bindings of each gesture, the first that may count first. */
  readonly candidates: ReadonlyMap<number, number[][]>;
  /** Outputs that show what stands in for another surface. */
  readonly shown: StandingIn['shown'];
}

const actsOn = ({ moves, control }: Sending): ActsOn => ({
  mode: moves,
  clicks: control.detent === true,
});

/** Makes all bindings ready, those after which a surface stands in for another too. */
export function* compileBindings(
  draft: PlanDraft,
  parts: SurfaceParts,
): Generator<void, CompiledBindings> {
  const bindings: BindingPlan[] = [];
  const base = new Set<number>();
  const causes: CausePlan[] = [];
  const hangings: Hanging[] = [];
  for (const key of draft.profile.bindingOrder) {
    const binding = draft.profile.bindings[key];
    const of = { binding: key, layer: binding.layer };
    const layer = draft.layerIndex.get(binding.layer);
    if (layer === undefined) {
      draft.say({ ...of, what: 'layer', why: 'It is on a layer that is not there.' });
      continue;
    }
    const { control: ref } = binding;
    if (!ref) {
      hangings.push({ binding, layer, part: -1, kind: NO_CONTROL, surfaceFeel: undefined });
      continue;
    }
    const part = parts.partAt(ref.surface, ref.control, ref.part);
    if (part === undefined) {
      const surface = Object.hasOwn(draft.profile.surfaces, ref.surface)
        ? draft.profile.surfaces[ref.surface].label
        : ref.surface;
      draft.say({
        ...of,
        what: 'control',
        why: `There is no ${ref.control} to ${PART_NAMES[ref.part]} on ${surface}.`,
      });
      continue;
    }
    const { surface } = parts.of(ref.surface) as Present;
    const kind = feelKindOf(parts.input(ref.surface, part).control, surface.device.takes);
    hangings.push({ binding, layer, part, kind, surfaceFeel: surface.feel?.[kind] });
  }
  const own = hangings.length;
  const standing = standInsOf(draft, (id) => parts.of(id)?.surface);
  for (const { binding, surface } of standing.bindings) {
    const { control: ref } = binding as Required<Pick<Binding, 'control'>>;
    const part = parts.partAt(ref.surface, ref.control, ref.part) ?? -1;
    const kind = feelKindOf(parts.input(ref.surface, part).control, surface.device.takes);
    hangings.push({ binding, layer: 0, part, kind, surfaceFeel: surface.feel?.[kind] });
  }
  const candidates = new Map<number, number[][]>();
  for (const [at, { binding, layer, part, kind, surfaceFeel }] of hangings.entries()) {
    if (at % SLICE === SLICE - 1) yield;
    const of = { binding: binding.id, layer: binding.layer };
    const feel = feelOfBinding(draft, kind, surfaceFeel, binding);
    const when = conditionsOf(draft, binding.when, of);
    const group = groupNumber(draft, binding.group);
    const on = part < 0 ? null : actsOn(parts.input(binding.control?.surface ?? '', part));
    const run = addActions(draft, binding.actions, of, feel, group, on);
    const shown = shownAction(draft, run);
    const action = shown >= 0 ? draft.actions[shown] : null;
    const target = action?.action.do === 'function' ? action.action : null;
    const other = (fn: string) =>
      target && action?.aim?.strips !== FOCUS
        ? resolveAim(draft, target.host, fn, target.scope)
        : null;
    const index = bindings.length;
    if (at >= own) base.add(index);
    // Written out, and not spread: a spread makes the slower kind of object, and there are thousands.
    bindings.push({
      first: run.first,
      count: run.count,
      id: binding.id,
      actions: binding.actions,
      layer,
      part,
      gesture: binding.gesture ? GESTURES.indexOf(binding.gesture) : GestureAt.Press,
      when: when ?? [],
      passOn: binding.passOn ?? false,
      shows: action?.aim ?? null,
      showsName: other('name'),
      showsMeter: other('meter'),
      shown,
      lit: action ? litRange(draft, action) : [0.5, Infinity],
      usual: usualOf(draft, action?.aim ?? null),
      returns: binding.returns,
    });
    if (when === null) continue;
    if (binding.cause) {
      const { host, function: fn, scope } = binding.cause;
      const aim = resolveAim(draft, host, fn, scope);
      if (aim) causes.push({ binding: index, aim, when: binding.cause.when });
      else
        draft.say({
          ...of,
          what: 'function',
          why: `It waits for ${fn}, which ${draft.hostName(host)} has not.`,
        });
      continue;
    }
    let lists = candidates.get(part);
    if (!lists) candidates.set(part, (lists = [[], [], [], []]));
    lists[bindings[index].gesture].push(index);
  }
  for (const lists of candidates.values())
    for (const list of lists) rankCandidates(draft, list, bindings, base);
  return { bindings, causes, candidates, shown: standing.shown };
}
