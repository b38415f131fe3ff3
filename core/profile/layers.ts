import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import { addBinding } from './edit.js';
import { putShowing } from './showings.js';
import { freshId, freshLabel, labelsOf, nextLayerId, putNewLayer } from './fresh.js';
import type { Flag, Layer, Profile } from './profile.js';
import { dropReferences, referencesIn, renamed, type Drops, type Named } from './references.js';

/** Adds a layer on top of all others. */
export function addLayer(profile: Profile, label = 'Layer'): Edited<Profile> & { id: string } {
  const id = nextLayerId(profile);
  const name = freshLabel(labelsOf(profile.layers), label);
  return { ...edit(profile, `Add layer ${name}`, (draft) => putNewLayer(draft, id, label)), id };
}

/** Changes a layer: its name, its group, what entering it does. */
export const editLayer = (
  profile: Profile,
  name: string,
  id: string,
  change: (layer: Draft<Layer>) => void,
): Edited<Profile> =>
  edit(profile, name, (draft) => {
    if (Object.hasOwn(draft.layers, id)) change(draft.layers[id]);
  });

/** How many bindings a layer has. */
export const bindingsOnLayer = (profile: Profile, id: string): number =>
  profile.bindingOrder.filter((key) => profile.bindings[key].layer === id).length;

/** What asks for a flag or a layer, or turns it on, is kept, and shown as broken until it is mended. */
const STAYS: Drops = { actions: false, conditions: false };

/** Takes a layer out with its bindings and lights. The lowest stays. */
export function removeLayer(profile: Profile, id: string): Edited<Profile> {
  if (profile.layerOrder[0] === id || !Object.hasOwn(profile.layers, id))
    return { document: profile, edit: null };
  return edit(profile, `Remove layer ${profile.layers[id].label}`, (draft) => {
    dropReferences(draft, (kind, one) => kind === 'layer' && one === id, STAYS);
    Reflect.deleteProperty(draft.layers, id);
    draft.layerOrder.splice(draft.layerOrder.indexOf(id), 1);
  });
}

/** Moves a layer up (+1) or down (−1) in the order; the lowest stays where it is. */
export function moveLayer(profile: Profile, id: string, by: number): Edited<Profile> {
  const at = profile.layerOrder.indexOf(id);
  const to = at + by;
  if (at < 1 || to < 1 || to >= profile.layerOrder.length) return { document: profile, edit: null };
  return edit(profile, `Move layer ${profile.layers[id].label}`, (draft) => {
    draft.layerOrder.splice(at, 1);
    draft.layerOrder.splice(to, 0, id);
  });
}

/** Copies a layer, with its bindings, to a new one above all others. */
export function copyLayer(profile: Profile, id: string): Edited<Profile> & { id: string } {
  const copy = nextLayerId(profile);
  const layer = profile.layers[id];
  const label = freshLabel(labelsOf(profile.layers), layer.label);
  // What the layer does to itself its copy does to itself.
  const own = <T>(part: T) =>
    renamed(part, (kind, name) => (kind === 'layer' && name === id ? copy : name)) as T;
  return {
    ...edit(profile, `Copy layer ${layer.label}`, (draft) => {
      draft.layers[copy] = { ...own(layer), id: copy, label } as Draft<Layer>;
      draft.layerOrder.push(copy);
      for (const key of profile.bindingOrder) {
        const { id: _id, ...binding } = profile.bindings[key];
        if (binding.layer === id) addBinding(draft, own(binding));
      }
      for (const key of profile.showingOrder) {
        const { id: _id, ...showing } = profile.showings[key];
        if (showing.layer === id) putShowing(draft, own(showing));
      }
    }),
    id: copy,
  };
}

/** Exchanges the bindings and the lights of two layers. */
export const swapLayers = (profile: Profile, a: string, b: string): Edited<Profile> =>
  edit(profile, `Swap ${profile.layers[a].label} and ${profile.layers[b].label}`, (draft) => {
    for (const key of draft.bindingOrder) {
      const binding = draft.bindings[key];
      if (binding.layer === a) binding.layer = b;
      else if (binding.layer === b) binding.layer = a;
    }
    for (const key of draft.showingOrder) {
      const showing = draft.showings[key];
      if (showing.layer === a) showing.layer = b;
      else if (showing.layer === b) showing.layer = a;
    }
  });

/** Adds a flag. */
export function addFlag(profile: Profile, label = 'Flag'): Edited<Profile> & { id: string } {
  const id = freshId(profile.flags, 'flag');
  const name = freshLabel(labelsOf(profile.flags), label);
  return {
    ...edit(profile, `Add flag ${name}`, (draft) => {
      draft.flags[id] = { id, label: name };
      draft.flagOrder.push(id);
    }),
    id,
  };
}

/** Changes a flag. */
export const editFlag = (
  profile: Profile,
  name: string,
  id: string,
  change: (flag: Draft<Flag>) => void,
): Edited<Profile> =>
  edit(profile, name, (draft) => {
    if (Object.hasOwn(draft.flags, id)) change(draft.flags[id]);
  });

/** Takes a flag out. What asks for it is kept, and shown as broken until it is mended. */
export const removeFlag = (profile: Profile, id: string): Edited<Profile> =>
  edit(profile, `Remove flag ${profile.flags[id].label}`, (draft) => {
    Reflect.deleteProperty(draft.flags, id);
    draft.flagOrder.splice(draft.flagOrder.indexOf(id), 1);
  });

/** How often bindings ask for a flag or change it. */
export const usesOfFlag = (profile: Profile, id: string): number =>
  profile.bindingOrder.filter((key) =>
    referencesIn(profile.bindings[key]).some((one) => one.kind === 'flag' && one.id === id),
  ).length;

/** Mends what names flags and layers that are gone: their conditions and actions go; bindings left empty go too. */
export function mendReferences(profile: Profile, ids: readonly string[]): Edited<Profile> {
  const wanted = new Set(ids);
  const isGone = (kind: Named, id: string): boolean =>
    (kind === 'flag' && !Object.hasOwn(profile.flags, id)) ||
    (kind === 'layer' && !Object.hasOwn(profile.layers, id));
  return edit(profile, 'Mend what names what is gone', (draft) =>
    dropReferences(draft, isGone, { actions: true, conditions: true }, (key) => wanted.has(key)),
  );
}
