import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { Action, Binding, ControlRef, Profile } from './profile.js';

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
export function bind(
  profile: Profile,
  name: string,
  ref: ControlRef,
  action: Action,
): Edited<Profile> {
  return edit(profile, name, (draft) => {
    dropBindings(draft, ref);
    const key = freshBindingId(profile);
    draft.bindings[key] = { id: key, layer: draft.layerOrder[0], control: ref, actions: [action] };
    draft.bindingOrder.push(key);
  });
}

/** Takes everything off a control part. */
export function unbind(profile: Profile, name: string, ref: ControlRef): Edited<Profile> {
  return edit(profile, name, (draft) => dropBindings(draft, ref));
}
