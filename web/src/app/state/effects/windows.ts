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

/** Says that a step could not be taken back, since another window has changed the same since. */
export const sayLost = createEffect(
  (store = inject(Store), messages = inject(MessageService)) =>
    from(KINDS).pipe(
      mergeMap((kind) =>
        store.select<State>(selectStateOf[kind]).pipe(
          map(({ lost }) => lost),
          distinctUntilChanged(),
        ),
      ),
      filter((lost) => lost !== null),
      tap(({ name }) =>
        messages.add({
          key: 'said',
          summary: `“${name}” stays: the same place has been changed since.`,
          life: 8_000,
        }),
      ),
    ),
  { functional: true, dispatch: false },
);
