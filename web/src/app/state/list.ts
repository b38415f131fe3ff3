import { createEntityAdapter, type EntityState } from '@ngrx/entity';
import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import { documentActions, listActions } from './actions';
import type { Summary } from './api';
import type { Kind } from './kinds';

/** A list as it is shown. */
export interface ListState {
  /** Null until it has been loaded once. */
  readonly documents: readonly Summary[] | null;
  readonly message: string | null;
}

interface Stored extends EntityState<Summary> {
  readonly isLoaded: boolean;
  readonly message: string | null;
}

/** In the order in which the server tells them. */
const adapter = createEntityAdapter<Summary>();
const empty: Stored = adapter.getInitialState({ isLoaded: false, message: null });

/** The stored documents of each kind. */
export const listFeature = createFeature({
  name: 'list',
  reducer: createReducer<Readonly<Record<Kind, Stored>>>(
    { profile: empty, surface: empty, host: empty },
    on(listActions.loaded, (state, { kind, documents }) => ({
      ...state,
      [kind]: adapter.setAll(documents, { ...state[kind], isLoaded: true, message: null }),
    })),
    // The open document is saved from elsewhere; the list need not be asked for again.
    on(documentActions.saved, (state, { kind, document: { id, name }, revision }) => ({
      ...state,
      [kind]: adapter.updateOne({ id, changes: { name, revision } }, state[kind]),
    })),
    on(listActions.failed, (state, { kind, message }) => ({
      ...state,
      [kind]: { ...state[kind], message },
    })),
  ),
});

const { selectAll } = adapter.getSelectors();
const shown = (select: (state: object) => Stored) =>
  createSelector(select, (stored): ListState => ({
    documents: stored.isLoaded ? selectAll(stored) : null,
    message: stored.message,
  }));

/** The list of each kind. */
export const selectListOf = {
  profile: shown(listFeature.selectProfile),
  surface: shown(listFeature.selectSurface),
  host: shown(listFeature.selectHost),
};
