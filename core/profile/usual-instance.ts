import { dequal } from 'dequal';
import { edit, type Edited } from '@rondo/core/document';
import type { HostModel } from '@rondo/core/host';
import type { FunctionAction, Scope } from './action.js';
import type { Binding, ControlRef, Profile } from './profile.js';
import type { UsualInstance } from './usual-instance-schema.js';

/** Where a usual instance counts: on a layer, on a surface, or on some controls of one. */
export type UsualPlace =
  { readonly layer: string } | { readonly surface: string; readonly controls?: readonly string[] };

const isPart = (one: UsualInstance, controls: readonly string[] | undefined): boolean =>
  dequal(one.controls ?? null, controls ?? null);

/** What is said of a place; empty where it is not there. */
function saidAt(profile: Profile, place: UsualPlace): readonly UsualInstance[] {
  const [family, key] =
    'layer' in place ? [profile.layers, place.layer] : [profile.surfaces, place.surface];
  return Object.hasOwn(family, key) ? (family[key].usual ?? []) : [];
}

/** The usual instance of a place itself, as it is set there; null where none is. */
export function usualAt(profile: Profile, place: UsualPlace, host: string): Scope | null {
  const controls = 'layer' in place ? undefined : place.controls;
  const said = saidAt(profile, place).find((one) => one.host === host && isPart(one, controls));
  return said?.scope ?? null;
}

/**
 * The instance that a new binding goes to. A layer is chosen on purpose and comes first; then the part of a surface that a
 * control belongs to; then its surface.
 * @returns null where none is set: then what the control suggests counts
 */
export function usualFor(
  profile: Profile,
  ref: ControlRef | null,
  layer: string,
  host: string,
): Scope | null {
  const ofHost = (place: UsualPlace) => saidAt(profile, place).filter((one) => one.host === host);
  const onLayer = ofHost({ layer }).at(0);
  if (onLayer || !ref) return onLayer?.scope ?? null;
  const there = ofHost({ surface: ref.surface });
  const part = there.find(({ controls }) => controls?.includes(ref.control));
  return (part ?? there.find(({ controls }) => controls === undefined))?.scope ?? null;
}

/** Sets the usual instance of a place; null takes it away. */
export const setUsual = (
  profile: Profile,
  place: UsualPlace,
  host: string,
  scope: Scope | null,
): Edited<Profile> =>
  edit(profile, 'What new bindings go to', (draft) => {
    const owner = 'layer' in place ? draft.layers[place.layer] : draft.surfaces[place.surface];
    const controls = 'layer' in place ? undefined : place.controls;
    const rest = (owner.usual ?? []).filter(
      (one) => one.host !== host || !isPart(one as UsualInstance, controls),
    );
    if (scope) rest.push({ host, scope, ...(controls ? { controls: [...controls] } : {}) });
    if (rest.length > 0) owner.usual = rest;
    else delete owner.usual;
  });

function isThere({ control, layer }: Binding, place: UsualPlace): boolean {
  if ('layer' in place) return layer === place.layer;
  if (control?.surface !== place.surface) return false;
  return place.controls?.includes(control.control) ?? true;
}

/** One instance that bindings of a place go to now. */
export interface InUse {
  readonly scope: Scope;
  /** How many of their functions go to it. */
  readonly count: number;
}

const isOne = (scope: Scope): boolean => scope.kind === 'fixed' || scope.kind === 'selected';

/** Functions of a host, of the bindings of a place, that go to one instance. */
const goingTo = ({ actions }: Pick<Binding, 'actions'>, host: string): FunctionAction[] =>
  actions.filter(
    (action): action is FunctionAction =>
      action.do === 'function' && action.host === host && isOne(action.scope),
  );

/** Which instances the bindings of a place go to now, the most used first. */
export function instancesInUse(profile: Profile, place: UsualPlace, host: string): InUse[] {
  const found: { scope: Scope; count: number }[] = [];
  for (const key of profile.bindingOrder) {
    if (!isThere(profile.bindings[key], place)) continue;
    for (const { scope } of goingTo(profile.bindings[key], host)) {
      const known = found.find((one) => dequal(one.scope, scope));
      if (known) known.count++;
      else found.push({ scope, count: 1 });
    }
  }
  return found.sort((a, b) => b.count - a.count);
}

/** Whether a function has an instance: the master cannot be armed. */
function hasInstance(model: HostModel, action: FunctionAction, scope: Scope): boolean {
  const fn = model.functions.find(({ id: one }) => one === action.function);
  if (!fn) return false;
  if (scope.kind === 'fixed') return fn.per === 'strip' && Boolean(fn.messages[scope.strip]);
  return fn.messages.length > model.strips.length;
}

/**
 * Moves the bindings of a place from one instance to another. What the other has not stays where it is.
 * @param from instance that they go to now
 * @returns the edited profile, and how many functions have stayed
 */
export function moveInstance(
  profile: Profile,
  place: UsualPlace,
  host: string,
  from: Scope,
  to: Scope,
  model: HostModel,
): Edited<Profile> & { readonly stayed: number } {
  if (dequal(from, to)) return { document: profile, edit: null, stayed: 0 };
  let stayed = 0;
  const edited = edit(profile, 'Move bindings to another', (draft) => {
    for (const key of draft.bindingOrder) {
      if (!isThere(profile.bindings[key], place)) continue;
      for (const action of draft.bindings[key].actions) {
        if (action.do !== 'function' || action.host !== host) continue;
        if (!dequal({ ...action.scope }, { ...from })) continue;
        if (hasInstance(model, action as FunctionAction, to)) action.scope = { ...to };
        else stayed++;
      }
    }
  });
  return { ...edited, stayed };
}
