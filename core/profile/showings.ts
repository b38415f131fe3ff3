import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import { freshId } from './fresh.js';
import type { Profile, Showing } from './profile.js';

/** Puts a showing behind all others, under an id of its own. */
export function putShowing(draft: Draft<Profile>, showing: Omit<Showing, 'id'>): void {
  const id = freshId(draft.showings, 'show');
  draft.showings[id] = { ...structuredClone(showing), id } as Draft<Showing>;
  draft.showingOrder.push(id);
}

/** Adds a showing, the newest last; of one layer the earlier hides the later. */
export const addShowing = (
  profile: Profile,
  name: string,
  showing: Omit<Showing, 'id'>,
): Edited<Profile> => edit(profile, name, (draft) => putShowing(draft, showing));

/** Changes a showing. */
export const editShowing = (
  profile: Profile,
  name: string,
  id: string,
  change: (showing: Draft<Showing>) => void,
): Edited<Profile> =>
  edit(profile, name, (draft) => {
    if (Object.hasOwn(draft.showings, id)) change(draft.showings[id]);
  });

/** Takes a showing out. */
export const removeShowing = (profile: Profile, name: string, id: string): Edited<Profile> =>
  edit(profile, name, (draft) => {
    if (!Object.hasOwn(draft.showings, id)) return;
    Reflect.deleteProperty(draft.showings, id);
    draft.showingOrder.splice(draft.showingOrder.indexOf(id), 1);
  });
