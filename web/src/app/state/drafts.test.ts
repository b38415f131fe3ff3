import { TestBed } from '@angular/core/testing';
import { nineFerriesMix } from '@rondo/core/profile';
import { Drafts } from './drafts';

/** The store of a page that was opened anew: what was in memory is gone. */
function opened(): Drafts {
  TestBed.resetTestingModule();
  return TestBed.inject(Drafts);
}
const document = nineFerriesMix();
const { id } = document;

beforeEach(() => localStorage.clear());

test('a page that is left while a save is on its way leaves the save’s own id, so that it is asked again by it', async () => {
  const page = opened();
  // There is no other store here, as where the page is gone before that has answered.
  void page.keepSent('profile', { revision: 3, document, request: 'r-1' });
  page.keepSentNow('profile', id);
  const next = opened();
  expect(await next.sent('profile', id)).toEqual({ revision: 3, document, request: 'r-1' });
  // Once it is answered nothing of it is left.
  await next.dropSent('profile', id);
  expect(await opened().sent('profile', id)).toBeNull();
});

test('what has been answered before the page is left leaves nothing; nor does what cannot be read', async () => {
  const page = opened();
  void page.keepSent('profile', { revision: 3, document, request: 'r-1' });
  await page.dropSent('profile', id);
  page.keepSentNow('profile', id);
  expect(localStorage).toHaveLength(0);
  localStorage.setItem(`rondo.sent.profile.${id}`, '{"revision":3,"request":"r-1","document":{}}');
  expect(await page.sent('profile', id)).toBeNull();
});

test('a draft of the moment in which the page is left is found by the next, and dropped once it is stored', async () => {
  opened().keepNow('profile', { revision: 7, document });
  const next = opened();
  expect(await next.read('profile', id)).toEqual({ revision: 7, document });
  await next.drop('profile', id);
  expect(localStorage).toHaveLength(0);
});
