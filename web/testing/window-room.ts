import { jest } from '@jest/globals';
import { provideZonelessChangeDetection, type ApplicationRef } from '@angular/core';
import { createApplication } from '@angular/platform-browser';
import { Router } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { Store, provideState, provideStore } from '@ngrx/store';
import type { Edited } from '@rondo/core/document';
import { nineFerriesMix, type Profile } from '@rondo/core/profile';
import { MessageService } from 'primeng/api';
import { Subject, asyncScheduler, observeOn } from 'rxjs';
import { documentActions } from '../src/app/state/actions';
import { Api, ApiError } from '../src/app/state/api';
import { hostFeature, profileFeature, surfaceFeature } from '../src/app/state/document';
import { Drafts } from '../src/app/state/drafts';
import * as openingEffects from '../src/app/state/effects/opening';
import * as savingEffects from '../src/app/state/effects/saving';
import * as serverEffects from '../src/app/state/effects/server';
import * as windowEffects from '../src/app/state/effects/windows';
import type { AnyDocument, Kind } from '../src/app/state/kinds';
import { libraryFeature } from '../src/app/state/library';
import { listFeature } from '../src/app/state/list';
import { ServerEvents, type ServerEvent } from '../src/app/state/server-events';
import { Steps, type StepsKept } from '../src/app/state/steps';
import { Windows, type Told } from '../src/app/state/windows';

/*
 * Windows of one browser with their stores, and a server, without a browser: who has joined first leads, and the next when
 * it leaves. What is stored comes back with the keys of its objects in another order, as from a database or a file.
 */

const START = nineFerriesMix();
const ID = START.id;

/** As it comes back from where it was stored. */
export const readAgain = <T>(value: T): T =>
  JSON.parse(JSON.stringify(value), (_, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).reverse())
      : inner,
  ) as T;

/** A server that keeps one document, refuses what builds on an old revision, and can be away or lose its answers. */
export class FakeServer {
  revision = 1;
  document: AnyDocument = START;
  isAway = false;
  /** It does what is asked, and its answer is lost. */
  losesAnswers = false;
  readonly savedBy: string[] = [];
  /** What it tells all pages that are open. */
  readonly tells = new Subject<ServerEvent>();
  private readonly done = new Map<string, number>();

  private tell(request: string | null, browser: string): void {
    this.tells.next({
      says: 'changed',
      kind: 'profile',
      id: ID,
      revision: this.revision,
      cause: 'saved',
      request,
      browser,
    });
  }

  /** Another browser saves. */
  saveElsewhere(change: (document: Profile) => Edited<Profile>): void {
    this.document = change(this.document as Profile).document;
    this.revision += 1;
    this.tell(null, 'theirs');
  }

  /** What one window asks of it. */
  for(who: string) {
    const own = new Set<string>();
    return {
      browser: 'this one',
      isOwn: (request: string | null) => request !== null && own.has(request),
      open: () =>
        this.isAway
          ? Promise.reject(new ApiError('away', 'away'))
          : Promise.resolve({ revision: this.revision, document: readAgain(this.document) }),
      save: (_kind: Kind, document: AnyDocument, revision: number, request = '') => {
        own.add(request);
        if (this.isAway) return Promise.reject(new ApiError('away', 'away'));
        const before = this.done.get(request);
        if (before !== undefined) return Promise.resolve(before);
        if (revision !== this.revision)
          return Promise.reject(new ApiError('stale', 'stale', this.revision));
        this.savedBy.push(who);
        this.document = readAgain(document);
        this.revision += 1;
        this.done.set(request, this.revision);
        this.tell(request, 'this one');
        return this.losesAnswers
          ? Promise.reject(new ApiError('away', 'lost'))
          : Promise.resolve(this.revision);
      },
    };
  }
}

export class Room {
  readonly all: FakeWindows[] = [];
  /** What can be taken back, of each window and of whoever leads. */
  readonly steps = new Map<string, string>();
}

class FakeWindows {
  readonly told = new Subject<Told>();
  readonly led = new Subject<{ readonly kind: Kind; readonly id: string }>();
  constructor(
    private readonly room: Room,
    readonly id: string,
  ) {}
  tell(message: Told): void {
    for (const other of this.room.all)
      if (other !== this)
        queueMicrotask(() => other.told.next(JSON.parse(JSON.stringify(message)) as Told));
  }
  join(): Promise<boolean> {
    this.room.all.push(this);
    return Promise.resolve(this.room.all[0] === this);
  }
  leads(): boolean {
    return this.room.all[0] === this;
  }
  leave(): void {
    const at = this.room.all.indexOf(this);
    if (at < 0) return;
    this.room.all.splice(at, 1);
    if (at === 0) this.room.all.at(0)?.led.next({ kind: 'profile', id: ID });
  }
  ask(of: Kind, id: string): Promise<Extract<Told, { kind: 'state' }> | null> {
    return new Promise((answer) => {
      const heard = this.told.subscribe((message) => {
        if (message.kind !== 'state') return;
        heard.unsubscribe();
        answer(message);
      });
      this.tell({ kind: 'join', of, id });
    });
  }
}

/** Steps as a browser keeps them: a window's own over its reload, and those of whoever led last. */
class FakeSteps implements Pick<Steps, 'read' | 'keep' | 'keepOwn' | 'keepNow'> {
  constructor(
    private readonly room: Room,
    private readonly name: string,
  ) {}
  private take(key: string): StepsKept | null {
    const kept = this.room.steps.get(key);
    return kept === undefined ? null : readAgain(JSON.parse(kept) as StepsKept);
  }
  read(_kind: Kind, _id: string, leads: boolean): Promise<StepsKept> {
    const own = this.take(this.name);
    this.room.steps.delete(this.name);
    const found = own ?? (leads ? this.take('last') : null);
    return Promise.resolve(found ?? { past: [], future: [], isCut: false });
  }
  keepOwn(_kind: Kind, _id: string, { past, future, isCut }: StepsKept): void {
    this.room.steps.set(this.name, JSON.stringify({ past, future, isCut }));
  }
  keepNow(_kind: Kind, _id: string, { past, future, isCut }: StepsKept): void {
    this.room.steps.set('last', JSON.stringify({ past, future, isCut }));
  }
  keep(kind: Kind, id: string, steps: StepsKept): Promise<void> {
    this.keepNow(kind, id, steps);
    return Promise.resolve();
  }
}

/** One window. */
export interface Page {
  readonly name: string;
  readonly windows: FakeWindows;
  readonly store: Store;
  readonly app: ApplicationRef;
  readonly said: string[];
  readonly drafts: Drafts;
  state(): ReturnType<typeof profileFeature.selectProfileState>;
}

async function pageOf(room: Room, server: FakeServer, name: string): Promise<Page> {
  const windows = new FakeWindows(room, name);
  const said: string[] = [];
  const app = await createApplication({
    providers: [
      provideZonelessChangeDetection(),
      provideStore(),
      provideState(profileFeature),
      provideState(surfaceFeature),
      provideState(hostFeature),
      provideState(libraryFeature),
      provideState(listFeature),
      { provide: ServerEvents, useValue: { heard: server.tells.pipe(observeOn(asyncScheduler)) } },
      { provide: Windows, useValue: windows },
      { provide: Api, useValue: server.for(name) },
      { provide: Router, useValue: {} },
      { provide: Steps, useValue: new FakeSteps(room, name) },
      {
        provide: MessageService,
        useValue: {
          add: (m: { summary: string; detail?: string }) =>
            said.push([m.summary, m.detail ?? ''].join(' ').trim()),
          clear: () => undefined,
        },
      },
      provideEffects(openingEffects, savingEffects, windowEffects, serverEffects),
    ],
  });
  const store = app.injector.get(Store);
  const state = store.selectSignal(profileFeature.selectProfileState);
  return { name, windows, store, app, said, drafts: app.injector.get(Drafts), state };
}

export const pagesOf = (room: Room, server: FakeServer, ...names: string[]): Promise<Page[]> =>
  Promise.all(names.map((name) => pageOf(room, server, name)));

/** The stand-in for the browser's store answers by the real clock, whatever time the tests have. */
const later = new (Node.constructor as FunctionConstructor)('return setImmediate')() as (
  work: () => void,
) => void;

/** Lets time go on, ms; what is stored meanwhile is stored. */
export async function pass(ms: number): Promise<void> {
  for (let gone = 0; gone <= ms; gone += 50) {
    await jest.advanceTimersByTimeAsync(gone === 0 ? 0 : 50);
    for (let n = 0; n < 4; n++) await new Promise<void>((done) => later(done));
  }
  await jest.advanceTimersByTimeAsync(0);
}

/** Waits until nothing is under way any more. */
export const settle = () => pass(3_000);

export async function opened(...pages: Page[]): Promise<void> {
  for (const { store } of pages) {
    store.dispatch(documentActions.open({ kind: 'profile', id: ID }));
    await settle();
  }
}

/** Makes an edit in a window; whether there was one to make. */
export function change(
  { store, state }: Page,
  how: (document: Profile) => Edited<Profile>,
): boolean {
  const document = state().document;
  const edit = document && how(document as Profile).edit;
  if (edit) store.dispatch(documentActions.edit({ kind: 'profile', edit }));
  return !!edit;
}

export const undo = ({ store }: Page): void =>
  store.dispatch(documentActions.undo({ kind: 'profile' }));
export const redo = ({ store }: Page): void =>
  store.dispatch(documentActions.redo({ kind: 'profile' }));
export const leaveOut = ({ store }: Page): void =>
  store.dispatch(documentActions.leaveOut({ kind: 'profile' }));

export const close = (page: Page): void => {
  page.store.dispatch(documentActions.close({ kind: 'profile' }));
  page.app.destroy();
};

/** A window is left in this very moment, as the page does it: whatever it had not stored yet it will never store. */
function left(room: Room, { name, state, drafts, app }: Page): void {
  const { past, future, isCut, document, leads, save, revision } = state();
  const steps = new FakeSteps(room, name);
  const kept = { past: [...past], future: [...future], isCut };
  if (document) steps.keepOwn('profile', ID, kept);
  if (document && leads && save !== 'saved') {
    drafts.keepNow('profile', { revision, document });
    drafts.keepSentNow('profile', ID);
    steps.keepNow('profile', ID, kept);
  }
  const nothing = () => Promise.resolve();
  Object.assign(drafts, { write: nothing, put: nothing, dropSent: nothing });
  // Nor does it ask for anything, though what waits is let go of as its parts are taken down here.
  const never = () => new Promise<never>(() => undefined);
  Object.assign(app.injector.get(Api), { save: never, open: never });
  app.destroy();
}

/** Loads a window again. */
export async function reloaded(room: Room, server: FakeServer, page: Page): Promise<Page> {
  // What it has told is on its way.
  await pass(0);
  left(room, page);
  page.windows.leave();
  const next = await pageOf(room, server, page.name);
  await opened(next);
  return next;
}
