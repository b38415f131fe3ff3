import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { Action, Gesture } from './action.js';
import { freshId, putNewLayer } from './fresh.js';
import type { Binding, ControlRef, Profile } from './profile.js';

/** Where on a control a binding hangs: a layer, and a gesture of what is pressed. */
export interface Place {
  readonly layer?: string | undefined;
  readonly gesture?: Gesture | undefined;
}

/** What becomes of what was bound there: it goes, it stays beside the new, or it takes the place the new came from. */
export const BIND_WAYS = ['replace', 'add', 'swap'] as const;
export type BindWay = (typeof BIND_WAYS)[number];

const sameRef = (a: ControlRef | undefined, b: ControlRef): boolean =>
  a?.surface === b.surface && a.control === b.control && a.part === b.part;

/** Whether a binding hangs on this part of this control; of this layer and gesture, where they are given. */
export const isOn = (binding: Binding, ref: ControlRef, { layer, gesture }: Place = {}): boolean =>
  sameRef(binding.control, ref) &&
  (layer === undefined || binding.layer === layer) &&
  (gesture === undefined || (binding.gesture ?? 'press') === gesture);

/** The bindings of one control part, in the profile's order; of one layer and gesture, where they are given. */
export function bindingsOf(profile: Profile, ref: ControlRef, place: Place = {}): Binding[] {
  return profile.bindingOrder
    .map((key) => profile.bindings[key])
    .filter((binding) => isOn(binding, ref, place));
}

/** An id that no binding has. */
export const freshBindingId = ({ bindings }: Pick<Profile, 'bindings'>): string =>
  freshId(bindings, 'b');

/** Takes bindings out of a draft. */
export function dropBindings(draft: Draft<Profile>, goes: (binding: Binding) => boolean): void {
  const gone = new Set(draft.bindingOrder.filter((key) => goes(draft.bindings[key])));
  if (gone.size === 0) return;
  for (const key of gone) Reflect.deleteProperty(draft.bindings, key);
  // In place, so that an undo finds the rest where it was.
  for (let at = draft.bindingOrder.length - 1; at >= 0; at--)
    if (gone.has(draft.bindingOrder[at])) draft.bindingOrder.splice(at, 1);
}

/** Adds a binding to a draft under an id of its own; returns the id. */
export function addBinding(draft: Draft<Profile>, binding: Omit<Binding, 'id'>): string {
  const id = freshBindingId(draft);
  draft.bindings[id] = { ...binding, id } as Draft<Binding>;
  draft.bindingOrder.push(id);
  return id;
}

/**
 * Puts bindings where they are to be, as copies: what stands in the places to which they come goes first, then all of them
 * come, so that none takes the place of another.
 */
export function putCopies(draft: Draft<Profile>, copies: readonly Omit<Binding, 'id'>[]): void {
  dropBindings(draft, (other) =>
    (copies as readonly Binding[]).some(
      ({ control, layer, gesture = 'press' }) =>
        control && isOn(other, control, { layer, gesture }),
    ),
  );
  for (const copy of copies) addBinding(draft, copy);
}

/** What an action drives, whatever way, as a word to compare by. */
export const targetOf = (action: Action): string => {
  switch (action.do) {
    case 'function':
      return `${action.host} ${action.function} ${JSON.stringify(action.scope)}`;
    case 'layer':
      return `layer ${action.layer}`;
    case 'flag':
      return `flag ${action.flag}`;
    default:
      return JSON.stringify(action);
  }
};

/** The other bindings that drive the same, first those of the same layer. */
export function rivalsOf(profile: Profile, action: Action, layer: string): Binding[] {
  const target = targetOf(action);
  const rivals = profile.bindingOrder
    .map((key) => profile.bindings[key])
    .filter(({ actions }) => actions.some((other) => targetOf(other) === target));
  return rivals.sort((a, b) => Number(b.layer === layer) - Number(a.layer === layer));
}

/**
 * Binds a control part to an action: in place of the first thing that it does there, beside it, or in exchange with the
 * control that has the action now. A layer that it turns on and that is not there yet is made, empty, on top.
 */
export function bind(
  profile: Profile,
  name: string,
  ref: ControlRef,
  action: Action,
  { layer = profile.layerOrder[0], gesture }: Place = {},
  way: BindWay = 'replace',
): Edited<Profile> {
  return edit(profile, name, (draft) => {
    const place = { layer, gesture: gesture ?? ('press' as const) };
    const here = bindingsOf(profile, ref, place).at(0);
    if (action.do === 'layer' && !Object.hasOwn(draft.layers, action.layer))
      putNewLayer(draft, action.layer);
    if (way === 'add' && here) {
      draft.bindings[here.id].actions.push(action as Draft<Action>);
      return;
    }
    if (way === 'replace' && here) {
      // Its first action is changed; what else it does, when, and how it feels stays.
      draft.bindings[here.id].actions[0] = action as Draft<Action>;
      return;
    }
    if (way === 'swap' && here) {
      const rival = rivalsOf(profile, action, layer).find(
        (other) => other.control && !isOn(other, ref, place),
      );
      if (rival) {
        exchange(draft, here, rival);
        return;
      }
    }
    const { id: _id, ...kept }: Partial<Binding> = here ?? {};
    dropBindings(draft, (binding) => isOn(binding, ref, place));
    const { feel, pinned, passOn } = kept;
    addBinding(draft, {
      layer,
      control: ref,
      ...(gesture === undefined || gesture === 'press' ? {} : { gesture }),
      // How the control feels stays with it.
      ...(feel ? { feel } : {}),
      ...(pinned ? { pinned } : {}),
      ...(passOn ? { passOn } : {}),
      actions: [action],
    });
  });
}

/** Exchanges all that is bound in the places of two bindings; how a control feels stays with it. */
function exchange(draft: Draft<Profile>, a: Binding, b: Binding): void {
  const placeOf = ({ control, layer, gesture = 'press', feel, pinned, passOn }: Binding) => ({
    control: control as ControlRef,
    layer,
    gesture,
    kept: { feel, pinned, passOn },
  });
  const [first, second] = [placeOf(a), placeOf(b)];
  const put = (binding: Draft<Binding>, { control, layer, gesture, kept }: typeof first): void => {
    binding.control = { ...control };
    binding.layer = layer;
    if (gesture === 'press') delete binding.gesture;
    else binding.gesture = gesture;
    for (const name of ['feel', 'pinned', 'passOn'] as const)
      if (kept[name] === undefined) Reflect.deleteProperty(binding, name);
      else Object.assign(binding, { [name]: kept[name] });
  };
  for (const key of draft.bindingOrder) {
    const binding = draft.bindings[key];
    if (isOn(binding as Binding, first.control, first)) put(binding, second);
    else if (isOn(binding as Binding, second.control, second)) put(binding, first);
  }
}

/** Takes everything off a control part; on one layer and gesture, where they are given. */
export function unbind(
  profile: Profile,
  name: string,
  ref: ControlRef,
  place: Place = {},
): Edited<Profile> {
  return edit(profile, name, (draft) =>
    dropBindings(draft, (binding) => isOn(binding, ref, place)),
  );
}

/** Changes some bindings at once. */
export function editBindings(
  profile: Profile,
  name: string,
  ids: readonly string[],
  change: (binding: Draft<Binding>) => void,
): Edited<Profile> {
  return edit(profile, name, (draft) => {
    for (const id of ids) if (Object.hasOwn(draft.bindings, id)) change(draft.bindings[id]);
  });
}

/** Takes some bindings out. */
export function removeBindings(
  profile: Profile,
  name: string,
  ids: readonly string[],
): Edited<Profile> {
  const gone = new Set(ids);
  return edit(profile, name, (draft) => dropBindings(draft, ({ id }) => gone.has(id)));
}

/** Adds a binding as it is, as for a host's change of state. */
export const addBindingTo = (
  profile: Profile,
  name: string,
  binding: Omit<Binding, 'id'>,
): Edited<Profile> =>
  edit(profile, name, (draft) => {
    addBinding(draft, binding);
  });

/** Exchanges all that two control parts do, on one layer or on all. */
export function swapControls(
  profile: Profile,
  name: string,
  a: ControlRef,
  b: ControlRef,
  layer?: string,
): Edited<Profile> {
  return edit(profile, name, (draft) => {
    for (const key of draft.bindingOrder) {
      const binding = draft.bindings[key];
      if (!binding.control || (layer !== undefined && binding.layer !== layer)) continue;
      if (sameRef(binding.control, a)) binding.control = { ...b };
      else if (sameRef(binding.control, b)) binding.control = { ...a };
    }
  });
}
