import { createFeature, createReducer, on, type ActionReducer } from '@ngrx/store';
import { redo, undo, type Edit } from '@rondo/core/document';
import { documentActions, listActions } from './actions';
import type { Documents, Kind } from './kinds';

/** Where an open document stands toward the server. */
export type SaveState = 'saved' | 'unsaved' | 'saving' | 'away' | 'stale' | 'refused';

export interface DocumentState<T> {
  readonly document: T | null;
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

const NOTHING_OPEN = {
  document: null,
  revision: 0,
  save: 'saved',
  staleAt: null,
  message: null,
  past: [],
  future: [],
} as const satisfies DocumentState<never>;

export const nothingOpen = <T>(): DocumentState<T> => NOTHING_OPEN;

const MOST_UNDO = 500;

/** A stale or refused document stays so until the user has chosen; anything else is simply unsaved. */
const afterEdit = (save: SaveState): SaveState => (save === 'stale' ? save : 'unsaved');

/** The state of the open document of one kind. */
export function reducerOf<K extends Kind>(kind: K): ActionReducer<DocumentState<Documents[K]>> {
  type State = DocumentState<Documents[K]>;
  type Does =
    | (typeof documentActions)[keyof typeof documentActions]
    | (typeof listActions)['copyFailed' | 'deleted'];
  /** Acts on this kind only. */
  const own =
    <A extends { kind: Kind }>(change: (state: State, action: A) => State) =>
    (state: State, action: A): State =>
      action.kind === kind ? change(state, action) : state;
  const step = (state: State, from: 'past' | 'future'): State => {
    const edit = state[from].at(-1);
    if (!edit || !state.document) return state;
    const document = (from === 'past' ? undo : redo)(state.document, edit);
    if (!document) return state;
    const to = from === 'past' ? 'future' : 'past';
    return {
      ...state,
      document,
      save: afterEdit(state.save),
      [from]: state[from].slice(0, -1),
      [to]: [...state[to], edit],
    };
  };
  const reducer = createReducer<State, ReturnType<Does>>(
    nothingOpen(),
    on(
      documentActions.open,
      documentActions.close,
      own(() => nothingOpen()),
    ),
    on(
      documentActions.opened,
      own((_, { document, revision, unsaved, staleAt }) => ({
        ...nothingOpen<Documents[K]>(),
        document: document as Documents[K],
        revision,
        staleAt,
        save: staleAt !== null ? 'stale' : unsaved ? 'unsaved' : 'saved',
      })),
    ),
    on(listActions.deleted, (state, { kind: of, id }) =>
      of === kind && state.document?.id === id ? nothingOpen() : state,
    ),
    on(
      documentActions.openFailed,
      own((_, { message }) => ({ ...nothingOpen<Documents[K]>(), message })),
    ),
    on(
      documentActions.edit,
      own((state, { edit }) => {
        const document = state.document && redo(state.document, edit);
        return document
          ? {
              ...state,
              document,
              save: afterEdit(state.save),
              past: [...state.past, edit].slice(-MOST_UNDO),
              future: [],
            }
          : state;
      }),
    ),
    on(
      documentActions.undo,
      own((state) => step(state, 'past')),
    ),
    on(
      documentActions.redo,
      own((state) => step(state, 'future')),
    ),
    on(
      documentActions.saving,
      own((state, { id }) => (state.document?.id === id ? { ...state, save: 'saving' } : state)),
    ),
    on(
      documentActions.saved,
      own((state, { document, revision }) =>
        state.document?.id !== document.id
          ? state
          : {
              ...state,
              revision,
              message: null,
              save: state.document === document ? 'saved' : 'unsaved',
            },
      ),
    ),
    on(
      documentActions.saveFailed,
      own((state, { id, failure, message, revision }) =>
        // A fault of one document is no fault of another that has been opened meanwhile.
        state.document?.id !== id
          ? state
          : { ...state, save: failure, message, staleAt: failure === 'stale' ? revision : null },
      ),
    ),
    on(
      documentActions.tryAgain,
      own((state) =>
        state.save === 'refused' ? { ...state, save: 'unsaved', message: null } : state,
      ),
    ),
    on(
      listActions.copyFailed,
      own((state, { id, message }) =>
        state.document?.id === id
          ? { ...state, message: `The copy was not stored. ${message}` }
          : state,
      ),
    ),
    on(
      documentActions.keepMine,
      own((state) =>
        state.staleAt === null
          ? state
          : { ...state, revision: state.staleAt, staleAt: null, save: 'unsaved', message: null },
      ),
    ),
  );
  return reducer as ActionReducer<State>;
}

export const profileFeature = createFeature<'profile', DocumentState<Documents['profile']>>({
  name: 'profile',
  reducer: reducerOf('profile'),
});

export const surfaceFeature = createFeature<'surface', DocumentState<Documents['surface']>>({
  name: 'surface',
  reducer: reducerOf('surface'),
});

export const hostFeature = createFeature<'host', DocumentState<Documents['host']>>({
  name: 'host',
  reducer: reducerOf('host'),
});

/** The state of the open document of a kind. */
export const selectStateOf: {
  readonly [K in Kind]: (state: object) => DocumentState<Documents[K]>;
} = {
  profile: profileFeature.selectProfileState,
  surface: surfaceFeature.selectSurfaceState,
  host: hostFeature.selectHostState,
};

/** What undo would take back and redo would do again; null where there is nothing. */
export const lastNames = ({ past, future }: DocumentState<unknown>) => ({
  undo: past.at(-1)?.name ?? null,
  redo: future.at(-1)?.name ?? null,
});
