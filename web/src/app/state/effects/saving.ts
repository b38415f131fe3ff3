import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import {
  debounceTime,
  delay,
  distinctUntilChanged,
  filter,
  fromEvent,
  map,
  mergeMap,
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import { documentActions } from '../actions';
import { Api } from '../api';
import { selectStateOf, type DocumentState } from '../document';
import { Drafts } from '../drafts';
import type { AnyDocument, Kind } from '../kinds';
import { Saving } from '../saving';
import { Steps } from '../steps';

const AUTOSAVE_MS = 300;
const RETRY_MS = 2_000;

/** The state of the open document of a kind, for what treats all kinds alike. */
const stateOf = (store: Store, kind: Kind): Observable<DocumentState<AnyDocument>> =>
  store.select<DocumentState<AnyDocument>>(selectStateOf[kind]);

/** Keeps what is not acknowledged in this browser, and drops it once it is. */
function keepDraftOf(kind: Kind) {
  return createEffect(
    (store = inject(Store), drafts = inject(Drafts)) =>
      stateOf(store, kind).pipe(
        tap(({ document, revision, save, leads }) => {
          if (!document || !leads) return;
          if (save === 'saved') void drafts.drop(kind, document.id);
          else if (save !== 'saving') void drafts.keep(kind, { revision, document });
        }),
      ),
    { functional: true, dispatch: false },
  );
}
export const keepProfileDraft = keepDraftOf('profile');
export const keepSurfaceDraft = keepDraftOf('surface');
export const keepHostDraft = keepDraftOf('host');

/** Keeps the last edits in this browser, so that undo reaches over a reload. */
function keepStepsOf(kind: Kind) {
  return createEffect(
    (store = inject(Store), steps = inject(Steps)) =>
      stateOf(store, kind).pipe(
        filter(({ document, leads }) => document !== null && leads),
        distinctUntilChanged(
          (a, b) => a.past === b.past && a.future === b.future && a.document?.id === b.document?.id,
        ),
        tap((state) => void steps.keep(kind, state.document!.id, state)),
      ),
    { functional: true, dispatch: false },
  );
}
export const keepProfileSteps = keepStepsOf('profile');
export const keepSurfaceSteps = keepStepsOf('surface');
export const keepHostSteps = keepStepsOf('host');

/** A page that is left in the moment of an edit keeps it, and what it can be taken back by. */
function keepOnLeavingOf(kind: Kind) {
  return createEffect(
    (store = inject(Store), drafts = inject(Drafts), steps = inject(Steps)) =>
      fromEvent(window, 'pagehide').pipe(
        withLatestFrom(stateOf(store, kind)),
        tap(([, state]) => {
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
}
export const keepProfileOnLeaving = keepOnLeavingOf('profile');
export const keepSurfaceOnLeaving = keepOnLeavingOf('surface');
export const keepHostOnLeaving = keepOnLeavingOf('host');

/** Saves a moment after the last edit, one save of a document at a time. */
function autosaveOf(kind: Kind) {
  return createEffect(
    (
      actions$ = inject(Actions),
      store = inject(Store),
      saving = new Saving(kind, inject(Api), inject(Drafts)),
    ) =>
      actions$.pipe(
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
