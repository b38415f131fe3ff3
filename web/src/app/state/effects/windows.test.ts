import { jest } from '@jest/globals';
import { provideZonelessChangeDetection, type ApplicationRef } from '@angular/core';
import { createApplication } from '@angular/platform-browser';
import { Router } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { Store, provideState, provideStore } from '@ngrx/store';
import { rename } from '@rondo/core/document';
import { nineFerriesMix, type Profile } from '@rondo/core/profile';
import fc from 'fast-check';
import { MessageService } from 'primeng/api';
import { Subject } from 'rxjs';
import { documentActions } from '../actions';
import { Api, ApiError } from '../api';
import { hostFeature, profileFeature, surfaceFeature } from '../document';
import { Drafts } from '../drafts';
import type { AnyDocument, Kind } from '../kinds';
import { libraryFeature } from '../library';
import { Steps } from '../steps';
import { Windows, type Told } from '../windows';
import * as openingEffects from './opening';
import * as savingEffects from './saving';
import * as windowEffects from './windows';

const ID = nineFerriesMix().id;

/** A server that keeps one document, refuses what builds on an old revision, and can be away. */
class FakeServer {
  revision = 1;
  document: AnyDocument = nineFerriesMix();
  isAway = false;
  readonly savedBy: string[] = [];

  /** What one window asks of it. */
  for(who: string) {
    return {
      open: () => Promise.resolve({ revision: this.revision, document: this.document }),
      save: (_kind: Kind, document: AnyDocument, revision: number) => {
        if (this.isAway) return Promise.reject(new ApiError('away', 'away'));
        if (revision !== this.revision)
          return Promise.reject(new ApiError('stale', 'stale', this.revision));
        this.savedBy.push(who);
        this.document = document;
        return Promise.resolve((this.revision += 1));
      },
    };
  }
}

/** Windows of one browser, without a browser: who has joined first leads, and the next when it leaves. */
class Room {
  readonly all: FakeWindows[] = [];
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
  leave(): void {
    const led = this.room.all[0] === this;
    this.room.all.splice(this.room.all.indexOf(this), 1);
    if (led) this.room.all.at(0)?.led.next({ kind: 'profile', id: ID });
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

interface Page {
  readonly windows: FakeWindows;
  readonly store: Store;
  readonly app: ApplicationRef;
  readonly said: string[];
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
      { provide: Windows, useValue: windows },
      { provide: Api, useValue: server.for(name) },
      { provide: Router, useValue: {} },
      {
        provide: Drafts,
        useValue: {
          read: () => Promise.resolve(null),
          sent: () => Promise.resolve(null),
          keep: () => Promise.resolve(),
          keepSent: () => Promise.resolve(),
          drop: () => Promise.resolve(),
          dropSent: () => Promise.resolve(),
        },
      },
      {
        provide: Steps,
        useValue: {
          read: () => Promise.resolve({ past: [], future: [] }),
          keep: () => Promise.resolve(),
        },
      },
      {
        provide: MessageService,
        useValue: { add: (m: { summary: string }) => said.push(m.summary) },
      },
      provideEffects(openingEffects, savingEffects, windowEffects),
    ],
  });
  const store = app.injector.get(Store);
  const state = store.selectSignal(profileFeature.selectProfileState);
  return { windows, store, app, said, state };
}

const pagesOf = (room: Room, server: FakeServer, ...names: string[]): Promise<Page[]> =>
  Promise.all(names.map((name) => pageOf(room, server, name)));
const settle = () => jest.advanceTimersByTimeAsync(3_000);
async function opened(...pages: Page[]): Promise<void> {
  for (const { store } of pages) {
    store.dispatch(documentActions.open({ kind: 'profile', id: ID }));
    await settle();
  }
}
const renameTo = ({ store, state }: Page, name: string): void => {
  const { edit } = rename(state().document as Profile, name);
  if (edit) store.dispatch(documentActions.edit({ kind: 'profile', edit }));
};
const close = (page: Page): void => {
  page.store.dispatch(documentActions.close({ kind: 'profile' }));
  page.app.destroy();
};

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('whatever is edited, undone and closed in three windows, they end alike, saved, by one window at a time', async () => {
  const who = fc.nat({ max: 2 });
  const step = fc.oneof(
    { weight: 6, arbitrary: fc.record({ does: fc.constant('rename' as const), who }) },
    { weight: 2, arbitrary: fc.record({ does: fc.constant('undo' as const), who }) },
    { weight: 2, arbitrary: fc.record({ does: fc.constant('wait' as const), who }) },
    { weight: 1, arbitrary: fc.record({ does: fc.constant('close' as const), who }) },
    { weight: 1, arbitrary: fc.record({ does: fc.constant('away' as const), who }) },
  );
  await fc.assert(
    fc.asyncProperty(fc.array(step, { maxLength: 12 }), async (steps) => {
      const server = new FakeServer();
      const room = new Room();
      const pages = await pagesOf(room, server, 'a', 'b', 'c');
      await opened(...pages);
      const open = new Set(pages);
      for (const [n, { does, who }] of steps.entries()) {
        const page = pages[who];
        if (!open.has(page)) continue;
        if (does === 'rename') renameTo(page, `Name ${n}`);
        else if (does === 'undo') page.store.dispatch(documentActions.undo({ kind: 'profile' }));
        else if (does === 'wait') await jest.advanceTimersByTimeAsync(150);
        else if (does === 'away') server.isAway = !server.isAway;
        else if (open.size > 1) {
          // What it has told is on its way.
          await jest.advanceTimersByTimeAsync(0);
          open.delete(page);
          close(page);
        }
      }
      server.isAway = false;
      await jest.advanceTimersByTimeAsync(10_000);
      for (const { state } of open) {
        expect(state().document).toEqual(server.document);
        expect(state().save).toBe('saved');
        expect(state().revision).toBe(server.revision);
      }
      for (const page of open) close(page);
    }),
    { numRuns: 60 },
  );
});

test('only the window that leads saves; the one that follows says what it hears', async () => {
  const server = new FakeServer();
  const room = new Room();
  const [first, second] = await pagesOf(room, server, 'first', 'second');
  await opened(first, second);
  expect([first.state().leads, second.state().leads]).toEqual([true, false]);
  renameTo(second, 'From the second');
  await settle();
  expect(server.document.name).toBe('From the second');
  expect(new Set(server.savedBy)).toEqual(new Set(['first']));
  server.isAway = true;
  renameTo(second, 'Not yet');
  await settle();
  expect([first.state().save, second.state().save]).toEqual(['away', 'away']);
  // The first goes; the second leads, and saves what was not.
  close(first);
  server.isAway = false;
  await settle();
  expect(second.state()).toMatchObject({ leads: true, save: 'saved' });
  expect(server.document.name).toBe('Not yet');
  close(second);
});

test('a step back that another window has overtaken is said, and is out of the way of those before it', async () => {
  const server = new FakeServer();
  const room = new Room();
  const [mine, theirs] = await pagesOf(room, server, 'mine', 'theirs');
  await opened(mine, theirs);
  renameTo(mine, 'Mine');
  await settle();
  renameTo(theirs, 'Theirs');
  await settle();
  mine.store.dispatch(documentActions.undo({ kind: 'profile' }));
  await settle();
  expect(mine.said).toEqual(['“Rename to “Mine”” stays: the same place has been changed since.']);
  expect(mine.state().document?.name).toBe('Theirs');
  expect(mine.state().past).toEqual([]);
  for (const page of [mine, theirs]) close(page);
});
