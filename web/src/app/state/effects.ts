import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import {
  catchError,
  concatMap,
  debounceTime,
  delay,
  exhaustMap,
  filter,
  from,
  groupBy,
  map,
  mergeMap,
  of,
  switchMap,
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import { documentActions, libraryActions, listActions } from './actions';
import { Api, ApiError, freshId } from './api';
import { selectStateOf, type DocumentState } from './document';
import { Drafts } from './drafts';
import { SCREEN_OF, type AnyDocument, type Kind } from './kinds';

const AUTOSAVE_MS = 300;
const RETRY_MS = 2_000;

const words = (error: unknown): string =>
  error instanceof ApiError ? error.message : 'Rondo could not read the server’s answer.';

const listFailed = (kind: Kind) => (error: unknown) =>
  of(listActions.failed({ kind, message: words(error) }));

/** The state of the open document of a kind, for what treats all kinds alike. */
const stateOf = (store: Store, kind: Kind): Observable<DocumentState<AnyDocument>> =>
  store.select<DocumentState<AnyDocument>>(selectStateOf[kind]);

export const loadList = createEffect(
  (actions$ = inject(Actions), api = inject(Api)) =>
    actions$.pipe(
      ofType(listActions.load, listActions.changed),
      groupBy(({ kind }) => kind),
      mergeMap((ofKind) =>
        ofKind.pipe(
          switchMap(({ kind }) =>
            from(api.list(kind)).pipe(
              map((documents) => listActions.loaded({ kind, documents })),
              catchError(listFailed(kind)),
            ),
          ),
        ),
      ),
    ),
  { functional: true },
);

/** Changes of the lists go one after the other; each ends with the list loaded anew. */
export const changeList = createEffect(
  (actions$ = inject(Actions), api = inject(Api), router = inject(Router)) => {
    const done = (
      kind: Kind,
      work: Promise<unknown>,
    ): Observable<ReturnType<typeof listActions.changed | typeof listActions.failed>> =>
      from(work).pipe(
        map(() => listActions.changed({ kind })),
        catchError(listFailed(kind)),
      );
    const rename = async (kind: Kind, id: string, name: string): Promise<void> => {
      const { document, revision } = await api.open(kind, id);
      await api.save(kind, { ...document, name }, revision);
    };
    return actions$.pipe(
      ofType(listActions.create, listActions.duplicate, listActions.rename, listActions.restore),
      concatMap((action) => {
        const { kind } = action;
        switch (action.type) {
          case listActions.create.type:
            return done(
              kind,
              api.create(kind, action.document).then(() => {
                if (action.open) void router.navigate([SCREEN_OF[kind], action.document.id]);
              }),
            );
          case listActions.duplicate.type:
            return done(
              kind,
              api.open(kind, action.id).then(({ document }) => {
                const name = `${document.name.slice(0, 50)} (copy)`;
                return api.create(kind, { ...document, id: freshId(kind), name });
              }),
            );
          case listActions.rename.type:
            return done(kind, rename(kind, action.id, action.name));
          default:
            return done(kind, api.restore(kind, action.id));
        }
      }),
    );
  },
  { functional: true },
);

export const deleteDocument = createEffect(
  (actions$ = inject(Actions), api = inject(Api)) =>
    actions$.pipe(
      ofType(listActions.delete),
      concatMap(({ kind, id, name }) =>
        from(api.remove(kind, id)).pipe(
          mergeMap(() => [listActions.deleted({ kind, id, name }), listActions.changed({ kind })]),
          catchError(listFailed(kind)),
        ),
      ),
    ),
  { functional: true },
);

/** Says what was deleted, with the way back. */
export const offerRestore = createEffect(
  (actions$ = inject(Actions), messages = inject(MessageService)) =>
    actions$.pipe(
      ofType(listActions.deleted),
      tap(({ kind, id, name }) =>
        messages.add({
          key: 'undo',
          summary: `“${name}” is deleted.`,
          data: { kind, id },
          life: 12_000,
        }),
      ),
    ),
  { functional: true, dispatch: false },
);

/** Opens a document, with edits of this browser that the server has not acknowledged yet. */
export const openDocument = createEffect(
  (
    actions$ = inject(Actions),
    api = inject(Api),
    drafts = inject(Drafts),
    store = inject(Store),
  ) => {
    const current = {
      profile: store.selectSignal(selectStateOf.profile),
      surface: store.selectSignal(selectStateOf.surface),
      host: store.selectSignal(selectStateOf.host),
    };
    return actions$.pipe(
      ofType(documentActions.open, documentActions.takeTheirs),
      groupBy(({ kind }) => kind),
      mergeMap((ofKind) =>
        ofKind.pipe(
          switchMap((action) => {
            const { kind } = action;
            const isOpen = action.type === documentActions.open.type;
            const id = isOpen ? action.id : (current[kind]().document?.id ?? '');
            if (!isOpen) drafts.drop(kind, id);
            const draft = drafts.read(kind, id);
            return from(api.open(kind, id)).pipe(
              map(({ document, revision }) =>
                documentActions.opened(
                  draft
                    ? {
                        kind,
                        document: draft.document,
                        revision: draft.revision,
                        unsaved: true,
                        staleAt: draft.revision === revision ? null : revision,
                      }
                    : { kind, document, revision, unsaved: false, staleAt: null },
                ),
              ),
              catchError((error: unknown) =>
                of(
                  draft && error instanceof ApiError && error.kind === 'away'
                    ? documentActions.opened({ kind, ...draft, unsaved: true, staleAt: null })
                    : documentActions.openFailed({ kind, message: words(error) }),
                ),
              ),
            );
          }),
        ),
      ),
    );
  },
  { functional: true },
);

/** Keeps what is not acknowledged in this browser, and drops it once it is. */
function keepDraftOf(kind: Kind) {
  return createEffect(
    (store = inject(Store), drafts = inject(Drafts)) =>
      stateOf(store, kind).pipe(
        tap(({ document, revision, save }) => {
          if (!document) return;
          if (save === 'saved') drafts.drop(kind, document.id);
          else if (save !== 'saving') drafts.keep(kind, { revision, document });
        }),
      ),
    { functional: true, dispatch: false },
  );
}
export const keepProfileDraft = keepDraftOf('profile');
export const keepSurfaceDraft = keepDraftOf('surface');
export const keepHostDraft = keepDraftOf('host');

/** Saves a moment after the last edit, one save at a time. */
function autosaveOf(kind: Kind) {
  return createEffect(
    (actions$ = inject(Actions), store = inject(Store), api = inject(Api)) =>
      actions$.pipe(
        ofType(
          documentActions.opened,
          documentActions.edit,
          documentActions.undo,
          documentActions.redo,
          documentActions.saved,
          documentActions.retry,
          documentActions.keepMine,
        ),
        filter((action) => action.kind === kind),
        debounceTime(AUTOSAVE_MS),
        withLatestFrom(stateOf(store, kind)),
        filter(
          ([, { document, save }]) => document !== null && (save === 'unsaved' || save === 'away'),
        ),
        exhaustMap(([, { document, revision }]) => {
          const sent = document as AnyDocument;
          store.dispatch(documentActions.saving({ kind }));
          return from(api.save(kind, sent, revision)).pipe(
            map((saved) => documentActions.saved({ kind, document: sent, revision: saved })),
            catchError((error: unknown) =>
              of(
                documentActions.saveFailed({
                  kind,
                  failure:
                    error instanceof ApiError && error.kind !== 'missing' ? error.kind : 'refused',
                  message: words(error),
                  revision: error instanceof ApiError ? (error.revision ?? null) : null,
                }),
              ),
            ),
          );
        }),
      ),
    { functional: true },
  );
}
export const autosaveProfile = autosaveOf('profile');
export const autosaveSurface = autosaveOf('surface');
export const autosaveHost = autosaveOf('host');

/** While the server is away, tries again. */
export const retry = createEffect(
  (actions$ = inject(Actions)) =>
    actions$.pipe(
      ofType(documentActions.saveFailed),
      filter(({ failure }) => failure === 'away'),
      delay(RETRY_MS),
      map(({ kind }) => documentActions.retry({ kind })),
    ),
  { functional: true },
);

/** Fetches the user's own surfaces and hosts as they are needed. */
export const fetchNeeded = createEffect(
  (actions$ = inject(Actions), api = inject(Api)) =>
    actions$.pipe(
      ofType(libraryActions.need),
      mergeMap(({ kind, ids }) => ids.map((id) => ({ kind, id }))),
      mergeMap(({ kind, id }) =>
        from(api.open(kind, id)).pipe(
          map(({ document }) => libraryActions.got({ kind, document })),
          catchError((error: unknown) =>
            error instanceof ApiError && error.kind === 'away'
              ? of(libraryActions.need({ kind, ids: [id] })).pipe(delay(RETRY_MS))
              : of(libraryActions.missing({ kind, id })),
          ),
        ),
      ),
    ),
  { functional: true },
);
