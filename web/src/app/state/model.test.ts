import { jest } from '@jest/globals';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { isSameJson, rename, type Edited } from '@rondo/core/document';
import { nineFerriesMix, readProfile, type Profile } from '@rondo/core/profile';
import { PROFILE_EDITS } from '../../../testing/profile-edits';
import {
  FakeServer,
  Room,
  change,
  close,
  leaveOut,
  opened,
  pagesOf,
  pass,
  redo,
  reloaded,
  settle,
  undo,
  type Page,
} from '../../../testing/window-room';
import { documentActions } from './actions';

/*
 * The document that is shown, drafted, saved and undone is one: over reloads, windows and other browsers, for every kind of
 * edit that the page can make.
 */

const START = nineFerriesMix();
const NAMES = Object.keys(PROFILE_EDITS);
const RUNS = Number(process.env['RONDO_MODEL_RUNS'] ?? 8);

// Long random runs have their time: five minutes here, an hour in the soak.
jest.setTimeout(process.env['RONDO_MODEL_RUNS'] ? 3_600_000 : 300_000);

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

const edit = fc.record({
  does: fc.constantFrom(...NAMES),
  n: fc.nat({ max: 99 }),
  seeds: fc.array(fc.nat({ max: 9_999 }), { minLength: 6, maxLength: 6 }),
});
type Made = typeof edit extends fc.Arbitrary<infer T> ? T : never;

/** Makes an edit by its name and numbers; what comes of it can be read. */
function made(profile: Profile, { does, n, seeds }: Made): Edited<Profile> {
  let at = 0;
  const pick = <T>(list: readonly T[]): T => list[seeds[at++ % seeds.length] % list.length];
  const edited = PROFILE_EDITS[does](profile, pick, n);
  return readProfile(edited.document).ok ? edited : { document: profile, edit: null };
}
const make = (page: Page, one: Made): boolean => change(page, (profile) => made(profile, one));

const shownIn = ({ state }: Page): Profile => state().document as Profile;
const isLike = (a: unknown, b: unknown) => expect(isSameJson(a, b)).toBe(true);

test('one window: undone to the beginning is the first document, done again the last, over reloads at any moment', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ edit, isReloaded: fc.boolean() }), { minLength: 1, maxLength: 12 }),
      async (steps) => {
        const server = new FakeServer();
        const room = new Room();
        let [page] = await pagesOf(room, server, 'a');
        await opened(page);
        let made = 0;
        for (const { edit: one, isReloaded } of steps) {
          if (make(page, one)) made++;
          if (isReloaded) page = await reloaded(room, server, page);
        }
        await settle();
        const last = shownIn(page);
        isLike(server.document, last);
        page = await reloaded(room, server, page);
        isLike(shownIn(page), last);
        for (let n = 0; n < made; n++) {
          undo(page);
          if (n % 3 === 1) page = await reloaded(room, server, page);
        }
        expect(page.said).toEqual([]);
        isLike(shownIn(page), START);
        for (let n = 0; n < made; n++) redo(page);
        isLike(shownIn(page), last);
        await settle();
        isLike(server.document, last);
        close(page);
      },
    ),
    { numRuns: RUNS },
  );
});

test('two windows and another browser: all show the same, the server has it, and what is undone is one’s own and nothing else', async () => {
  const who = fc.nat({ max: 1 });
  const step = fc.oneof(
    { weight: 8, arbitrary: fc.record({ does: fc.constant('edit' as const), who, edit }) },
    { weight: 1, arbitrary: fc.record({ does: fc.constant('elsewhere' as const), who, edit }) },
    {
      weight: 6,
      arbitrary: fc.record({
        does: fc.constantFrom(
          'undo',
          'redo',
          'leaveOut',
          'wait',
          'reload',
          'away',
          'lost',
        ) as fc.Arbitrary<'undo' | 'redo' | 'leaveOut' | 'wait' | 'reload' | 'away' | 'lost'>,
        who,
      }),
    },
  );
  await fc.assert(
    fc.asyncProperty(fc.array(step, { maxLength: 16 }), async (steps) => {
      const server = new FakeServer();
      const room = new Room();
      const pages = await pagesOf(room, server, 'a', 'b');
      await opened(...pages);
      let isElsewhere = false;
      for (const one of steps) {
        const page = pages[one.who];
        if (one.does === 'edit') make(page, one.edit);
        else if (one.does === 'elsewhere') {
          server.saveElsewhere((profile) => made(profile, one.edit));
          isElsewhere = true;
        } else if (one.does === 'undo') undo(page);
        else if (one.does === 'redo') redo(page);
        else if (one.does === 'leaveOut') leaveOut(page);
        else if (one.does === 'away') server.isAway = !server.isAway;
        else if (one.does === 'lost') server.losesAnswers = !server.losesAnswers;
        else if (one.does === 'wait') await pass(350);
        // Where the server does not answer nothing can be loaded.
        else if (!server.isAway) pages[one.who] = await reloaded(room, server, page);
      }
      server.isAway = server.losesAnswers = false;
      await pass(10_000);
      const [a, b] = pages;
      // Both have changed it: one is chosen, in either window; once more for each save since the one that was asked about.
      for (let asked = 0; asked < steps.length && a.state().save === 'stale'; asked++) {
        const { store } = pages[steps.length % 2];
        const choose = steps.length % 3 ? documentActions.keepMine : documentActions.takeTheirs;
        store.dispatch(choose({ kind: 'profile' }));
        await settle();
      }
      isLike(shownIn(a), shownIn(b));
      isLike(server.document, shownIn(a));
      expect(readProfile(server.document).ok).toBe(true);
      expect([a.state().save, b.state().save]).toEqual(['saved', 'saved']);
      // And nothing is kept that would come back one day.
      expect(Object.keys(localStorage).filter((key) => key.startsWith('rondo.draft'))).toEqual([]);
      // Each takes back its own, as far as nothing stands in the way; what is left out is said.
      for (const page of pages)
        for (let n = 0; page.state().past.length > 0 && n < 200; n++) {
          const before = page.said.length;
          undo(page);
          await pass(0);
          if (page.said.length > before) leaveOut(page);
        }
      await settle();
      isLike(shownIn(a), shownIn(b));
      isLike(server.document, shownIn(a));
      if (!isElsewhere && pages.every(({ said }) => said.length === 0)) isLike(shownIn(a), START);
      for (const page of pages) close(page);
    }),
    { numRuns: RUNS },
  );
});

test('what the server has not is in the draft to the last edit, a tenth of a second after it', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(edit, { minLength: 1, maxLength: 10 }), async (edits) => {
      const server = new FakeServer();
      const room = new Room();
      const [page] = await pagesOf(room, server, 'a');
      await opened(page);
      server.isAway = true;
      let made = false;
      for (const one of edits) {
        made = make(page, one) || made;
        await pass(100);
        // As another window of this browser finds it, after this one was killed.
        const drafts = page.drafts;
        const kept = drafts.read('profile', START.id);
        await pass(50);
        const draft = await kept;
        if (made) isLike(draft?.document, shownIn(page));
        else expect(draft).toBeNull();
      }
      server.isAway = false;
      await pass(10_000);
      const left = page.drafts.unsaved();
      await pass(50);
      expect(await left).toEqual([]);
      close(page);
    }),
    { numRuns: RUNS },
  );
});

test('where another browser has saved first nothing is written over, and either choice is whole', async () => {
  const server = new FakeServer();
  const room = new Room();
  let [page] = await pagesOf(room, server, 'a');
  await opened(page);
  server.saveElsewhere((profile) => rename(profile, 'Theirs'));
  change(page, (profile) => rename(profile, 'Mine'));
  await settle();
  expect(page.state().save).toBe('stale');
  page = await reloaded(room, server, page);
  expect([page.state().save, shownIn(page).name]).toEqual(['stale', 'Mine']);
  expect((server.document as Profile).name).toBe('Theirs');
  close(page);
});

/** Names of functions of the core that make an edit of a profile, and that the page calls. */
function editsOfThePage(): Set<string> {
  const root = process.cwd().replace(/[\\/]web$/, '');
  function* below(folder: string): Generator<string> {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (['node_modules', 'dist', 'testing'].includes(entry.name)) continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) yield* below(path);
      else if (/(?<!\.test)\.ts$/.test(entry.name)) yield readFileSync(path, 'utf8');
    }
  }
  const core = [...below(join(root, 'core'))];
  const makes = core.flatMap((text) =>
    [
      ...text.matchAll(
        /export (?:const (\w+) = (?:<[^>]*>)?\(|function (\w+)(?:<[^>]*>)?\()((?:(?!\nexport )[^])*?)\)\s*:\s*Edited<(?:Profile|T)>/g,
      ),
    ].map(([, name, other]) => name ?? other),
  );
  const page = [...below(join(root, 'web/src'))].join('\n');
  return new Set(makes.filter((name) => new RegExp(`\\b${name}[(<]`).test(page)));
}

test('every kind of edit that the page makes of a profile is among those that are tried', () => {
  const names = editsOfThePage();
  expect(names.size).toBeGreaterThan(30);
  expect([...names].filter((name) => !NAMES.includes(name))).toEqual([]);
});
