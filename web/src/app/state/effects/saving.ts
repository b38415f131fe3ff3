import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import {
  debounceTime,
  delay,
  distinctUntilChanged,
  filter,
  from,
  fromEvent,
  map,
  mergeMap,
  pairwise,
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import { documentActions, listActions } from '../actions';
import { Api } from '../api';
import { selectStateOf, statesNow, type DocumentState } from '../document';
import { Drafts } from '../drafts';
import { KINDS, type AnyDocument, type Kind } from '../kinds';
import { Saving } from '../saving';
import { Steps } from '../steps';

const AUTOSAVE_MS = 300;
const RETRY_MS = 2_000;

/** The state of the open document of a kind, for what treats all kinds alike. */
const stateOf = (store: Store, kind: Kind): Observable<DocumentState<AnyDocument>> =>
  store.select<DocumentState<AnyDocument>>(selectStateOf[kind]);

/** The same for each kind of document. */
const ofEach = <T>(does: (kind: Kind) => Observable<T>): Observable<T> =>
  from(KINDS).pipe(mergeMap(does));

/** Keeps what is not acknowledged in this browser, edit by edit, until the server has it. */
export const keepDrafts = createEffect(
  (
    actions$ = inject(Actions),
    now = statesNow(inject(Store)),
    drafts = inject(Drafts),
    open = new Map<Kind, string>(),
  ) =>
    actions$.pipe(
      ofType(
        documentActions.open,
        documentActions.close,
        documentActions.opened,
        documentActions.leads,
        documentActions.edit,
        documentActions.undo,
        documentActions.redo,
        documentActions.ordered,
        documentActions.saved,
        documentActions.saveFailed,
        documentActions.keepMine,
        listActions.deleted,
      ),
      tap((action) => {
        const { kind } = action;
        const { document, leads, made, revision, save, staleAt } = now(kind);
        const last = open.get(kind);
        if (last !== undefined && last !== document?.id) {
          drafts.end(kind, last);
          open.delete(kind);
        }
        if (action.type === listActions.deleted.type) return void drafts.drop(kind, action.id);
        if (!document || !leads) return;
        const { id } = document;
        switch (action.type) {
          case documentActions.opened.type:
          case documentActions.leads.type:
            open.set(kind, id);
            drafts.begin(kind, document, revision, save === 'saved');
            if (staleAt !== null) drafts.answered(kind, id, { failure: 'stale', message: '' });
            return;
          case documentActions.edit.type:
          case documentActions.undo.type:
          case documentActions.redo.type:
            if (made) drafts.edited(kind, document, made.edit);
            return;
          case documentActions.ordered.type:
            if (action.id === id) drafts.edited(kind, document, action.edit.edit);
            return;
          case documentActions.saved.type:
            if (action.document.id === id) drafts.answered(kind, id, action);
            return;
          case documentActions.saveFailed.type: {
            const { failure, message } = action;
            if (action.id === id && failure !== 'away')
              drafts.answered(kind, id, { failure, message });
            return;
          }
          case documentActions.keepMine.type:
            drafts.builtOn(kind, id, revision);
        }
      }),
    ),
  { functional: true, dispatch: false },
);

/** Keeps the last edits in this browser, so that undo reaches over a reload. */
export const keepSteps = createEffect(
  (store = inject(Store), steps = inject(Steps)) =>
    ofEach((kind) =>
      stateOf(store, kind).pipe(
        filter(({ document, leads }) => document !== null && leads),
        distinctUntilChanged(
          (a, b) => a.past === b.past && a.future === b.future && a.document?.id === b.document?.id,
        ),
        tap((state) => void steps.keep(kind, state.document!.id, state)),
      ),
    ),
  { functional: true, dispatch: false },
);

/** A document that is closed here, or gives place to another one, keeps for this window what it can take back. */
export const keepOwnSteps = createEffect(
  (store = inject(Store), steps = inject(Steps)) =>
    ofEach((kind) =>
      stateOf(store, kind).pipe(
        pairwise(),
        tap(([before, after]) => {
          const { document } = before;
          if (document && document.id !== after.document?.id)
            steps.keepOwn(kind, document.id, before);
        }),
      ),
    ),
  { functional: true, dispatch: false },
);

/** A page that is left in the moment of an edit keeps it, and what it can be taken back by. */
export const keepOnLeaving = createEffect(
  (now = statesNow(inject(Store)), drafts = inject(Drafts), steps = inject(Steps)) =>
    fromEvent(window, 'pagehide').pipe(
      mergeMap(() => KINDS),
      tap((kind) => {
        const state = now(kind);
        const { document, revision, save, leads } = state;
        if (!document) return;
        steps.keepOwn(kind, document.id, state);
        if (!leads || save === 'saved') return;
        drafts.keepNow(kind, { revision, document });
        drafts.keepSentNow(kind, document.id);
        steps.keepNow(kind, document.id, state);
      }),
    ),
  { functional: true, dispatch: false },
);

/** Saves a moment after the last edit, one save of a document at a time. */
export const autosave = createEffect(
  (actions$ = inject(Actions), store = inject(Store), api = inject(Api), drafts = inject(Drafts)) =>
    ofEach((kind) => {
      const saving = new Saving(kind, api, drafts);
      return actions$.pipe(
        ofType(
          documentActions.opened,
          documentActions.edit,
          documentActions.undo,
          documentActions.redo,
          documentActions.saved,
          documentActions.retry,
          documentActions.tryAgain,
          documentActions.keepMine,
          documentActions.ordered,
          documentActions.leads,
        ),
        filter((action) => action.kind === kind),
        tap((action) => {
          if (action.type === documentActions.opened.type) saving.openedAnew(action.document.id);
        }),
        debounceTime(AUTOSAVE_MS),
        withLatestFrom(stateOf(store, kind)),
        map(([, state]) => state),
        filter(
          (now): now is typeof now & { document: AnyDocument } =>
            now.document !== null &&
            now.leads &&
            (now.save === 'unsaved' || now.save === 'away') &&
            !saving.isUnderWay(now.document.id),
        ),
        mergeMap(({ document, revision }) => {
          store.dispatch(documentActions.saving({ kind, id: document.id }));
          return saving.send(document, revision);
        }),
      );
    }),
  { functional: true },
);

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
