import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import { isNext, redo } from '@rondo/core/document';
import { distinctUntilChanged, filter, from, map, mergeMap, tap } from 'rxjs';
import { documentActions, libraryActions, listActions } from '../actions';
import { Api } from '../api';
import { selectStateOf, statesNow, type DocumentState } from '../document';
import { Drafts } from '../drafts';
import { askAgain } from '../opening';
import { KINDS, readAs, type AnyDocument, type Kind } from '../kinds';
import { libraryFeature } from '../library';
import { MOST_KEPT } from '../steps';
import { Windows, type Standing, type Told } from '../windows';

type State = DocumentState<AnyDocument>;

const standingOf = ({ save, revision, staleAt, message }: State): Standing => ({
  save,
  revision,
  staleAt,
  message,
});

const isSame = (a: Standing, b: Standing): boolean =>
  a.save === b.save &&
  a.revision === b.revision &&
  a.staleAt === b.staleAt &&
  a.message === b.message;

/** Tells other windows everything that there is of a document, if this one leads. */
function tellAll(windows: Windows, kind: Kind, state: State): void {
  const { document, replica, leads } = state;
  if (!document || !replica || !leads) return;
  windows.tell({
    kind: 'state',
    of: kind,
    id: document.id,
    document: replica.agreed,
    seen: replica.seen,
    standing: standingOf(state),
  });
}

/** Tells of edits that are made here: in their order where this window leads, else as a question. */
export const tellEdits = createEffect(
  (
    actions$ = inject(Actions),
    windows = inject(Windows),
    now = statesNow(inject(Store)),
    told = new Map<Kind, unknown>(),
  ) =>
    actions$.pipe(
      ofType(documentActions.edit, documentActions.undo, documentActions.redo),
      tap(({ kind }) => {
        const { document, made, leads } = now(kind);
        if (!document || !made || told.get(kind) === made) return;
        told.set(kind, made);
        windows.tell({ kind: leads ? 'ordered' : 'ask', of: kind, id: document.id, edit: made });
      }),
    ),
  { functional: true, dispatch: false },
);

/** What a document that is open here makes of what another window tells. */
export const hearWindows = createEffect(
  (store = inject(Store), windows = inject(Windows), now = statesNow(inject(Store))) => {
    const hear = (message: Told): void => {
      const { of, id } = message;
      const state = now(of);
      const { replica, leads } = state;
      if (message.kind === 'replaced') {
        store.dispatch(listActions.replaced({ kind: of, id, by: message.by, isHeard: true }));
        return;
      }
      if (state.document?.id !== id || !replica) return;
      switch (message.kind) {
        case 'join':
          tellAll(windows, of, state);
          return;
        case 'ask':
          if (!leads || !isNext(replica, message.edit)) return;
          store.dispatch(documentActions.ordered({ kind: of, id, edit: message.edit }));
          windows.tell({ ...message, kind: 'ordered' });
          return;
        case 'ordered':
          if (leads) return;
          if (isNext(replica, message.edit))
            store.dispatch(documentActions.ordered({ kind: of, id, edit: message.edit }));
          else if (message.edit.n > (replica.seen[message.edit.from] ?? 0))
            // Something was missed.
            windows.tell({ kind: 'join', of, id });
          return;
        case 'state': {
          const read = readAs(of, message.document);
          if (leads || !read.ok) return;
          const { seen, standing } = message;
          store.dispatch(
            documentActions.followed({ kind: of, document: read.document, seen, standing }),
          );
          for (const edit of now(of).replica?.pending ?? [])
            windows.tell({ kind: 'ask', of, id, edit });
          return;
        }
        case 'standing':
          store.dispatch(documentActions.stands({ kind: of, id, standing: message.standing }));
          return;
        case 'choose':
          if (leads) store.dispatch(documentActions[message.what]({ kind: of }));
      }
    };
    return windows.told.pipe(tap(hear));
  },
  { functional: true, dispatch: false },
);

/** What is edited in another window and used here is here as it is there. */
export const hearLibrary = createEffect(
  (store = inject(Store), windows = inject(Windows)) => {
    const library = store.selectSignal(libraryFeature.selectLibraryState);
    return windows.told.pipe(
      tap((message) => {
        if (message.kind !== 'ordered' || message.of === 'profile') return;
        const { of, id, edit } = message;
        const known = of === 'surface' ? library().surfaces[id] : library().hosts[id];
        if (!known) return;
        const next = redo<AnyDocument>(known, edit.edit);
        store.dispatch(
          next
            ? libraryActions.got({ kind: of, document: next })
            : libraryActions.need({ kind: of, ids: [id] }),
        );
      }),
    );
  },
  { functional: true, dispatch: false },
);

/** What took the place of a document is shown at once wherever it is open, and said. */
export const showReplaced = createEffect(
  (
    actions$ = inject(Actions),
    store = inject(Store),
    windows = inject(Windows),
    messages = inject(MessageService),
    now = statesNow(inject(Store)),
  ) =>
    actions$.pipe(
      ofType(listActions.replaced),
      tap(({ kind, id, by, isHeard }) => {
        if (!isHeard) windows.tell({ kind: 'replaced', of: kind, id, by });
        store.dispatch(listActions.load({ kind }));
        if (kind !== 'profile') store.dispatch(libraryActions.need({ kind, ids: [id] }));
        const { document, leads, save } = now(kind);
        if (document?.id !== id) return;
        // What is not saved yet is the user's to choose, as wherever two have saved.
        if (leads && save === 'saved') store.dispatch(documentActions.takeTheirs({ kind }));
        messages.add({ key: 'said', summary: `“${document.name}” ${by}`, life: 12_000 });
      }),
    ),
  { functional: true, dispatch: false },
);

/** Tells all that there is of a document that has been opened or taken over here. */
export const tellState = createEffect(
  (actions$ = inject(Actions), windows = inject(Windows), now = statesNow(inject(Store))) =>
    actions$.pipe(
      ofType(documentActions.opened, documentActions.leads),
      tap(({ kind }) => tellAll(windows, kind, now(kind))),
    ),
  { functional: true, dispatch: false },
);

/** Tells where each document stands toward the server. */
export const tellStanding = createEffect(
  (store = inject(Store), windows = inject(Windows)) =>
    from(KINDS).pipe(
      mergeMap((kind) =>
        store.select<State>(selectStateOf[kind]).pipe(
          filter(({ document, leads }) => document !== null && leads),
          distinctUntilChanged(
            (a, b) => a.document?.id === b.document?.id && isSame(standingOf(a), standingOf(b)),
          ),
          tap((state) =>
            windows.tell({
              kind: 'standing',
              of: kind,
              id: state.document!.id,
              standing: standingOf(state),
            }),
          ),
        ),
      ),
    ),
  { functional: true, dispatch: false },
);

/** What is chosen in a window that follows is for the one that leads to do. */
export const tellChoice = createEffect(
  (actions$ = inject(Actions), windows = inject(Windows), now = statesNow(inject(Store))) =>
    actions$.pipe(
      ofType(documentActions.keepMine, documentActions.takeTheirs, documentActions.tryAgain),
      tap(({ kind, type }) => {
        const { document, leads } = now(kind);
        if (!document || leads) return;
        const what =
          type === documentActions.keepMine.type
            ? 'keepMine'
            : type === documentActions.takeTheirs.type
              ? 'takeTheirs'
              : 'tryAgain';
        windows.tell({ kind: 'choose', of: kind, id: document.id, what });
      }),
    ),
  { functional: true, dispatch: false },
);

/** The window that led is gone: this one takes over what it has not saved. */
export const takeOver = createEffect(
  (
    windows = inject(Windows),
    api = inject(Api),
    drafts = inject(Drafts),
    now = statesNow(inject(Store)),
  ) =>
    windows.led.pipe(
      mergeMap(async ({ kind, id }) => {
        // It may have sent a save whose answer nobody has heard.
        const saved = await askAgain(api, drafts, kind, id).catch(() => null);
        const { revision, staleAt } = now(kind);
        const builtOn = saved?.base === revision ? saved.revision : revision;
        return documentActions.leads({ kind, id, revision: builtOn, staleAt });
      }),
    ),
  { functional: true },
);

/** Leaves a document that is closed here, so that another window may lead in it. */
export const leave = createEffect(
  (actions$ = inject(Actions), windows = inject(Windows), now = statesNow(inject(Store))) =>
    actions$.pipe(
      ofType(documentActions.close, documentActions.openFailed, listActions.deleted),
      tap(({ kind }) => {
        if (now(kind).document === null) windows.leave(kind);
      }),
    ),
  { functional: true, dispatch: false },
);

/** Says that a step could not be done, what stands in its way, and how to go on. */
export const sayRefused = createEffect(
  (store = inject(Store), messages = inject(MessageService)) =>
    from(KINDS).pipe(
      mergeMap((kind) =>
        store.select<State>(selectStateOf[kind]).pipe(
          map(({ refused }) => refused),
          distinctUntilChanged(),
          map((refused) => ({ kind, refused })),
        ),
      ),
      tap(({ kind, refused }) => {
        messages.clear('step');
        if (!refused) return;
        const { name, by, way } = refused;
        if (way === 'end') {
          messages.add({ key: 'said', summary: STEPS_END, life: 6_000 });
          return;
        }
        messages.add({
          key: 'step',
          severity: 'warn',
          summary: `“${name}” ${NOT_DONE[way]}`,
          detail: by
            ? `“${by}”, from another window, has changed the same place since.`
            : 'The same place has been changed since, in another window or browser, or by an import.',
          data: { kind, canBeLeftOut: way !== 'edit' },
          sticky: true,
        });
      }),
    ),
  { functional: true, dispatch: false },
);

const STEPS_END = `Nothing older can be taken back: the last ${MOST_KEPT} steps are kept when a page is opened again. Earlier states are under Versions.`;

const NOT_DONE = {
  undo: 'was not taken back.',
  redo: 'was not done again.',
  edit: 'was not done.',
} as const;
