import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import {
  catchError,
  concatMap,
  from,
  groupBy,
  map,
  mergeMap,
  of,
  switchMap,
  tap,
  type Observable,
} from 'rxjs';
import { documentActions, listActions } from '../actions';
import { Api, freshId, words } from '../api';
import { Drafts } from '../drafts';
import { SCREEN_OF, type Kind } from '../kinds';
import { Windows } from '../windows';

const listFailed = (kind: Kind) => (error: unknown) =>
  of(listActions.failed({ kind, message: words(error) }));

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
  (
    actions$ = inject(Actions),
    api = inject(Api),
    router = inject(Router),
    store = inject(Store),
    drafts = inject(Drafts),
    windows = inject(Windows),
  ) => {
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
    const create = async (action: ReturnType<typeof listActions.create>): Promise<void> => {
      const { kind, document, copyOf } = action;
      try {
        await api.create(kind, document);
      } catch (error) {
        if (copyOf === undefined) throw error;
        store.dispatch(listActions.copyFailed({ kind, id: copyOf, message: words(error) }));
        return;
      }
      // The edits live on in the copy: what they were made in is as the server has it.
      if (copyOf !== undefined) {
        windows.tell({ kind: 'choose', of: kind, id: copyOf, what: 'takeTheirs' });
        store.dispatch(documentActions.close({ kind }));
        await drafts.drop(kind, copyOf);
      }
      if (action.open) void router.navigate([SCREEN_OF[kind], document.id]);
    };
    return actions$.pipe(
      ofType(listActions.create, listActions.duplicate, listActions.rename, listActions.restore),
      concatMap((action) => {
        const { kind } = action;
        switch (action.type) {
          case listActions.create.type:
            return done(kind, create(action));
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
