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
  map,
  mergeMap,
  of,
  switchMap,
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import type { Profile } from '@rondo/core/profile';
import { documentActions, listActions } from './actions';
import { Api, ApiError, freshId } from './api';
import { documentFeature } from './document';
import { Drafts } from './drafts';

const AUTOSAVE_MS = 300;
const RETRY_MS = 2_000;

const words = (error: unknown): string =>
  error instanceof ApiError ? error.message : 'Rondo could not read the server’s answer.';

export const loadList = createEffect(
  (actions$ = inject(Actions), api = inject(Api)) =>
    actions$.pipe(
      ofType(listActions.load, listActions.changed),
      switchMap(() =>
        from(api.list()).pipe(
          map((profiles) => listActions.loaded({ profiles })),
          catchError((error: unknown) => of(listActions.failed({ message: words(error) }))),
        ),
      ),
    ),
  { functional: true },
);

/** Changes of the list go one after the other; each ends with the list loaded anew. */
export const changeList = createEffect(
  (actions$ = inject(Actions), api = inject(Api), router = inject(Router)) => {
    const done = (
      work: Promise<unknown>,
    ): Observable<ReturnType<typeof listActions.changed | typeof listActions.failed>> =>
      from(work).pipe(
        map(() => listActions.changed()),
        catchError((error: unknown) => of(listActions.failed({ message: words(error) }))),
      );
    const change = async (id: string, to: (profile: Profile) => Profile): Promise<void> => {
      const { profile, revision } = await api.open(id);
      await api.save(to(profile), revision);
    };
    return actions$.pipe(
      ofType(listActions.create, listActions.duplicate, listActions.rename, listActions.restore),
      concatMap((action) => {
        switch (action.type) {
          case listActions.create.type:
            return done(
              api.create(action.profile).then(() => {
                if (action.open) void router.navigate(['/bind', action.profile.id]);
              }),
            );
          case listActions.duplicate.type:
            return done(
              api
                .open(action.id)
                .then(({ profile }) =>
                  api.create({ ...profile, id: freshId(), name: `${profile.name} (copy)` }),
                ),
            );
          case listActions.rename.type:
            return done(change(action.id, (profile) => ({ ...profile, name: action.name })));
          default:
            return done(api.restore(action.id));
        }
      }),
    );
  },
  { functional: true },
);

export const deleteProfile = createEffect(
  (actions$ = inject(Actions), api = inject(Api)) =>
    actions$.pipe(
      ofType(listActions.delete),
      concatMap(({ id, name }) =>
        from(api.remove(id)).pipe(
          mergeMap(() => [listActions.deleted({ id, name }), listActions.changed()]),
          catchError((error: unknown) => of(listActions.failed({ message: words(error) }))),
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
      tap(({ id, name }) =>
        messages.add({ key: 'undo', summary: `“${name}” is deleted.`, data: { id }, life: 12_000 }),
      ),
    ),
  { functional: true, dispatch: false },
);

/** Opens a profile, with edits of this browser that the server has not acknowledged yet. */
export const openProfile = createEffect(
  (actions$ = inject(Actions), api = inject(Api), drafts = inject(Drafts), store = inject(Store)) =>
    actions$.pipe(
      ofType(documentActions.open, documentActions.takeTheirs),
      withLatestFrom(store.select(documentFeature.selectProfile)),
      switchMap(([action, current]) => {
        const id = action.type === documentActions.open.type ? action.id : (current?.id ?? '');
        if (action.type === documentActions.takeTheirs.type) drafts.drop(id);
        const draft = drafts.read(id);
        return from(api.open(id)).pipe(
          map(({ profile, revision }) =>
            documentActions.opened(
              draft
                ? {
                    profile: draft.profile,
                    revision: draft.revision,
                    unsaved: true,
                    staleAt: draft.revision === revision ? null : revision,
                  }
                : { profile, revision, unsaved: false, staleAt: null },
            ),
          ),
          catchError((error: unknown) =>
            of(
              draft && error instanceof ApiError && error.kind === 'away'
                ? documentActions.opened({ ...draft, unsaved: true, staleAt: null })
                : documentActions.openFailed({ message: words(error) }),
            ),
          ),
        );
      }),
    ),
  { functional: true },
);

/** Keeps what is not acknowledged in this browser, and drops it once it is. */
export const keepDraft = createEffect(
  (store = inject(Store), drafts = inject(Drafts)) =>
    store.select(documentFeature.selectDocumentState).pipe(
      tap(({ profile, revision, save }) => {
        if (!profile) return;
        if (save === 'saved') drafts.drop(profile.id);
        else if (save !== 'saving') drafts.keep({ revision, profile });
      }),
    ),
  { functional: true, dispatch: false },
);

/** Saves a moment after the last edit, one save at a time. */
export const autosave = createEffect(
  (actions$ = inject(Actions), store = inject(Store), api = inject(Api)) =>
    actions$.pipe(
      ofType(
        documentActions.opened,
        documentActions.bind,
        documentActions.unbind,
        documentActions.rename,
        documentActions.undo,
        documentActions.redo,
        documentActions.saved,
        documentActions.retry,
        documentActions.keepMine,
      ),
      debounceTime(AUTOSAVE_MS),
      withLatestFrom(store.select(documentFeature.selectDocumentState)),
      filter(
        ([, { profile, save }]) => profile !== null && (save === 'unsaved' || save === 'away'),
      ),
      exhaustMap(([, { profile, revision }]) => {
        const sent = profile as Profile;
        store.dispatch(documentActions.saving());
        return from(api.save(sent, revision)).pipe(
          map((saved) => documentActions.saved({ profile: sent, revision: saved })),
          catchError((error: unknown) =>
            of(
              documentActions.saveFailed({
                kind:
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

/** While the server is away, tries again. */
export const retry = createEffect(
  (actions$ = inject(Actions)) =>
    actions$.pipe(
      ofType(documentActions.saveFailed),
      filter(({ kind }) => kind === 'away'),
      delay(RETRY_MS),
      map(() => documentActions.retry()),
    ),
  { functional: true },
);
