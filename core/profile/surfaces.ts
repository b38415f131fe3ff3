import { freshId, freshLabel, labelsOf } from './fresh.js';
import { edit, type Edited } from '@rondo/core/document';
import type { Profile, Roles } from './profile.js';
import { dropReferences, type Drops } from './references.js';

/** What goes with a surface or a host: nothing can be done to it any more, but what asks it is told. */
const GOES_ALONG: Drops = { actions: true, conditions: false };

/** Adds a surface to a profile under an id of its own. */
export function addSurface(profile: Profile, model: string, label: string): Edited<Profile> {
  const id = freshId(profile.surfaces, 'surface');
  const name = freshLabel(labelsOf(profile.surfaces), label);
  return edit(profile, `Add ${name}`, (draft) => {
    draft.surfaces[id] = { id, model, label: name };
    draft.surfaceOrder.push(id);
  });
}

/** Takes a surface out of a profile, with all that is bound on it, shown on it, or sent to it. */
export function removeSurface(profile: Profile, id: string): Edited<Profile> {
  const label = Object.hasOwn(profile.surfaces, id) ? profile.surfaces[id].label : id;
  return edit(profile, `Take out ${label}`, (draft) => {
    Reflect.deleteProperty(draft.surfaces, id);
    draft.surfaceOrder = draft.surfaceOrder.filter((key) => key !== id);
    dropReferences(draft, (kind, one) => kind === 'surface' && one === id, GOES_ALONG);
  });
}

/** Goes on with another description of the same device: its bindings, routes and roles stay. */
export const setSurfaceModel = (profile: Profile, id: string, model: string): Edited<Profile> =>
  edit(profile, `Your own ${profile.surfaces[id].label}`, (draft) => {
    draft.surfaces[id].model = model;
  });

/** How many bindings hang on a surface. */
export const bindingsOn = (profile: Profile, id: string): number =>
  profile.bindingOrder.filter((key) => profile.bindings[key].control?.surface === id).length;

/** Says what the messages of a surface's port are for. */
export const setRoles = (profile: Profile, id: string, roles: Roles): Edited<Profile> =>
  edit(profile, `Roles of ${profile.surfaces[id].label}`, (draft) => {
    if (roles.notes.length > 0 || roles.clock) draft.surfaces[id].roles = roles;
    else Reflect.deleteProperty(draft.surfaces[id], 'roles');
  });

/** Adds a host to a profile under an id of its own. */
export function addHost(profile: Profile, model: string, label: string): Edited<Profile> {
  // A model may be named by what its program expects, which is no id.
  const stem = /^[a-zA-Z0-9][a-zA-Z0-9_.-]{0,49}$/.test(model) ? model : 'program';
  const id = freshId(profile.hosts, stem);
  const name = freshLabel(labelsOf(profile.hosts), label);
  return edit(profile, `Add ${name}`, (draft) => {
    draft.hosts[id] = { id, model, label: name };
    draft.hostOrder.push(id);
  });
}

/** Gives a host another model, as where an extender comes to the desk that its program expects. */
export const setHostModel = (profile: Profile, id: string, model: string): Edited<Profile> =>
  edit(profile, `What ${profile.hosts[id].label} is`, (draft) => {
    draft.hosts[id].model = model;
  });

/**
 * Takes a host out of a profile, with all that goes to it or comes of it: actions, causes, what is shown of it, where
 * messages go on to it. Bindings left without any action go too. Conditions that ask it stay, and are told: without them
 * a binding would do more than before.
 */
export function removeHost(profile: Profile, id: string): Edited<Profile> {
  const label = Object.hasOwn(profile.hosts, id) ? profile.hosts[id].label : id;
  return edit(profile, `Take out ${label}`, (draft) => {
    Reflect.deleteProperty(draft.hosts, id);
    draft.hostOrder = draft.hostOrder.filter((key) => key !== id);
    dropReferences(draft, (kind, one) => kind === 'host' && one === id, GOES_ALONG);
  });
}
