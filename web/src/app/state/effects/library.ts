import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, delay, from, map, mergeMap, of } from 'rxjs';
import { libraryActions } from '../actions';
import { Api, ApiError } from '../api';

const RETRY_MS = 2_000;

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
            error instanceof ApiError && (error.kind === 'away' || error.kind === 'failed')
              ? of(libraryActions.need({ kind, ids: [id] })).pipe(delay(RETRY_MS))
              : of(libraryActions.missing({ kind, id })),
          ),
        ),
      ),
    ),
  { functional: true },
);
