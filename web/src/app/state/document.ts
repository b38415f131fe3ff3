import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import {
  bind,
  redo,
  rename,
  unbind,
  undo,
  type Edit,
  type Edited,
  type Profile,
} from '@rondo/core/profile';
import { documentActions } from './actions';

/** Where the open profile stands toward the server. */
export type SaveState = 'saved' | 'unsaved' | 'saving' | 'away' | 'stale' | 'refused';

export interface DocumentState {
  readonly profile: Profile | null;
  /** Revision on the server that the edits build on. */
  readonly revision: number;
  readonly save: SaveState;
  /** Revision that another window has saved, where `save` is stale. */
  readonly staleAt: number | null;
  /** Why it could not be opened or saved. */
  readonly message: string | null;
  readonly past: readonly Edit[];
  readonly future: readonly Edit[];
}

export const emptyDocument: DocumentState = {
  profile: null,
  revision: 0,
  save: 'saved',
  staleAt: null,
  message: null,
  past: [],
  future: [],
};

const MOST_UNDO = 500;

/** A stale or refused document stays so until the user has chosen; anything else is simply unsaved. */
const afterEdit = (save: SaveState): SaveState => (save === 'stale' ? save : 'unsaved');

function take(state: DocumentState, change: (profile: Profile) => Edited): DocumentState {
  if (!state.profile) return state;
  const { profile, edit } = change(state.profile);
  if (!edit) return state;
  return {
    ...state,
    profile,
    save: afterEdit(state.save),
    past: [...state.past, edit].slice(-MOST_UNDO),
    future: [],
  };
}

export const documentFeature = createFeature({
  name: 'document',
  reducer: createReducer(
    emptyDocument,
    on(documentActions.open, documentActions.close, () => emptyDocument),
    on(documentActions.opened, (_, { profile, revision, unsaved, staleAt }): DocumentState => ({
      ...emptyDocument,
      profile,
      revision,
      staleAt,
      save: staleAt !== null ? 'stale' : unsaved ? 'unsaved' : 'saved',
    })),
    on(documentActions.openFailed, (_, { message }): DocumentState => ({
      ...emptyDocument,
      message,
    })),
    on(documentActions.bind, (state, { name, control, action }) =>
      take(state, (profile) => bind(profile, name, control, action)),
    ),
    on(documentActions.unbind, (state, { name, control }) =>
      take(state, (profile) => unbind(profile, name, control)),
    ),
    on(documentActions.rename, (state, { name }) =>
      take(state, (profile) => rename(profile, name)),
    ),
    on(documentActions.undo, (state): DocumentState => {
      const edit = state.past.at(-1);
      const profile = edit && state.profile ? undo(state.profile, edit) : null;
      if (!edit || !profile) return state;
      return {
        ...state,
        profile,
        save: afterEdit(state.save),
        past: state.past.slice(0, -1),
        future: [...state.future, edit],
      };
    }),
    on(documentActions.redo, (state): DocumentState => {
      const edit = state.future.at(-1);
      const profile = edit && state.profile ? redo(state.profile, edit) : null;
      if (!edit || !profile) return state;
      return {
        ...state,
        profile,
        save: afterEdit(state.save),
        past: [...state.past, edit],
        future: state.future.slice(0, -1),
      };
    }),
    on(documentActions.saving, (state): DocumentState => ({ ...state, save: 'saving' })),
    on(documentActions.saved, (state, { profile, revision }): DocumentState =>
      state.profile?.id !== profile.id
        ? state
        : {
            ...state,
            revision,
            message: null,
            save: state.profile === profile ? 'saved' : 'unsaved',
          },
    ),
    on(documentActions.saveFailed, (state, { kind, message, revision }): DocumentState => ({
      ...state,
      save: kind,
      message,
      staleAt: kind === 'stale' ? revision : null,
    })),
    on(documentActions.keepMine, (state): DocumentState =>
      state.staleAt === null
        ? state
        : { ...state, revision: state.staleAt, staleAt: null, save: 'unsaved', message: null },
    ),
  ),
  extraSelectors: ({ selectPast, selectFuture }) => ({
    selectUndoName: createSelector(selectPast, (past) => past.at(-1)?.name ?? null),
    selectRedoName: createSelector(selectFuture, (future) => future.at(-1)?.name ?? null),
  }),
});
