import { createFeature, createReducer, on } from '@ngrx/store';
import { listActions } from './actions';
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
    on(listActions.failed, (state, { message }): ListState => ({ ...state, message })),
  ),
});
