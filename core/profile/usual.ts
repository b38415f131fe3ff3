import type { HostFunction } from '@rondo/core/host';
import type { InputPart } from '@rondo/core/surface';
import type { FunctionAction } from './action.js';

/** Switches that a press only ever puts on. */
const ONE_WAY: ReadonlySet<string> = new Set(['select', 'stop']);

/** How a function is driven by a part of that kind, unless the user says otherwise. Null where it cannot be. */
export function usualBehaviour(
  fn: HostFunction,
  part: InputPart,
  relative: boolean,
): Pick<FunctionAction, 'behaviour' | 'to' | 'by' | 'wrap'> | null {
  if (fn.kind === 'text' || fn.kind === 'meter') return null;
  if (part === 'push' || part === 'touch') {
    // A press is one tick.
    if (fn.kind === 'nudge') return { behaviour: 'step', by: 1 };
    // A key is down for as long as what stands in for it is.
    if (fn.taps) return { behaviour: 'momentary' };
    if (fn.kind === 'continuous') return { behaviour: 'set', to: fn.rest };
    // What only listens, or is down, while it is held.
    if (fn.id === 'cue' || fn.held) return { behaviour: 'momentary' };
    // The next of a list; what waits for its time, as a clip, is started.
    const isStarted = fn.waits !== undefined || fn.id.startsWith('hotCue') || fn.ofNotes === true;
    if (fn.kind === 'choice' && !isStarted) return { behaviour: 'step', by: 1, wrap: true };
    const oneWay =
      fn.kind === 'trigger' ||
      fn.kind === 'choice' ||
      fn.id.startsWith('hotCue') ||
      ONE_WAY.has(fn.id);
    return oneWay ? { behaviour: 'set', to: 1 } : { behaviour: 'toggle' };
  }
  // What stands at a place turns an encoder by the ticks between two of its places; a wheel without an end it cannot.
  if (fn.kind === 'nudge') {
    const isEncoder = fn.messages.some((messages) => messages?.report);
    return relative || isEncoder ? { behaviour: 'follow' } : null;
  }
  if (fn.kind === 'choice') return { behaviour: 'follow' };
  if (fn.kind !== 'continuous') return null;
  return { behaviour: 'follow' };
}
