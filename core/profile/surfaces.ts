import type { Action } from './action.js';
import { dropBindings } from './edit.js';
import { freshId, freshLabel, labelsOf } from './fresh.js';
import { edit, type Edited } from '@rondo/core/document';
import type { Profile, Roles } from './profile.js';
import { dropRoutes } from './routes.js';

/** Adds a surface to a profile under an id of its own. */
export function addSurface(profile: Profile, model: string, label: string): Edited<Profile> {
  const id = freshId(profile.surfaces, 'surface');
  const name = freshLabel(labelsOf(profile.surfaces), label);
  return edit(profile, `Add ${name}`, (draft) => {
    draft.surfaces[id] = { id, model, label: name };
    draft.surfaceOrder.push(id);
  });
}

/** Takes a surface out of a profile, with everything that is bound on it. */
export function removeSurface(profile: Profile, id: string): Edited<Profile> {
  const label = Object.hasOwn(profile.surfaces, id) ? profile.surfaces[id].label : id;
  return edit(profile, `Take out ${label}`, (draft) => {
    Reflect.deleteProperty(draft.surfaces, id);
    draft.surfaceOrder = draft.surfaceOrder.filter((key) => key !== id);
    dropRoutes(draft, ({ from, to }) =>
      [from, to].some((end) => 'surface' in end && end.surface === id),
    );
    const gone = draft.bindingOrder.filter((key) => draft.bindings[key].control?.surface === id);
    for (const key of gone) Reflect.deleteProperty(draft.bindings, key);
    if (gone.length > 0)
      draft.bindingOrder = draft.bindingOrder.filter((key) => Object.hasOwn(draft.bindings, key));
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

/** Whether an action goes to a host. */
function goesTo(action: Action, host: string): boolean {
  switch (action.do) {
    case 'function':
    case 'focusPage':
      return action.host === host;
    case 'send':
    case 'notes':
      return 'host' in action.to && action.to.host === host;
    default:
      return false;
  }
}

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
    for (const key of draft.bindingOrder) {
      const binding = draft.bindings[key];
      const stay = binding.actions.filter((action) => !goesTo(action, id));
      // One assignment at most, so that an undo has no more to put back than was taken.
      if (stay.length > 0 && stay.length < binding.actions.length) binding.actions = stay;
    }
    dropBindings(
      draft,
      ({ actions, cause }) => cause?.host === id || actions.every((action) => goesTo(action, id)),
    );
    for (const layer of Object.values(draft.layers))
      for (const event of ['enter', 'leave'] as const)
        if (layer[event]?.some((action) => goesTo(action, id)))
          layer[event] = layer[event].filter((action) => !goesTo(action, id));
    const shown = (key: string) => {
      const { shows } = draft.showings[key];
      return 'host' in shows && shows.host === id;
    };
    for (const key of draft.showingOrder.filter(shown)) {
      Reflect.deleteProperty(draft.showings, key);
      draft.showingOrder.splice(draft.showingOrder.indexOf(key), 1);
    }
    dropRoutes(draft, ({ from, to }) => [from, to].some((end) => 'host' in end && end.host === id));
    for (const surface of Object.values(draft.surfaces))
      if (surface.standsIn?.host === id) delete surface.standsIn;
    for (const owner of [...Object.values(draft.surfaces), ...Object.values(draft.layers)])
      if (owner.usual?.some(({ host }) => host === id))
        owner.usual = owner.usual.filter(({ host }) => host !== id);
    if (draft.focusOrders) Reflect.deleteProperty(draft.focusOrders, id);
  });
}
