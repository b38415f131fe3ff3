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
import { Api, ApiError, freshId, freshRequest } from './api';
import { selectStateOf, type DocumentState } from './document';
import { Drafts, type Sent } from './drafts';
import { SCREEN_OF, type AnyDocument, type Kind } from './kinds';

const AUTOSAVE_MS = 300;
const RETRY_MS = 2_000;
/** A server that fails so often in a row is not asked again by itself. */
const MOST_FAULTS = 5;

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
  (
    actions$ = inject(Actions),
    api = inject(Api),
    router = inject(Router),
    store = inject(Store),
    drafts = inject(Drafts),
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
            return from(opened(api, drafts, kind, id, !isOpen));
          }),
        ),
      ),
    );
  },
  { functional: true },
);

/** Opens a document as the server has it, with what this browser has kept of it. */
async function opened(
  api: Api,
  drafts: Drafts,
  kind: Kind,
  id: string,
  asTheServerHasIt: boolean,
): Promise<ReturnType<typeof documentActions.opened | typeof documentActions.openFailed>> {
  if (asTheServerHasIt) await drafts.drop(kind, id);
  const draft = await drafts.read(kind, id);
  try {
    const saved = await askAgain(api, drafts, kind, id);
    const { document, revision } = await api.open(kind, id);
    if (!draft)
      return documentActions.opened({ kind, document, revision, unsaved: false, staleAt: null });
    // A save that was not answered has been done: what the draft builds on is its own.
    const builtOn = saved?.base === draft.revision ? saved.revision : draft.revision;
    return documentActions.opened({
      kind,
      document: draft.document,
      revision: builtOn,
      unsaved: true,
      staleAt: builtOn === revision ? null : revision,
    });
  } catch (error) {
    return draft && error instanceof ApiError && (error.kind === 'away' || error.kind === 'failed')
      ? documentActions.opened({ kind, ...draft, unsaved: true, staleAt: null })
      : documentActions.openFailed({ kind, message: words(error) });
  }
}

/** Asks again for the answer to a save that was never answered; null where there is none, or it was refused. */
async function askAgain(
  api: Api,
  drafts: Drafts,
  kind: Kind,
  id: string,
): Promise<{ base: number; revision: number } | null> {
  const sent = await drafts.sent(kind, id);
  if (!sent) return null;
  try {
    const revision = await api.save(kind, sent.document, sent.revision, sent.request);
    await drafts.dropSent(kind, id);
    return { base: sent.revision, revision };
  } catch (error) {
    if (!(error instanceof ApiError) || error.kind === 'away') throw error;
    await drafts.dropSent(kind, id);
    return null;
  }
}

/** Keeps what is not acknowledged in this browser, and drops it once it is. */
function keepDraftOf(kind: Kind) {
  return createEffect(
    (store = inject(Store), drafts = inject(Drafts)) =>
      stateOf(store, kind).pipe(
        tap(({ document, revision, save }) => {
          if (!document) return;
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

type SaveEnded = ReturnType<typeof documentActions.saved | typeof documentActions.saveFailed>;

/**
 * Saves of one kind. One whose answer was lost is asked again by its own id, so that it is never taken for somebody else's;
 * a server that has a fault itself is left alone after some tries.
 */
class Saving {
  private readonly underWay = new Set<string>();
  private readonly lost = new Map<string, Sent<AnyDocument>>();
  private readonly faults = new Map<string, number>();

  constructor(
    private readonly kind: Kind,
    private readonly api: Api,
    private readonly drafts: Drafts,
  ) {}

  isUnderWay(id: string): boolean {
    return this.underWay.has(id);
  }

  /** What was not answered has been asked for on opening. */
  openedAnew(id: string): void {
    this.lost.delete(id);
    this.faults.delete(id);
  }

  /** Sends a document, or once more what of it was not answered. */
  async send(document: AnyDocument, revision: number): Promise<SaveEnded> {
    const { kind } = this;
    const { id } = document;
    const sent = this.lost.get(id) ?? { document, revision, request: freshRequest() };
    this.underWay.add(id);
    this.lost.set(id, sent);
    // Not waited for: a browser that keeps nothing holds no save up.
    void this.drafts.keepSent(kind, sent);
    try {
      const saved = await this.api.save(kind, sent.document, sent.revision, sent.request);
      await this.answered(id);
      this.faults.delete(id);
      return documentActions.saved({ kind, document: sent.document, revision: saved });
    } catch (error) {
      const told = error instanceof ApiError ? error : new ApiError('refused', words(error));
      if (told.kind !== 'away') await this.answered(id);
      return documentActions.saveFailed({
        kind,
        id,
        failure: this.failureOf(id, told),
        message: told.message,
        revision: told.revision ?? null,
      });
    } finally {
      this.underWay.delete(id);
    }
  }

  private async answered(id: string): Promise<void> {
    this.lost.delete(id);
    await this.drafts.dropSent(this.kind, id);
  }

  private failureOf(id: string, { kind }: ApiError): 'away' | 'stale' | 'refused' {
    if (kind === 'away' || kind === 'stale') return kind;
    if (kind !== 'failed') return 'refused';
    const faults = (this.faults.get(id) ?? 0) + 1;
    this.faults.set(id, faults % MOST_FAULTS);
    return faults < MOST_FAULTS ? 'away' : 'refused';
  }
}

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
        ),
        filter((action) => action.kind === kind),
        tap((action) => {
          if (action.type === documentActions.opened.type) saving.openedAnew(action.document.id);
        }),
        debounceTime(AUTOSAVE_MS),
        withLatestFrom(stateOf(store, kind)),
        map(([, { document, revision, save }]) => ({ document, revision, save })),
        filter(
          (now): now is typeof now & { document: AnyDocument } =>
            now.document !== null &&
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
