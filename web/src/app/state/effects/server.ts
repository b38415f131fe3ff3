import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { MessageService } from 'primeng/api';
import { auditTime, filter, groupBy, map, mergeMap, tap } from 'rxjs';
import { documentActions, libraryActions, listActions } from '../actions';
import { Api } from '../api';
import { statesNow } from '../document';
import { KINDS, type Kind } from '../kinds';
import { libraryFeature } from '../library';
import { selectListOf } from '../list';
import { ServerEvents, type ServerEvent } from '../server-events';

type Changed = Extract<ServerEvent, { says: 'changed' }>;
type ChangedDocument = Changed & { readonly kind: Kind };

/** Whether an event is of a document of the kinds that are edited, and of a change that this window did not make. */
const isOfOthers = (event: ServerEvent, api: Api): event is ChangedDocument =>
  event.says === 'changed' && event.kind !== 'setup' && !api.isOwn(event.request);

/** A list that many saves concern is asked for once, ms. */
const LIST_AFTER_MS = 300;

/** What another browser did with a document; it goes on after its name. */
const DID: Readonly<Record<Changed['cause'], string>> = {
  made: 'was made in another browser.',
  saved: 'was saved in another browser.',
  imported: 'was replaced by a file in another browser. What it was is among its versions.',
  takenBack: 'was taken back in another browser.',
  deleted: 'was put into the bin in another browser. It can be brought back under Profiles.',
  broughtBack: 'was brought back from the bin in another browser.',
};

/** What the server has of an open document is looked at where something else than this window has changed it. */
export const hearServer = createEffect(
  (
    events = inject(ServerEvents),
    store = inject(Store),
    api = inject(Api),
    messages = inject(MessageService),
    now = statesNow(inject(Store)),
  ) => {
    const library = store.selectSignal(libraryFeature.selectLibraryState);
    const look = (kind: Kind): void => {
      const { document, leads } = now(kind);
      if (document && leads) store.dispatch(documentActions.look({ kind, id: document.id }));
    };
    const hear = ({ kind, id, revision, cause, browser }: ChangedDocument): void => {
      const known = kind === 'profile' ? undefined : library()[`${kind}s`][id];
      if (known !== undefined && cause !== 'deleted')
        store.dispatch(libraryActions.need({ kind, ids: [id] }));
      const state = now(kind);
      if (state.document?.id !== id) return;
      if (cause !== 'deleted' && (revision === null || revision > state.revision)) look(kind);
      if (browser === api.browser) return;
      const summary = `“${state.document.name}” ${DID[cause]}`;
      messages.add({ key: 'said', summary, life: 12_000 });
    };
    return events.heard.pipe(
      tap((event) => {
        if (event.says === 'missed') {
          for (const kind of KINDS) look(kind);
          const { surfaces, hosts } = library();
          store.dispatch(libraryActions.need({ kind: 'surface', ids: Object.keys(surfaces) }));
          store.dispatch(libraryActions.need({ kind: 'host', ids: Object.keys(hosts) }));
        } else if (isOfOthers(event, api)) hear(event);
      }),
    );
  },
  { functional: true, dispatch: false },
);

/** Lists that were asked for once are asked for anew when something else than this window has changed one of them. */
export const listAnew = createEffect(
  (events = inject(ServerEvents), store = inject(Store), api = inject(Api)) =>
    events.heard.pipe(
      mergeMap((event) => {
        if (event.says === 'missed') return KINDS;
        return isOfOthers(event, api) ? [event.kind] : [];
      }),
      groupBy((kind) => kind),
      mergeMap((ofKind) => ofKind.pipe(auditTime(LIST_AFTER_MS))),
      filter((kind) => store.selectSignal(selectListOf[kind])().documents !== null),
      map((kind) => listActions.load({ kind })),
    ),
  { functional: true },
);

/** What the server has newer than what is open and saved here is shown here, and steps go on. */
export const lookAtServer = createEffect(
  (actions$ = inject(Actions), api = inject(Api), now = statesNow(inject(Store))) =>
    actions$.pipe(
      // What took a document's place while the window that led was closing, nobody has shown.
      ofType(documentActions.leads, documentActions.look),
      mergeMap(async ({ kind, id }) => {
        const there = await api.open(kind, id).catch(() => null);
        const { document, leads, save, revision, replica, me, past, future, isCut } = now(kind);
        const isOvertaken =
          there !== null && document?.id === id && leads && replica && save === 'saved';
        if (!isOvertaken || there.revision <= revision) return null;
        // In one go: an edit that comes meanwhile is made in the one or in the other.
        return documentActions.opened({
          kind,
          document: there.document,
          revision: there.revision,
          unsaved: false,
          staleAt: null,
          among: { me, leads, seen: replica.seen },
          steps: { past: [...past], future: [...future], isCut },
        });
      }),
      filter((action) => action !== null),
    ),
  { functional: true },
);
