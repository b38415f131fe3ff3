import { valueText as hostText } from '@rondo/core/host';
import type { Action, Binding, ControlRef, Gesture } from '@rondo/core/profile';
import {
  InputMode,
  STOP_STATION,
  Stop,
  notAvailable,
  partKey,
  slotOfAim,
  type PlainPlan,
  type Station,
} from '@rondo/core/round';
import { PART_NAMES, isRelative, placeText, type Pattern } from '@rondo/core/surface';
import { OSC_MESSAGE, describePacked, packedToHex } from '@rondo/core/wire';
import { Head, OutField, PartField, SlotField, type Frame } from '../../../engine/frame';
import type { Names } from '../names';
import {
  answerOf,
  levelsOf,
  outputHex,
  outputText,
  ruleText,
  silence,
  type Silent,
} from './answer';
import { oscText } from './osc-words';
import { pickupText, shapeText } from './shape-words';
import type { Stack } from './stack';

/** What the round shows of the control in hand at one moment. */
export interface RoundView {
  readonly control: string;
  readonly part: string;
  /** Value that came in, 0…1, where there is one to draw. */
  readonly value: number | null;
  readonly valueText: string;
  readonly message: string;
  readonly hex: string;
  readonly ago: string;
  /** The binding that stands here on the layer looked at; null where nothing is bound. */
  readonly binding: Binding | null;
  /** Nobody has bound it: its surface stands in for another. */
  readonly standsIn: boolean;
  /** It is of a layer below, seen through this one. */
  readonly below: boolean;
  /** Its action that has a state, or its first. */
  readonly action: Action | null;
  /** Which way the control has to go to meet its function, and how far; empty where they have met. */
  readonly pickup: string;
  /** How the value is shaped, in a sentence. */
  readonly shape: string;
  readonly functionName: string;
  readonly functionValue: string;
  readonly state: string;
  readonly know: 'known' | 'assumed' | 'unknown' | '';
  readonly rule: string;
  readonly output: string;
  /** Nothing can be shown on it. */
  readonly isMute: boolean;
  readonly outputHex: string;
  /** Where the last message stopped and why, in a sentence. */
  readonly stop: { readonly station: Station; readonly why: string } | null;
  /** Why nothing comes back, where nothing does. */
  readonly silent: Silent | null;
}

const KNOW_WORDS = ['unknown', 'assumed', 'known'] as const;

const WHY: Readonly<Record<Stop, string>> = {
  [Stop.None]: '',
  [Stop.NothingBound]: 'Nothing is bound to this. Choose a function.',
  [Stop.HeldOff]: 'Hold off is on: nothing reaches the host.',
  [Stop.NotAvailable]: 'The host has no such function here, or it is not available now.',
  [Stop.HostClosed]: 'The port to the host is closed. Choose it under Ports.',
  [Stop.StateUnknown]:
    'The host has not told this value, so a turn has nothing to start from. Move it once in the host.',
  [Stop.Broken]: 'The host no longer has this function. Choose another.',
  [Stop.Music]:
    'This note is for playing, as the roles of its port say: it fires no command. Change that under Ports.',
  [Stop.Busy]: 'The port to the host is full; presses pile up. Wait a moment.',
  [Stop.OtherLayer]: 'Only bound on layers that are off now.',
  [Stop.ConditionFalse]: 'Its condition does not hold now.',
  [Stop.Pickup]: 'The control stands elsewhere than its function.',
};

function ago(micros: number): string {
  if (micros < 1_000_000) return 'now';
  const seconds = Math.floor(micros / 1_000_000);
  return seconds < 60 ? `${seconds} s ago` : `${Math.floor(seconds / 60)} min ago`;
}

function valueText(pattern: Pattern | undefined, isPress: boolean, raw: number): string {
  if (!pattern) return '';
  if (isRelative(pattern)) return `${raw > 0 ? '+' : raw < 0 ? '−' : ''}${Math.abs(raw)}`;
  if (isPress) return raw > 0 ? 'pressed' : 'released';
  return placeText(pattern, raw);
}

/** Reads the round of the selected part off a frame. Null where the part is not in the plan. */
export function roundView(
  names: Names,
  frame: Frame,
  selected: ControlRef,
  stack: Stack,
  gesture: Gesture,
): RoundView | null {
  const { plan } = frame;
  const key = partKey(selected.surface, selected.control, selected.part);
  const index = plan.parts.findIndex((part) => part.key === key);
  if (index < 0) return null;
  const part = plan.parts[index];
  const at = frame.part(index, PartField.At);
  const heard = at >= 0;
  const raw = frame.part(index, PartField.Raw);
  const packed = frame.part(index, PartField.Packed);
  const seen = stack.of(selected, gesture);
  const binding = seen?.binding ?? null;
  const bound = binding ? plan.bindings.find(({ id }) => id === binding.id) : undefined;
  const actionPlan = bound ? plan.actions[bound.shown >= 0 ? bound.shown : bound.first] : undefined;
  const action = actionPlan?.action ?? binding?.actions[0] ?? null;
  // What another binding has done says nothing about the one that is looked at.
  const ran = frame.part(index, PartField.Binding);
  const own = ran < 0 || plan.bindings[ran].id === binding?.id;

  const answer = answerOf(plan, selected);
  const out = answer >= 0 ? plan.outs[answer] : null;
  const levels = out ? levelsOf(plan, out, bound ? plan.bindings.indexOf(bound) : -1) : {};
  const slotHit = frame.part(index, PartField.Slot);
  const shown = answer >= 0 ? frame.out(answer, OutField.Slot) : -1;
  const aim = actionPlan?.aim;
  const aimed = aim ? slotOfAim(aim, frame.head(Head.Bank)) : -1;
  const pickup = own ? pickupText(frame.part(index, PartField.Gap), action) : '';
  // What is looked at may be on a layer that is off: its own function, not what the light shows now.
  // What the last touch has hit is told only of what hits something: not of notes, messages or the bank.
  const hit = action && !HITS.has(action.do) ? -1 : slotHit;
  const slot = aimed >= 0 ? aimed : shown >= 0 ? shown : hit;
  const slotPlan = slot >= 0 ? plan.slots[slot] : null;
  // What the surface shows may be of something else than what is looked at: of what is bound on a layer that is on.
  const shownFor =
    aimed >= 0 && shown >= 0 && shown !== aimed ? `, for ${plan.slots[shown].fn.label}` : '';
  const know = slotPlan ? KNOW_WORDS[frame.slot(slot, SlotField.Know)] : '';
  const value = slotPlan ? frame.slot(slot, SlotField.Value) : 0;
  const reports = slotPlan?.reports ?? false;
  const law = slotPlan ? { format: (at: number) => hostText(slotPlan.fn, at) } : null;

  const last = heard && own ? (frame.part(index, PartField.Stop) as Stop) : Stop.None;
  const hostLink = actionPlan?.link ?? -1;
  // What has been mended since the last message no longer stops the next.
  const layerPlan = binding ? plan.layers.find(({ id }) => id === binding.layer) : undefined;
  const mended =
    (last === Stop.NothingBound && binding !== null) ||
    (last === Stop.OtherLayer &&
      layerPlan !== undefined &&
      frame.slot(layerPlan.slot, SlotField.Value) >= 0.5) ||
    (last === Stop.StateUnknown && know !== 'unknown') ||
    (last === Stop.HostClosed && hostLink >= 0 && frame.isOpen(hostLink, 'output')) ||
    (last === Stop.HeldOff && frame.head(Head.HoldOff) === 0);
  const stop = mended ? Stop.None : last;
  // What cannot work where it is bound says so itself.
  const isOff = (one: number) =>
    KNOW_WORDS[frame.slot(one, SlotField.Know)] !== 'unknown' &&
    frame.slot(one, SlotField.Value) < 0.5;
  const why =
    (stop === Stop.Broken && actionPlan?.why) ||
    (stop === Stop.NotAvailable && aim && notAvailable(plan, aim, frame.head(Head.Bank), isOff)) ||
    WHY[stop];
  const station = STOP_STATION[stop];
  const waits = waiting(names, binding, plan, frame.part(index, PartField.StopSlot));
  return {
    control: part.control.label,
    part: PART_NAMES[selected.part],
    value: part.moves === InputMode.Absolute ? frame.part(index, PartField.Position) : null,
    valueText: heard
      ? valueText(
          part.patterns.find(Boolean),
          selected.part === 'push' || selected.part === 'touch',
          raw,
        )
      : 'not touched yet',
    message: heard
      ? packed === OSC_MESSAGE
        ? oscText(part.patterns[0], raw)
        : describePacked(packed)
      : 'Touch the control to see what it sends.',
    hex: heard ? packedToHex(packed) : '',
    ago: heard ? ago(frame.head(Head.Time) - at) : '',
    binding,
    standsIn: seen?.standsIn ?? false,
    below: seen?.below ?? false,
    action,
    pickup,
    shape: shapeText(action, law, slotPlan),
    functionName: action ? names.action(action) : '',
    functionValue: slotPlan && law && reports && know !== 'unknown' ? law.format(value) : '',
    state: !slotPlan
      ? ''
      : !reports
        ? 'This function has no state.'
        : know === 'unknown'
          ? 'The host has not told it.'
          : `${slotPlan.fn.label} ${law?.format(value) ?? ''}`,
    know: reports ? know : '',
    rule: out && slotPlan ? ruleText(out, levels) : '',
    output: out ? outputText(out, frame, answer) + shownFor : '',
    isMute: action !== null && !out,
    outputHex: out ? outputHex(out, frame, answer) : '',
    stop: !frame.isOpen(part.link, 'input')
      ? {
          station: 'message',
          why: 'The port from the surface is closed: nothing arrives. Choose it under Ports.',
        }
      : station
        ? { station, why: waits + (pickup && stop === Stop.Pickup ? pickup : why) }
        : null,
    silent: silence(frame, out, action, slotPlan !== null && reports && know === 'unknown', levels),
  };
}

/** Which of several actions it is that waits, to stand before the reason; '' where there is but one. */
function waiting(names: Names, binding: Binding | null, plan: PlainPlan, slot: number): string {
  if (!binding || binding.actions.length < 2 || slot < 0) return '';
  const { fn, link } = plan.slots[slot];
  const host = plan.links.at(link)?.id;
  const action = binding.actions.find(
    (one) => one.do === 'function' && one.function === fn.id && one.host === host,
  );
  return `${action ? names.action(action) : fn.label}: `;
}

/** What has a state of its own. */
const HITS: ReadonlySet<Action['do']> = new Set(['function', 'layer', 'layerStep', 'flag']);

/** The newest message that is no control’s, if it came after the last one that is. */
export function strayText(frame: Frame): string | null {
  const at = frame.head(Head.StrayAt);
  if (at < 0 || at < frame.head(Head.InHandAt)) return null;
  const packed = frame.head(Head.StrayPacked);
  const label = frame.plan.links[frame.head(Head.StrayLink)]?.label ?? 'A surface';
  const hex = packedToHex(packed);
  return packed === OSC_MESSAGE
    ? `${label} sent an OSC message to an address that no control of it has. The Ports screen shows it.`
    : `${label} sent ${describePacked(packed)} (${hex}); no control of it sends that.`;
}
