import { untracked } from '@angular/core';
import { createFeature, createReducer, on, type ActionReducer, type Store } from '@ngrx/store';
import {
  follow,
  isSameJson,
  lead,
  make,
  order,
  placesInTheWay,
  redo,
  replicaOf,
  reversed,
  shown,
  touches,
  type Edit,
  type Numbered,
  type Replica,
} from '@rondo/core/document';
import { documentActions, listActions } from './actions';
import { KINDS, type AnyDocument, type Documents, type Kind } from './kinds';

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
  /** There were more steps before the first of `past`, which are not kept. */
  readonly isCut: boolean;
  /** The document among the windows that have it open; `document` is what it shows. */
  readonly replica: Replica<T> | null;
  /** This window's name among them, and whether it leads: orders the edits, and alone saves. */
  readonly me: string;
  readonly leads: boolean;
  /** The newest edit that was made in this window. */
  readonly made: Numbered | null;
  /** What others have changed since it was opened here, the last of it at the end. */
  readonly others: readonly Edit[];
  /** The step that was refused last; it is the next one still. */
  readonly refused: RefusedStep | null;
}

/** A step that does not find the document as it left it, or an edit that came too late. */
export interface RefusedStep {
  readonly name: string;
  /**
   * Whether it was to be taken back, done again, or done for the first time in a window that follows; or whether it is one
   * of those before the first that is kept.
   */
  readonly way: 'undo' | 'redo' | 'edit' | 'end';
  /** What was changed there meanwhile by another hand; null where that was not heard of. */
  readonly by: string | null;
}

const NOTHING_OPEN = {
  document: null,
  revision: 0,
  save: 'saved',
  staleAt: null,
  message: null,
  past: [],
  future: [],
  isCut: false,
  replica: null,
  me: '',
  leads: true,
  made: null,
  others: [],
  refused: null,
} as const satisfies DocumentState<never>;

export const nothingOpen = <T>(): DocumentState<T> => NOTHING_OPEN;

const MOST_UNDO = 500;
/** So many of what others have changed are remembered, to say what stands in the way of a step. */
const MOST_OTHERS = 200;

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
  /** Makes an edit in this window; null where it does not apply. */
  const changed = (state: State, edit: Edit): State | null => {
    const { replica, me, leads } = state;
    if (!replica || !state.document) return null;
    const made = { from: me, n: (state.made?.n ?? replica.seen[me] ?? 0) + 1, edit };
    if (leads) {
      const { replica: next, applied } = order(replica, made);
      return applied
        ? { ...state, replica: next, document: next.agreed, made, save: afterEdit(state.save) }
        : null;
    }
    const document = redo(state.document, edit);
    return document && { ...state, replica: make(replica, made), document, made };
  };
  /** What another hand has changed last at the places that an edit does not find as it left them. */
  const inTheWayOf = ({ document, others }: State, edit: Edit): string | null => {
    if (!document) return null;
    const places = placesInTheWay(document, edit);
    return others.findLast((other) => touches(other, places))?.name ?? null;
  };
  const step = (state: State, from: 'past' | 'future'): State => {
    const edit = state[from].at(-1);
    if (!edit)
      return from === 'past' && state.isCut
        ? { ...state, refused: { name: '', way: 'end', by: null } }
        : state;
    const wanted = from === 'past' ? reversed(edit) : edit;
    const next = changed(state, wanted);
    // It stays where it is: what is in its way may be taken back, or it is left out on purpose.
    if (!next) {
      const way = from === 'past' ? 'undo' : 'redo';
      return { ...state, refused: { name: edit.name, way, by: inTheWayOf(state, wanted) } };
    }
    const to = from === 'past' ? 'future' : 'past';
    return {
      ...next,
      [from]: state[from].slice(0, -1),
      [to]: [...state[to], edit],
      refused: null,
    };
  };
  /** An edit of this window was not done, since another's came first: it is no step any more, and that is said. */
  const withoutOwn = (state: State, { edit }: Numbered): State => {
    const at = state.past.findLastIndex((one) => isSameJson(one, edit));
    return {
      ...state,
      past: at < 0 ? state.past : state.past.toSpliced(at, 1),
      refused: { name: edit.name, way: 'edit', by: inTheWayOf(state, edit) },
    };
  };
  /** The same document, as the windows have it now. */
  const withReplica = (state: State, replica: Replica<Documents[K]>): State => ({
    ...state,
    replica,
    document: shown(replica),
  });
  const reducer = createReducer<State, ReturnType<Does>>(
    nothingOpen(),
    on(
      documentActions.open,
      documentActions.close,
      own(() => nothingOpen()),
    ),
    on(
      documentActions.opened,
      own((_, { document, revision, unsaved, staleAt, among, steps }) => ({
        ...nothingOpen<Documents[K]>(),
        document: document as Documents[K],
        replica: { ...replicaOf(document as Documents[K]), seen: among?.seen ?? {} },
        me: among?.me ?? '',
        leads: among?.leads ?? true,
        past: steps?.past ?? [],
        future: steps?.future ?? [],
        isCut: steps?.isCut ?? false,
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
        const next = changed(state, edit);
        return next
          ? {
              ...next,
              past: [...state.past, edit].slice(-MOST_UNDO),
              future: [],
              isCut: state.isCut || state.past.length >= MOST_UNDO,
              refused: null,
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
      documentActions.leaveOut,
      own((state) => {
        const { refused } = state;
        if (!refused) return state;
        const from = refused.way === 'redo' ? 'future' : 'past';
        const isStep = refused.way === 'undo' || refused.way === 'redo';
        const isNext = isStep && state[from].at(-1)?.name === refused.name;
        return { ...state, refused: null, ...(isNext && { [from]: state[from].slice(0, -1) }) };
      }),
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
    on(
      documentActions.ordered,
      own((state, { id, edit }) => {
        if (state.document?.id !== id || !state.replica) return state;
        const { replica, applied } = order(state.replica, edit);
        if (replica === state.replica) return state;
        const next = withReplica(state, replica);
        if (edit.from === state.me) return applied ? next : withoutOwn(next, edit);
        if (!applied) return next;
        const others = [...state.others, edit.edit].slice(-MOST_OTHERS);
        return { ...next, others, save: state.leads ? afterEdit(state.save) : state.save };
      }),
    ),
    on(
      documentActions.followed,
      own((state, { document, seen, standing }) => {
        if (state.document?.id !== document.id || !state.replica || state.leads) return state;
        const agreed = document as Documents[K];
        return { ...withReplica(state, follow(state.replica, { agreed, seen })), ...standing };
      }),
    ),
    on(
      documentActions.stands,
      own((state, { id, standing }) =>
        state.document?.id === id && !state.leads ? { ...state, ...standing } : state,
      ),
    ),
    on(
      documentActions.leads,
      own((state, { id, revision, staleAt }) => {
        if (state.document?.id !== id || !state.replica) return state;
        const hasMore = state.replica.pending.length > 0 || state.save !== 'saved';
        const save = staleAt !== null ? 'stale' : hasMore ? 'unsaved' : 'saved';
        const next = withReplica(state, lead(state.replica));
        return { ...next, leads: true, revision, staleAt, save, message: null };
      }),
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

/** The state of the open document of a kind, as it is at this moment. */
export function statesNow(store: Store): (kind: Kind) => DocumentState<AnyDocument> {
  const now = new Map(
    KINDS.map((kind) => [
      kind,
      store.selectSignal<DocumentState<AnyDocument>>(selectStateOf[kind]),
    ]),
  );
  // Whoever acts on what is so now does not wait for what it becomes.
  return (kind) => untracked(now.get(kind)!);
}

/** What undo would take back and redo would do again; null where there is nothing. */
export const lastNames = ({ past, future, isCut }: DocumentState<unknown>) => ({
  undo: past.at(-1)?.name ?? (isCut ? 'no more steps are kept' : null),
  redo: future.at(-1)?.name ?? null,
});
