import { dequal } from 'dequal';
import type { Draft } from 'immer';
import { edit, type Edited } from '@rondo/core/document';
import { addBinding, dropBindings } from './edit.js';
import type { Binding, Profile } from './profile.js';

/** A control of a surface of a profile, whatever part of it. */
export interface ControlOf {
  readonly surface: string;
  readonly control: string;
}

const isOn = ({ control }: Binding, { surface, control: id }: ControlOf): boolean =>
  control?.surface === surface && control.control === id;

/** What was bound to a control in an earlier version, on layers that are still there; and how many bindings are not. */
export function bindingsThen(
  now: Profile,
  then: Profile,
  of: ControlOf,
): { readonly there: readonly Binding[]; readonly lost: number } {
  const all = then.bindingOrder.map((id) => then.bindings[id]).filter((one) => isOn(one, of));
  const there = all.filter(({ layer }) => Object.hasOwn(now.layers, layer));
  return { there, lost: all.length - there.length };
}

/** Controls that do something else in one profile than in another, on whatever layer: as `surface control`. */
export function controlsThatDiffer(a: Profile, b: Profile): Set<string> {
  const byControl = ({ bindingOrder, bindings }: Profile) => {
    const lists = new Map<string, Binding[]>();
    for (const id of bindingOrder) {
      const { control } = bindings[id];
      if (!control) continue;
      const key = `${control.surface} ${control.control}`;
      lists.set(key, [...(lists.get(key) ?? []), bindings[id]]);
    }
    return lists;
  };
  const [before, after] = [byControl(a), byControl(b)];
  const keys = new Set([...before.keys(), ...after.keys()]);
  for (const key of keys) if (dequal(before.get(key), after.get(key))) keys.delete(key);
  return keys;
}

/**
 * Brings back what one control did in an earlier version, on every layer that is still there. All else stays as it is now.
 * @param name of the control, for the step of undo
 */
export function bringControlBack(
  now: Profile,
  then: Profile,
  of: ControlOf,
  name: string,
): Edited<Profile> {
  return edit(now, `${name} as it was`, (draft) => {
    dropBindings(draft, (binding) => isOn(binding, of));
    for (const { id, ...binding } of bindingsThen(now, then, of).there) {
      if (Object.hasOwn(draft.bindings, id)) {
        // The id is another binding's by now.
        addBinding(draft, structuredClone(binding));
        continue;
      }
      draft.bindings[id] = structuredClone({ ...binding, id }) as Draft<Binding>;
      draft.bindingOrder.push(id);
    }
  });
}
