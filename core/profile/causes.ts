import { dequal } from 'dequal';
import type { Action, FunctionAction } from './action.js';
import type { Binding, Profile } from './profile.js';

type Scope = FunctionAction['scope'];

/** A function's scope with the bank at a strip: what stands in the window is then one strip. */
const settled = (scope: Scope, bank: number): Scope =>
  scope.kind === 'window' ? { kind: 'fixed', strip: bank + scope.offset } : scope;

interface Place {
  readonly host: string;
  readonly function: string;
  readonly scope: Scope;
}
const same = (a: Place, b: Place, bank: number): boolean =>
  a.host === b.host &&
  a.function === b.function &&
  dequal(settled(a.scope, bank), settled(b.scope, bank));

/** What a host's change sets off around a function: that of its own change, and what else sets it. */
export interface CausesAround {
  /** What a change of this function sets off. */
  readonly setsOff: readonly Binding[];
  /** What sets this function when something else changes. */
  readonly setBy: readonly Binding[];
}

/**
 * Causes that have to do with the function of an action.
 * @param bank first strip of the bank window, from 0
 */
export function causesAround(profile: Profile, action: Action, bank: number): CausesAround {
  const nothing = { setsOff: [], setBy: [] };
  if (action.do !== 'function') return nothing;
  const all = profile.bindingOrder.flatMap((id) => {
    const binding = profile.bindings[id];
    return binding.cause ? [{ binding, cause: binding.cause }] : [];
  });
  return {
    setsOff: all.flatMap(({ binding, cause }) => (same(cause, action, bank) ? [binding] : [])),
    setBy: all.flatMap(({ binding }) =>
      binding.actions.some((one) => one.do === 'function' && same(one, action, bank))
        ? [binding]
        : [],
    ),
  };
}
