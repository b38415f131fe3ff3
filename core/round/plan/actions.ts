import { SELECTED, addressOf } from '@rondo/core/host';
import type { Action, Behaviour } from '@rondo/core/profile';
import type { Feeling } from '@rondo/core/surface';
import { readMessage, readOscTemplate, type OscTemplate, type Template } from '@rondo/core/wire';
import { NOWHERE, resolveAim, conditionsOf } from './aims.js';
import { mismatchOf } from './can-work.js';
import type { PlanDraft } from './draft.js';
import { destination } from './routes.js';
import { type Aim, FOCUS } from './aim.js';
import type { ActionPlan, Broken, Run } from './binding-plan.js';
import type { InputMode } from './part-plan.js';
import { shapeWithClick, shaperOf } from './shaper.js';

/** The part that triggers an action: how it tells what the hand does, and whether it clicks in the middle. */
export interface ActsOn {
  readonly mode: InputMode;
  readonly clicks: boolean;
}

/**
 * Adds actions to the plan; what they name and is not there is told.
 * @param on the part that triggers them; null where it is none
 */
export function addActions(
  draft: PlanDraft,
  actions: readonly Action[],
  of: { readonly binding: string; readonly layer: string },
  feel: Feeling,
  group: number,
  on: ActsOn | null,
): Run {
  const first = draft.actions.length;
  for (const action of actions) draft.actions.push(actionPlan(draft, action, of, feel, group, on));
  return { first, count: actions.length };
}

/** One action made ready; what it names and is not there, or what it cannot do where it is, is told. */
export function actionPlan(
  draft: PlanDraft,
  action: Action,
  of: { readonly binding: string; readonly layer: string },
  feel: Feeling,
  group: number,
  on: ActsOn | null,
): ActionPlan {
  const when = conditionsOf(draft, action.when, of);
  let aim: Aim | null = null;
  let link = -1;
  let broken = when === null;
  let fault = '';
  let message: Template | null = null;
  let osc: OscTemplate | null = null;
  let layers: readonly number[] = [];
  let shaper = shaperOf(undefined);
  const miss = (what: Broken['what'], why: string, mend?: Behaviour | null) => {
    draft.say({ ...of, what, why, ...(mend ? { mend } : {}) });
    broken = true;
    fault ||= why;
  };
  switch (action.do) {
    case 'function': {
      aim = resolveAim(draft, action.host, action.function, action.scope);
      link = draft.linkIndex.get(`host:${action.host}`) ?? -1;
      shaper = shaperOf(on?.clicks ? shapeWithClick(action.shape) : action.shape);
      draft.clamped += shaper.clamped;
      if (action.to !== undefined) draft.share(action.to);
      if (!aim) {
        const { scope } = action;
        const strip =
          scope.kind === 'fixed' ? scope.strip : scope.kind === 'selected' ? SELECTED : -1;
        miss(
          'function',
          `${draft.hostName(action.host)} has no ${addressOf(action.function, strip)}.`,
        );
      }
      break;
    }
    case 'layer': {
      const slot = draft.layerSlots.get(action.layer);
      const index = draft.layerIndex.get(action.layer);
      if (slot === undefined || index === undefined)
        miss('layer', 'It changes a layer that is not there.');
      else {
        aim = { ...NOWHERE, base: slot };
        layers = [index];
      }
      break;
    }
    case 'layerStep':
      layers = draft.layerGroups.get(action.group) ?? [];
      if (layers.length === 0) miss('layer', `No layer is in the group ${action.group}.`);
      break;
    case 'flag': {
      const slot = draft.flagSlots.get(action.flag);
      if (slot === undefined) miss('flag', 'It changes a flag that is not there.');
      else aim = { ...NOWHERE, base: slot };
      break;
    }
    case 'send':
      link = destination(draft, action.to);
      if (link < 0) miss('function', 'It sends to what is not in the profile.');
      if (action.message !== undefined) {
        const text = action.message;
        const isOsc = draft.links[link]?.isOsc ?? text.trim().startsWith('/');
        const template = isOsc ? readOscTemplate(text) : readMessage(text);
        if ('fault' in template) miss('message', `Its message cannot be sent. ${template.fault}`);
        else if ('address' in template) osc = template;
        else message = template;
      }
      break;
    case 'notes':
      link = destination(draft, action.to);
      if (link < 0) miss('function', 'It plays to what is not in the profile.');
      else if (draft.links[link].isOsc)
        miss(
          'message',
          `${draft.links[link].label} speaks OSC, which has no notes. Send it a message instead.`,
        );
      break;
    case 'focusPage': {
      const table = draft.focusIndex.get(action.host);
      if (table === undefined) miss('function', `${draft.hostName(action.host)} has no focus.`);
      else aim = { base: table, offset: 0, strips: FOCUS };
      break;
    }
    default:
  }
  const fn = aim && aim.strips !== FOCUS && aim.base >= 0 ? draft.slots[aim.base].fn : undefined;
  const mismatch = broken ? null : mismatchOf(action, on?.mode ?? null, fn);
  if (mismatch) miss('behaviour', mismatch.why, mismatch.mend);
  return {
    binding: of.binding,
    action,
    aim,
    link,
    broken,
    why: fault,
    mend: mismatch?.mend ?? null,
    when: when ?? [],
    shaper,
    feel,
    message,
    osc,
    layers,
    group,
  };
}

/** The action whose state a binding shows: the first that has one. */
export function shownAction(draft: PlanDraft, { first, count }: Run): number {
  for (let at = first; at < first + count; at++) {
    const { aim, action } = draft.actions[at];
    if (aim && action.do !== 'focusPage') return at;
  }
  return -1;
}

/** For which values a light is on: where the function stands at what a press would set, else from the middle up. */
export function litRange(
  draft: PlanDraft,
  { action, aim, shaper }: ActionPlan,
): readonly [number, number] {
  if (action.do !== 'function' || !aim || aim.strips === FOCUS) return [0.5, Infinity];
  const { fn } = draft.slots[aim.base];
  const { low, high } = shaper;
  if (action.behaviour === 'set' && (fn.kind === 'choice' || fn.kind === 'continuous')) {
    const half = fn.choices ? 0.5 / (fn.choices.length - 1) : 0.5 / 127;
    const to = Math.max(0, Math.min(1, action.to ?? 1));
    return [to - half, to + half];
  }
  const middle = (low + high) / 2;
  return low <= high ? [middle, Infinity] : [-1, middle];
}

/** The number of an exclusive group by its name; −1 for none. */
export function groupNumber(draft: PlanDraft, name: string | undefined): number {
  if (name === undefined) return -1;
  const known = draft.groupIndex.get(name) ?? draft.groupIndex.size;
  draft.groupIndex.set(name, known);
  return known;
}

/** All slots that the members of each exclusive group can mean, whatever the bank. */
export function groupsOf(draft: PlanDraft): Int32Array[] {
  const slots = Array.from(draft.groupIndex, () => new Set<number>());
  for (const { group, aim, broken } of draft.actions) {
    if (group < 0 || !aim || broken || aim.strips === FOCUS) continue;
    const count = aim.offset < 0 ? 1 : aim.strips;
    for (let n = 0; n < count; n++)
      if (draft.slots[aim.base + n].exists) slots[group].add(aim.base + n);
  }
  return slots.map((group) => Int32Array.from(group));
}
