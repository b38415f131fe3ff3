import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';
import type { Action, Binding, ControlRef, Profile } from './profile.js';

enablePatches();

/** A named change of a profile that can be taken back: what it wrote, and what stood there before. */
export interface Edit {
  readonly name: string;
  readonly forward: readonly Patch[];
  readonly inverse: readonly Patch[];
}

export interface Edited {
  readonly profile: Profile;
  /** Null where nothing changed. */
  readonly edit: Edit | null;
}

/** Changes a profile and keeps the patches both ways. */
export function edit(
  profile: Profile,
  name: string,
  recipe: (draft: Draft<Profile>) => void,
): Edited {
  const [next, forward, inverse] = produceWithPatches(profile, recipe);
  return forward.length === 0
    ? { profile, edit: null }
    : { profile: next, edit: { name, forward, inverse } };
}

function valueAt(root: unknown, path: readonly (string | number)[]): unknown {
  let value = root;
  for (const key of path) {
    if (typeof value !== 'object' || value === null) return undefined;
    value = (value as Record<string | number, unknown>)[key];
  }
  return value;
}

const same = (a: unknown, b: unknown): boolean =>
  a === b || JSON.stringify(a) === JSON.stringify(b);

function apply(profile: Profile, from: readonly Patch[], to: readonly Patch[]): Profile | null {
  const holds = from.every((patch) => {
    // A list's length stands behind its entries and is checked by them.
    if (patch.path.at(-1) === 'length') return true;
    const now = valueAt(profile, patch.path);
    return patch.op === 'remove' ? Array.isArray(now) || now === undefined : same(now, patch.value);
  });
  return holds ? applyPatches(profile, [...to]) : null;
}

/** Takes an edit back; null where something else has changed the same places since. */
export const undo = (profile: Profile, done: Edit): Profile | null =>
  apply(profile, done.forward, done.inverse);

/** Does an undone edit again; null where something else has changed the same places since. */
export const redo = (profile: Profile, undone: Edit): Profile | null =>
  apply(profile, undone.inverse, undone.forward);

/** Whether a binding hangs on this part of this control. */
export const isOn = (binding: Binding, ref: ControlRef): boolean =>
  binding.control.surface === ref.surface &&
  binding.control.control === ref.control &&
  binding.control.part === ref.part;

/** The bindings of one control part, in the profile's order. */
export function bindingsOf(profile: Profile, ref: ControlRef): Binding[] {
  return profile.bindingOrder
    .map((key) => profile.bindings[key])
    .filter((binding) => isOn(binding, ref));
}

/** An id that no binding has yet. */
function freshBindingId(profile: Profile): string {
  let n = profile.bindingOrder.length + 1;
  while (Object.hasOwn(profile.bindings, `b${n}`)) n++;
  return `b${n}`;
}

function dropBindings(draft: Draft<Profile>, ref: ControlRef): void {
  for (const key of [...draft.bindingOrder])
    if (isOn(draft.bindings[key], ref)) {
      Reflect.deleteProperty(draft.bindings, key);
      draft.bindingOrder.splice(draft.bindingOrder.indexOf(key), 1);
    }
}

/** Binds a control part to an action in place of what it was bound to. */
export function bind(profile: Profile, name: string, ref: ControlRef, action: Action): Edited {
  return edit(profile, name, (draft) => {
    dropBindings(draft, ref);
    const key = freshBindingId(profile);
    draft.bindings[key] = { id: key, layer: draft.layerOrder[0], control: ref, actions: [action] };
    draft.bindingOrder.push(key);
  });
}

/** Takes everything off a control part. */
export function unbind(profile: Profile, name: string, ref: ControlRef): Edited {
  return edit(profile, name, (draft) => dropBindings(draft, ref));
}

/** Gives the profile another name; blank names are ignored. */
export function rename(profile: Profile, to: string): Edited {
  const name = to.trim();
  return name === '' || name === profile.name
    ? { profile, edit: null }
    : edit(profile, `Rename to “${name}”`, (draft) => {
        draft.name = name;
      });
}
