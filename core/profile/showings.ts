import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { Profile, Showing } from './profile.js';

/** Adds a showing, the newest last; of one layer the earlier hides the later. */
export function addShowing(
  profile: Profile,
  name: string,
  showing: Omit<Showing, 'id'>,
): Edited<Profile> {
  let n = profile.showingOrder.length + 1;
  while (Object.hasOwn(profile.showings, `show-${n}`)) n++;
  const id = `show-${n}`;
  return edit(profile, name, (draft) => {
    draft.showings[id] = { ...showing, id } as Draft<Showing>;
    draft.showingOrder.push(id);
  });
}

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
