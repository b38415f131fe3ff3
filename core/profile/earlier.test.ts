import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { PROFILE_VERSION, readProfile, type Profile } from './index.js';

/*
 * The same profile as each version of the format had it, written down when that was the newest and not changed since. What a
 * version could not say yet comes forward empty.
 */
const written = (version: number): Profile =>
  JSON.parse(
    readFileSync(new URL(`earlier/profile-${version}.json`, import.meta.url), 'utf8'),
  ) as Profile;
const now = written(PROFILE_VERSION);
const NONE = {
  flags: { flags: {}, flagOrder: [] },
  showings: { showings: {}, showingOrder: [] },
  routes: { routes: {}, routeOrder: [] },
};

test.each([
  [1, { ...NONE.flags, ...NONE.showings, ...NONE.routes }],
  [2, { ...NONE.flags, ...NONE.showings, ...NONE.routes }],
  [3, { ...NONE.showings, ...NONE.routes }],
  [4, {}],
  [5, {}],
])('a profile of version %s comes forward, what it does not know kept', (version, without) => {
  const old = written(version);
  expect(old.version).toBe(version);
  expect(readProfile(old)).toEqual({ ok: true, document: { ...now, ...without } });
});

test('there is one for every version that there was', () => {
  for (let version = 1; version <= PROFILE_VERSION; version++)
    expect(written(version).version).toBe(version);
});

test('what says a version that there never was is refused, and by its version', () => {
  const isVersion = (one: unknown) => Number.isSafeInteger(one) && (one as number) >= 1;
  const odd = fc.oneof(fc.double(), fc.integer({ max: 0 }), fc.jsonValue());
  fc.assert(
    fc.property(
      odd.filter((one) => !isVersion(one)),
      (version) => {
        const read = readProfile({ ...now, version });
        expect(read).toMatchObject({ ok: false, faults: [{ path: 'version' }] });
      },
    ),
  );
});
