import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { EMPTY, from, groupBy, map, mergeMap, switchMap } from 'rxjs';
import { documentActions } from '../actions';
import { Api } from '../api';
import { statesNow } from '../document';
import { Drafts } from '../drafts';
import { joined, opened } from '../opening';
import { Steps } from '../steps';
import { Windows } from '../windows';

/** Opens a document, with edits of this browser that the server has not acknowledged yet. */
export const openDocument = createEffect(
  (
    actions$ = inject(Actions),
    api = inject(Api),
    drafts = inject(Drafts),
    now = statesNow(inject(Store)),
    windows = inject(Windows),
    steps = inject(Steps),
  ) => {
    return actions$.pipe(
      ofType(documentActions.open, documentActions.takeTheirs),
      groupBy(({ kind }) => kind),
      mergeMap((ofKind) =>
        ofKind.pipe(
          switchMap((action) => {
            const { kind } = action;
            const isOpen = action.type === documentActions.open.type;
            if (isOpen) return from(joined(windows, api, drafts, steps, kind, action.id));
            const { document, leads, me, replica } = now(kind);
            // The window that leads takes them, and tells.
            if (!document || !replica || !leads) return EMPTY;
            // The order goes on: other windows count theirs from where they are.
            const among = { me, leads, seen: replica.seen };
            return from(opened(api, drafts, kind, document.id, true)).pipe(
              map((action) =>
                action.type === documentActions.opened.type ? { ...action, among } : action,
              ),
            );
          }),
        ),
      ),
    );
  },
  { functional: true },
);
