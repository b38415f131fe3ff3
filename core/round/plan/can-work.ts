import type { HostFunction } from '@rondo/core/host';
import type { Action, Behaviour } from '@rondo/core/profile';
import { InputMode } from './part-plan.js';

/** Why an action cannot work where it is bound, and the behaviour by which it would. */
export interface Mismatch {
  readonly why: string;
  /** Null where only another control or another action helps. */
  readonly mend: Behaviour | null;
}

const NEEDS_A_PRESS = 'It needs something that is pressed: bind it to a key, a pad or a pedal.';

/** What is done to a function, as people say it. */
const DOES: Readonly<Record<Behaviour, string>> = {
  follow: 'Following',
  toggle: 'Toggle',
  momentary: 'While held',
  set: 'Setting a value',
  step: 'Stepping',
};

/**
 * Whether an action can do anything sensible on what is pressed, turned or moved: what cannot is not compiled, so that
 * it does not flip at every message or never lets go.
 * @param mode how the part tells what the hand does; null for what a host's change or a layer triggers
 * @param fn what is driven, where it is known
 */
export function mismatchOf(
  action: Action,
  mode: InputMode | null,
  fn: HostFunction | undefined,
): Mismatch | null {
  if (mode === null) return null;
  const isPress = mode === InputMode.Press || mode === InputMode.Touch;
  if (action.do === 'function')
    return isPress ? pressed(action.behaviour, fn) : moved(action.behaviour, mode);
  if (isPress || action.do === 'send') return null;
  if (mode === InputMode.Absolute) return { why: NEEDS_A_PRESS, mend: null };
  const holds =
    action.do === 'rondo' ||
    action.do === 'setUp' ||
    action.do === 'notes' ||
    ((action.do === 'layer' || action.do === 'flag') && action.how === 'hold');
  return holds ? { why: NEEDS_A_PRESS, mend: null } : null;
}

function pressed(behaviour: Behaviour, fn: HostFunction | undefined): Mismatch | null {
  if (behaviour !== 'follow' || !fn || fn.taps) return null;
  if (fn.kind === 'toggle')
    return { why: `A press cannot follow ${fn.label}: it is on or off.`, mend: 'toggle' };
  if (fn.kind === 'choice')
    return { why: `A press cannot follow ${fn.label}: it would always be the last.`, mend: 'step' };
  return null;
}

function moved(behaviour: Behaviour, mode: InputMode): Mismatch | null {
  if (behaviour === 'follow') return null;
  if (mode === InputMode.Absolute)
    return {
      why: `${DOES[behaviour]} is for what is pressed: a control that is moved would do it at every message.`,
      mend: 'follow',
    };
  if (behaviour === 'momentary' || behaviour === 'toggle')
    return {
      why: `${DOES[behaviour]} is for what is pressed: a control that counts ticks is never let go.`,
      mend: 'follow',
    };
  return null;
}
