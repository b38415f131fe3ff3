import { createFeature, createReducer, on } from '@ngrx/store';
import { documentActions, listActions } from './actions';
import type { Summary } from './api';
import type { Kind } from './kinds';

export interface ListState {
  /** Null until it has been loaded once. */
  readonly documents: readonly Summary[] | null;
  readonly message: string | null;
}

const empty: ListState = { documents: null, message: null };

/** The stored documents of each kind. */
export const listFeature = createFeature({
  name: 'list',
  reducer: createReducer<Readonly<Record<Kind, ListState>>>(
    { profile: empty, surface: empty, host: empty },
    on(listActions.loaded, (state, { kind, documents }) => ({
      ...state,
      [kind]: { documents, message: null },
    })),
    // The open document is saved from elsewhere; the list need not be asked for again.
    on(documentActions.saved, (state, { kind, document, revision }) => ({
      ...state,
      [kind]: {
        ...state[kind],
        documents:
          state[kind].documents?.map((entry) =>
            entry.id === document.id ? { ...entry, name: document.name, revision } : entry,
          ) ?? null,
      },
    })),
    on(listActions.failed, (state, { kind, message }) => ({
      ...state,
      [kind]: { ...state[kind], message },
    })),
  ),
});
