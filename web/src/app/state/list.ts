import { createFeature, createReducer, on } from '@ngrx/store';
import { documentActions, listActions } from './actions';
import type { ProfileSummary } from './api';

export interface ListState {
  /** Null until it has been loaded once. */
  readonly profiles: readonly ProfileSummary[] | null;
  readonly message: string | null;
}

export const listFeature = createFeature({
  name: 'list',
  reducer: createReducer<ListState>(
    { profiles: null, message: null },
    on(listActions.loaded, (_, { profiles }): ListState => ({ profiles, message: null })),
    // The open profile is saved from elsewhere; the list need not be asked for again.
    on(documentActions.saved, (state, { profile, revision }): ListState => ({
      ...state,
      profiles:
        state.profiles?.map((entry) =>
          entry.id === profile.id ? { ...entry, name: profile.name, revision } : entry,
        ) ?? null,
    })),
    on(listActions.failed, (state, { message }): ListState => ({ ...state, message })),
  ),
});
