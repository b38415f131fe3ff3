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
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import { documentActions } from '../actions';
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

/** Keeps what is not acknowledged in this browser, and drops it once it is. */
export const keepDrafts = createEffect(
  (store = inject(Store), drafts = inject(Drafts)) =>
    ofEach((kind) =>
      stateOf(store, kind).pipe(
        tap(({ document, revision, save, leads }) => {
          if (!document || !leads) return;
          if (save === 'saved') void drafts.drop(kind, document.id);
          else if (save !== 'saving') void drafts.keep(kind, { revision, document });
        }),
      ),
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
