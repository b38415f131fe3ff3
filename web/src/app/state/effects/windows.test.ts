import { jest } from '@jest/globals';
import { rename } from '@rondo/core/document';
import { bind, nineFerriesMix, removeBindings } from '@rondo/core/profile';
import 'fake-indexeddb/auto';
import fc from 'fast-check';
import {
  FakeServer,
  Room,
  change,
  close,
  opened,
  pagesOf,
  pass,
  settle,
  undo,
  type Page,
} from '../../../../testing/window-room';
import { documentActions } from '../actions';

const renameTo = (page: Page, name: string): void =>
  void change(page, (profile) => rename(profile, name));

jest.setTimeout(300_000);
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
        else if (does === 'wait') await pass(150);
        else if (does === 'away') server.isAway = !server.isAway;
        else if (open.size > 1) {
          // What it has told is on its way.
          await pass(0);
          open.delete(page);
          close(page);
        }
      }
      server.isAway = false;
      await pass(10_000);
      for (const { state } of open) {
        expect(state().document).toEqual(server.document);
        expect(state().save).toBe('saved');
        expect(state().revision).toBe(server.revision);
      }
      for (const page of open) close(page);
    }),
    { numRuns: 30 },
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

test('what another browser saves is shown in all windows at once, said, and one’s own steps go on', async () => {
  const server = new FakeServer();
  const room = new Room();
  const [leads, follows] = await pagesOf(room, server, 'leads', 'follows');
  await opened(leads, follows);
  renameTo(follows, 'Mine');
  await settle();
  server.saveElsewhere((profile) => removeBindings(profile, 'Unbind', ['take-starts']));
  await settle();
  for (const { state, said } of [leads, follows]) {
    expect(state().document).not.toHaveProperty('bindings.take-starts');
    expect(state()).toMatchObject({ save: 'saved', revision: server.revision });
    expect(said).toEqual(['“Mine” was saved in another browser.']);
  }
  undo(follows);
  await settle();
  expect(server.document).toMatchObject({ name: nineFerriesMix().name });
  expect(server.document).not.toHaveProperty('bindings.take-starts');
  for (const page of [leads, follows]) close(page);
});

test('a step back that another window has overtaken stays, says by what, and can be left out on purpose', async () => {
  const server = new FakeServer();
  const room = new Room();
  const [mine, theirs] = await pagesOf(room, server, 'mine', 'theirs');
  await opened(mine, theirs);
  const undo = () => mine.store.dispatch(documentActions.undo({ kind: 'profile' }));
  const { edit } = bind(
    mine.state().document!,
    'Bind',
    { surface: 'desk', control: 'fader-1', part: 'value' },
    { do: 'bank', by: 1 },
  );
  mine.store.dispatch(documentActions.edit({ kind: 'profile', edit: edit! }));
  renameTo(mine, 'Mine');
  await settle();
  renameTo(theirs, 'Theirs');
  await settle();
  undo();
  await settle();
  expect(mine.said).toEqual([
    '“Rename to “Mine”” was not taken back. “Rename to “Theirs””, from another window, has changed the same place since.',
  ]);
  expect(mine.state().document?.name).toBe('Theirs');
  expect(mine.state().past).toHaveLength(2);
  // What stood in its way is taken back there: then it can be taken back here.
  theirs.store.dispatch(documentActions.undo({ kind: 'profile' }));
  await settle();
  undo();
  await settle();
  expect([mine.state().document?.name, mine.state().past.length]).toEqual([
    nineFerriesMix().name,
    1,
  ]);
  mine.store.dispatch(documentActions.redo({ kind: 'profile' }));
  renameTo(theirs, 'Theirs again');
  await settle();
  undo();
  mine.store.dispatch(documentActions.leaveOut({ kind: 'profile' }));
  undo();
  await settle();
  expect(mine.state().past).toEqual([]);
  expect({ ...mine.state().document, name: '' }).toEqual({ ...nineFerriesMix(), name: '' });
  for (const page of [mine, theirs]) close(page);
});

test('an edit that another window has overtaken before it was in the order is said, and is no step', async () => {
  const server = new FakeServer();
  const room = new Room();
  const [leads, follows] = await pagesOf(room, server, 'leads', 'follows');
  await opened(leads, follows);
  renameTo(leads, 'First');
  renameTo(follows, 'Late');
  await settle();
  expect([leads.state().document?.name, follows.state().document?.name]).toEqual([
    'First',
    'First',
  ]);
  expect(follows.state().past).toEqual([]);
  expect(follows.said).toEqual([
    '“Rename to “Late”” was not done. “Rename to “First””, from another window, has changed the same place since.',
  ]);
  for (const page of [leads, follows]) close(page);
});
