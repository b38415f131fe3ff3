import { nineFerriesMix } from '@rondo/core/profile';
import { documentActions } from './actions';
import { ApiError, type Api } from './api';
import type { Drafts } from './drafts';
import { Saving } from './saving';

const document = nineFerriesMix();
/** A browser that takes its time over what it notes: longer than the page is there. */
const never = () => new Promise<void>(() => undefined);
const slow = { keepSent: never, dropSent: never };
const savingOver = (save: Api['save']) =>
  new Saving('profile', { save } as Api, slow as unknown as Drafts);

test('a save is known to be done as soon as it is answered, whatever the browser still has to note', async () => {
  const done = await savingOver(async () => 8).send(document, 7);
  expect(done).toEqual(documentActions.saved({ kind: 'profile', document, revision: 8 }));
});

test('one that is refused is told at once, too, and the next has an id of its own', async () => {
  const requests: string[] = [];
  const saving = savingOver((_kind, _document, _revision, request) => {
    requests.push(request!);
    return Promise.reject(new ApiError('stale', 'Saved elsewhere.', 9));
  });
  expect(await saving.send(document, 7)).toMatchObject({ failure: 'stale', revision: 9 });
  await saving.send(document, 9);
  expect(new Set(requests).size).toBe(2);
});

test('one whose answer is lost is asked again as it was, by its own id', async () => {
  const sent: unknown[][] = [];
  const saving = savingOver((...request) => {
    sent.push(request);
    return sent.length === 1
      ? Promise.reject(new ApiError('away', 'No answer.'))
      : Promise.resolve(8);
  });
  expect(await saving.send(document, 7)).toMatchObject({ failure: 'away' });
  const later = { ...document, name: 'Edited meanwhile' };
  expect(await saving.send(later, 7)).toMatchObject({ document, revision: 8 });
  expect(sent[1]).toEqual(sent[0]);
});
