import type { Edit } from '@rondo/core/document';
import { Steps } from './steps';

const edit = (name: string): Edit => ({ name, forward: [], inverse: [] });
const made = (...names: string[]) => ({ past: names.map(edit), future: [], isCut: false });
const names = async (steps: Promise<{ past: readonly { name: string }[] }>) =>
  (await steps).past.map(({ name }) => name);

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});

test('a window that is loaded again finds its own, whether it led or followed', async () => {
  for (const leads of [true, false]) {
    new Steps().keepOwn('profile', 'p', made('Mine'));
    // Another window that led has left others.
    new Steps().keepNow('profile', 'p', made('Theirs'));
    expect(await names(new Steps().read('profile', 'p', leads))).toEqual(['Mine']);
  }
});

test('one’s own are taken once; then whoever leads has what was done last, and whoever follows has none', async () => {
  new Steps().keepOwn('profile', 'p', made('Mine'));
  await new Steps().read('profile', 'p', false);
  expect(await names(new Steps().read('profile', 'p', false))).toEqual([]);
  new Steps().keepNow('profile', 'p', made('Last'));
  expect(await names(new Steps().read('profile', 'p', true))).toEqual(['Last']);
});

test('they are of one document, the last hundred, and what cannot be read is none', async () => {
  const many = Array.from({ length: 130 }, (_, n) => `Edit ${n}`);
  new Steps().keepOwn('surface', 'p', made(...many));
  expect(await names(new Steps().read('profile', 'p', false))).toEqual([]);
  expect(await names(new Steps().read('surface', 'p', false))).toEqual(many.slice(30));
  new Steps().keepOwn('surface', 'p', made(...many));
  expect((await new Steps().read('surface', 'p', false)).isCut).toBe(true);
  sessionStorage.setItem('rondo.steps.host.h', '{"past":[{}]}');
  expect(await names(new Steps().read('host', 'h', false))).toEqual([]);
});
