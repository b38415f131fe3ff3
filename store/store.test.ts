import {
  existsSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import fc from 'fast-check';
import type { Knex } from 'knex';
import { fileOf } from '@rondo/core/formats';
import { nineFerriesMix } from '@rondo/core/profile';
import { COBBLE_64, type Surface } from '@rondo/core/surface';
import { breathe } from './breathe';
import {
  DamagedError,
  DAYS_KEPT,
  DocumentStore,
  NEWEST_KEPT,
  REPLACED_KEPT,
  backUp,
  backUpFolder,
  backupsOf,
  dailyBackup,
  exportFile,
  importFile,
  keepSmall,
  openDatabase,
  readSetting,
  restoreBackup,
  takeBack,
  thinned,
  writeSetting,
  type Clash,
  type Imported,
  type Version,
} from './index';

let folder: string;
let db: Knex;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'rondo-'));
  db = await openDatabase(join(folder, 'rondo.sqlite'));
});
afterEach(async () => {
  await db.destroy();
  rmSync(folder, { recursive: true, force: true });
});
const grid: Surface = { ...COBBLE_64, id: 'my-grid', name: 'My grid' };
const profile = {
  ...nineFerriesMix('mine'),
  surfaces: { pads: { id: 'pads', model: 'my-grid', label: 'Pads' } },
  surfaceOrder: ['pads'],
  hosts: { program: { id: 'program', model: 'as:my-grid', label: 'Program' } },
  hostOrder: ['program'],
};
const file = fileOf([profile], { surface: () => grid, host: () => null });

describe('versions are thinned by age', () => {
  const now = new Date('2026-11-28T12:00:00Z');
  const MINUTE = 60_000;
  const version = fc.record({
    ago: fc.integer({ min: 0, max: 400 * 24 * 60 }),
    label: fc.option(fc.constant('Friday'), { freq: 12 }),
  });
  const versions = fc.array(version, { minLength: 1, maxLength: 200 }).map((list) =>
    [...list]
      .sort((a, b) => b.ago - a.ago)
      .map(({ ago, label }, n): Version => ({
        revision: n + 1,
        savedAt: new Date(now.getTime() - ago * MINUTE).toISOString(),
        label,
      })),
  );

  test('named ones, the newest, and all of the last hour stay; of each stretch at least one; and twice is as once', () => {
    fc.assert(
      fc.property(versions, (list) => {
        const gone = new Set(thinned(list, list.length, now));
        const kept = list.filter(({ revision }) => !gone.has(revision));
        for (const { revision, savedAt, label } of list) {
          const age = now.getTime() - Date.parse(savedAt);
          if (label !== null || revision === list.length || age <= 60 * MINUTE)
            expect(gone.has(revision)).toBe(false);
        }
        for (const { savedAt } of list) {
          const day = savedAt.slice(0, 10);
          expect(kept.some((one) => one.savedAt.startsWith(day))).toBe(true);
        }
        expect(thinned(kept, list.length, now)).toEqual([]);
      }),
    );
  });

  test('old ones are compressed and read as they were; what was saved is never lost by it', async () => {
    const store = new DocumentStore(db, 'profile');
    const bodies = Array.from({ length: 6 }, (_, n) =>
      JSON.stringify({ ...profile, name: `Take ${n}` }),
    );
    await store.create('mine', 'Take 0', bodies[0]);
    for (let n = 1; n < 6; n++) await store.save('mine', n, `Take ${n}`, bodies[n]);
    await store.call('mine', 2, 'Friday');
    const later = new Date(Date.now() + 40 * 24 * 60 * MINUTE);
    await keepSmall(db, later);
    expect((await store.versions('mine')).map(({ revision, label }) => [revision, label])).toEqual([
      [6, null],
      [2, 'Friday'],
    ]);
    expect((await store.get('mine', 2))?.body).toBe(bodies[1]);
    expect((await store.get('mine'))?.body).toBe(bodies[5]);
    expect((await store.list()).find(({ id }) => id === 'mine')?.holds?.surfaces).toEqual([
      'my-grid',
    ]);
  });
});

test('upkeep goes in small steps, each whole: saves go on meanwhile, nothing named goes, and what is freed is given back', async () => {
  const store = new DocumentStore(db, 'profile');
  const body = JSON.stringify({ ...profile, filler: 'x'.repeat(50_000) });
  await store.create('mine', 'Mine', body);
  for (let n = 1; n < 300; n++) await store.save('mine', n, 'Mine', body);
  const pages = async () =>
    Number(Object.values(((await db.raw('PRAGMA page_count')) as object[])[0])[0]);
  const before = await pages();
  let saved = 0;
  let isDone = false;
  const saving = (async () => {
    for (let base = 300; !isDone; base++) {
      const result = await store.save('mine', base, 'Mine', body);
      expect(result).toMatchObject({ done: true, revision: base + 1 });
      saved++;
      // One is given a name while it may be about to go.
      if (saved === 2) await store.call('mine', 250, 'Kept');
      // As a request comes: not before what waited has had its turn.
      await breathe();
    }
  })();
  await keepSmall(db, new Date(Date.now() + 40 * 86_400_000));
  isDone = true;
  await saving;
  expect(saved).toBeGreaterThan(3);
  const left = await store.versions('mine');
  expect(left.find(({ label }) => label === 'Kept')?.revision).toBe(250);
  expect((await store.get('mine', 250))?.body).toBe(body);
  expect(await pages()).toBeLessThan(before / 2);
});

test('a file that gave no pages back is brought over once, and that is told', async () => {
  const old = join(folder, 'old.sqlite');
  const plain = new Sqlite(old);
  plain.exec(`create table x (y); insert into x values ('kept')`);
  plain.close();
  const told: string[] = [];
  for (let n = 0; n < 2; n++) {
    const opened = await openDatabase(old, (sentence) => void told.push(sentence));
    expect(await opened('x').select('y')).toEqual([{ y: 'kept' }]);
    expect(Object.values(((await opened.raw('PRAGMA auto_vacuum')) as object[])[0])).toEqual([2]);
    await opened.destroy();
  }
  expect(told).toHaveLength(2);
});

test('what a newer Rondo has made is listed as that and kept; a file of everything leaves it out and says so', async () => {
  const newer = { ...profile, id: 'tomorrow', version: 99, unheard: { of: [1, 2] } };
  const store = new DocumentStore(db, 'profile');
  await store.create('tomorrow', 'Tomorrow', JSON.stringify(newer));
  expect((await store.list()).map(({ id, holds }) => [id, holds?.version])).toContainEqual([
    'tomorrow',
    99,
  ]);
  const { file: whole, leftOut } = await exportFile(db);
  expect(whole.profiles.map(({ id }) => id)).not.toContain('tomorrow');
  expect(leftOut).toEqual([{ kind: 'profile', id: 'tomorrow', name: 'Tomorrow' }]);
  await expect(exportFile(db, ['tomorrow'])).rejects.toThrow('newer Rondo');
});

test('what cannot be read here counts as there: it is asked about, and neither replaced nor binned unasked', async () => {
  const store = new DocumentStore(db, 'profile');
  const newer = JSON.stringify({
    ...profile,
    version: 99,
    surfaces: {},
    surfaceOrder: [],
    hosts: {},
    hostOrder: [],
  });
  await store.create('mine', 'Of tomorrow', newer);
  expect(await importFile(db, file)).toMatchObject([
    { did: 'refused' },
    { did: 'refused', id: 'mine', mine: 'Of tomorrow', isNewer: true },
  ]);
  expect((await store.get('mine'))?.body).toBe(newer);
  const done = await importFile(db, file, 'replace');
  await takeBack(db, done);
  expect((await store.get('mine'))?.body).toBe(newer);
});

describe('a file is taken whole or not at all', () => {
  test('what is said to be done is done; the same again changes nothing', async () => {
    const dry = await importFile(db, file, undefined, true);
    expect(await new DocumentStore(db, 'surface').get('my-grid')).toBeNull();
    expect(await importFile(db, file)).toMatchObject(dry);
    expect(dry.map(({ did }) => did)).toEqual(['new', 'new']);
    expect((await importFile(db, file)).map(({ did }) => did)).toEqual(['same', 'same']);
    expect((await exportFile(db, ['mine'])).file).toEqual(file);
  });

  test('the same file twice makes nothing the second time, also where the first time made copies', async () => {
    await importFile(db, file);
    const others = {
      ...file,
      surfaces: [{ ...grid, name: 'Other grid' }],
      profiles: [{ ...profile, name: 'Other' }],
    };
    const first = await importFile(db, others, 'new');
    expect(first.map(({ did, mine }) => [did, mine])).toEqual([
      ['new', 'My grid'],
      ['new', profile.name],
    ]);
    const stands = JSON.stringify(await exportFile(db));
    const second = await importFile(db, others, 'new');
    expect(second.map(({ did, id }) => [did, id])).toEqual(first.map(({ id }) => ['same', id]));
    expect(JSON.stringify(await exportFile(db))).toBe(stands);
  });

  test('what it uses and has not is named', async () => {
    const bare = { ...file, surfaces: [] };
    const [one] = await importFile(db, bare, undefined, true);
    expect(one.missing).toEqual(['my-grid']);
  });

  test('what was replaced is taken back to the revision that it replaced, however thin the old ones have become', async () => {
    let now = new Date('2026-11-01T10:00:00Z');
    const store = new DocumentStore(db, 'profile', () => now.toISOString());
    const save = async (minutes: number, name: string) => {
      now = new Date(Date.UTC(2026, 10, 1, 10, minutes));
      const base = (await store.get('mine'))!.revision;
      await store.save('mine', base, name, JSON.stringify({ ...profile, name }));
    };
    await importFile(db, file);
    await store.purgeBefore(now.toISOString());
    await save(0, 'At ten');
    await save(11, 'At eleven minutes past');
    const done = await importFile(db, file, 'replace');
    expect(done.find(({ id }) => id === 'mine')).toMatchObject({ did: 'replaced', replaced: 3 });
    await store.thin(new Date('2026-11-03T11:30:00Z'));
    await takeBack(db, done);
    expect(JSON.parse((await store.get('mine'))!.body)).toMatchObject({
      name: 'At eleven minutes past',
    });
  });

  test('one clash refuses all of it; under new ids the profile goes with its own surface', async () => {
    await importFile(db, file);
    const other = {
      ...file,
      surfaces: [{ ...grid, name: 'Other grid' }],
      profiles: [{ ...profile, id: 'more' }],
    };
    expect((await importFile(db, other)).map(({ did }) => did)).toEqual(['refused', 'refused']);
    expect(await new DocumentStore(db, 'profile').get('more')).toBeNull();
    const done = await importFile(db, other, 'new');
    const [surface, more] = done;
    expect([surface.did, surface.was, more.did, more.id]).toEqual([
      'new',
      'my-grid',
      'new',
      'more',
    ]);
    const { profiles, surfaces } = (await exportFile(db, ['more'])).file;
    expect(profiles[0].surfaces['pads'].model).toBe(surface.id);
    expect(profiles[0].hosts['program'].model).toBe(`as:${surface.id}`);
    expect(surfaces.map(({ name }) => name)).toEqual(['Other grid']);
    expect((await exportFile(db, ['mine'])).file.surfaces[0].name).toBe('My grid');
  });

  test('the law: what was read and is taken back leaves everything as it was, at random', async () => {
    const state = async () => JSON.stringify(await exportFile(db));
    const named = (name: string, id: string) => ({ ...profile, id, name });
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            id: fc.constantFrom('mine', 'more', 'third'),
            name: fc.constantFrom('A', 'B', 'C'),
            grid: fc.constantFrom('My grid', 'Other grid'),
            clash: fc.constantFrom<Clash[]>('new', 'replace'),
          }),
          { minLength: 1, maxLength: 3 },
        ),
        async (steps) => {
          for (const { id, name, grid: label, clash } of steps) {
            const before = await state();
            const given = {
              ...file,
              surfaces: [{ ...grid, name: label }],
              profiles: [named(name, id)],
            };
            const done = await importFile(db, given, clash);
            await takeBack(db, JSON.parse(JSON.stringify(done)) as Imported[]);
            expect(await state()).toBe(before);
            // The next one comes upon it.
            await importFile(db, given, clash);
          }
        },
      ),
      { numRuns: 6 },
    );
  });

  test('what was changed since, or is used by others, is not taken back, nor is anything of it', async () => {
    const done = await importFile(db, file);
    const store = new DocumentStore(db, 'profile');
    const stands = await exportFile(db);
    await store.create(
      'other',
      'Other',
      JSON.stringify({ ...profile, id: 'other', name: 'Other' }),
    );
    await expect(takeBack(db, done)).rejects.toThrow('is used by “Other” by now');
    await store.remove('other');
    expect(await exportFile(db)).toEqual(stands);
    await store.save('mine', 1, 'Mine', JSON.stringify({ ...profile, name: 'Mine, changed' }));
    await expect(takeBack(db, done)).rejects.toThrow('has been changed since');
    expect((await new DocumentStore(db, 'surface').get('my-grid'))?.revision).toBe(1);
  });

  test('what ships with Rondo is never replaced', async () => {
    const stock = { ...file, surfaces: [{ ...COBBLE_64, name: 'Mine now' }], profiles: [] };
    expect((await importFile(db, stock, 'replace')).map(({ did }) => did)).toEqual(['refused']);
  });

  test('what was deleted comes back with the file, as its next revision', async () => {
    await importFile(db, file);
    const store = new DocumentStore(db, 'profile');
    await store.remove('mine');
    expect((await store.bin()).map(({ id }) => id)).toEqual(['mine']);
    expect((await importFile(db, file)).map(({ did }) => did)).toEqual(['same', 'new']);
    expect((await store.get('mine'))?.revision).toBe(2);
    expect(await store.bin()).toEqual([]);
  });
});

describe('the bin', () => {
  test('is emptied by age, or one by one; what is not in it cannot be purged', async () => {
    const store = new DocumentStore(db, 'profile');
    await importFile(db, file);
    expect(await store.purge('mine')).toBe(false);
    await store.remove('mine');
    await keepSmall(db, new Date(Date.now() + 89 * 86_400_000));
    expect((await store.bin()).map(({ id }) => id)).toEqual(['mine']);
    await keepSmall(db, new Date(Date.now() + 91 * 86_400_000));
    expect(await store.bin()).toEqual([]);
    expect(await store.restore('mine')).toBe(false);
  });
});

describe('backups', () => {
  test('a copy made in the midst of writing is sound, and holds what was saved before', async () => {
    const store = new DocumentStore(db, 'surface');
    await store.create('a', 'A', JSON.stringify(grid));
    const writing = Array.from({ length: 40 }, (_, n) =>
      store.create(`s-${n}`, 'S', JSON.stringify(grid)),
    );
    await backUp(join(folder, 'rondo.sqlite'), join(folder, 'copy.sqlite'));
    await Promise.all(writing);
    const copy = new Sqlite(join(folder, 'copy.sqlite'), { readonly: true });
    expect(copy.pragma('integrity_check', { simple: true })).toBe('ok');
    expect(copy.prepare(`select name from surface where id = 'a'`).get()).toEqual({ name: 'A' });
    copy.close();
    expect(existsSync(join(folder, 'copy.sqlite.part'))).toBe(false);
  });

  test('the last seven stay, one a day by itself', async () => {
    for (let day = 1; day <= 10; day++)
      await dailyBackup(folder, new Date(Date.UTC(2026, 10, day, 9)));
    expect(await dailyBackup(folder, new Date(Date.UTC(2026, 10, 10, 18)))).toBeNull();
    expect(backupsOf(folder).map(({ at }) => at.slice(8, 10))).toEqual([
      '10',
      '09',
      '08',
      '07',
      '06',
      '05',
      '04',
    ]);
    expect(backupsOf(folder)).toHaveLength(DAYS_KEPT);
    // Those by hand drive out no day's, and of a day they are the newest that stay.
    for (let hour = 10; hour < 22; hour++)
      await backUpFolder(folder, new Date(Date.UTC(2026, 10, 10, hour)));
    const days = backupsOf(folder).map(({ at }) => at.slice(8, 10));
    expect(new Set(days)).toEqual(new Set(['10', '09', '08', '07', '06', '05', '04']));
    expect(backupsOf(folder).map(({ at }) => at.slice(8, 13))).toContain('10T09');
    expect(days.filter((day) => day === '10')).toHaveLength(NEWEST_KEPT + 1);
  });

  test('a restore goes on counting, keeps what is set for this machine, and three of the replaced', async () => {
    const target = join(folder, 'again.sqlite');
    const first = await openDatabase(target);
    const at = (knex: Knex) => new DocumentStore(knex, 'profile');
    await at(first).create('p', 'One', '{"n":1}');
    await at(first).create('same', 'Same', '{"n":1}');
    await writeSetting(first, 'glass', [{ id: 'sent away later' }]);
    const backup = join(folder, 'then.sqlite');
    await backUp(target, backup);
    await at(first).save('p', 1, 'Two', '{"n":2}');
    await at(first).save('p', 2, 'Three', '{"n":3}');
    await at(first).create('later', 'Later', '{}');
    await writeSetting(first, 'glass', []);
    await writeSetting(first, 'network', { on: true });
    await first.destroy();
    await restoreBackup(backup, target);
    const second = await openDatabase(target);
    // Whoever has revision 3 open is told; and so it is after two saves of others.
    expect(await at(second).get('p')).toMatchObject({ revision: 4, name: 'One', body: '{"n":1}' });
    expect(await at(second).save('p', 3, 'Mine', '{}')).toMatchObject({
      done: false,
      why: 'stale',
    });
    expect(await at(second).get('same')).toMatchObject({ revision: 1 });
    expect(await at(second).get('later')).toBeNull();
    expect(await readSetting(second, 'glass')).toEqual([]);
    expect(await readSetting(second, 'network')).toEqual({ on: true });
    await second.destroy();
    for (let n = 0; n < 4; n++) await restoreBackup(backup, target);
    const kept = readdirSync(folder).filter((name) => name.startsWith('again.sqlite.before-'));
    expect(kept).toHaveLength(REPLACED_KEPT);
  });

  test.each([
    ['cut in the middle', (good: Buffer) => good.subarray(0, good.length >> 1)],
    [
      'overwritten',
      (good: Buffer) =>
        Buffer.concat([good.subarray(0, 8_000), Buffer.alloc(9_000, 7), good.subarray(17_000)]),
    ],
    ['no database', () => Buffer.from('hello')],
    ['empty', () => Buffer.alloc(0)],
  ])('one that is %s is told and changes nothing', async (_, spoil) => {
    const target = join(folder, 'target.sqlite');
    await backUp(join(folder, 'rondo.sqlite'), target);
    const before = readFileSync(target);
    writeFileSync(join(folder, 'bad.sqlite'), spoil(before));
    await expect(restoreBackup(join(folder, 'bad.sqlite'), target)).rejects.toThrow(DamagedError);
    expect(readFileSync(target).equals(before)).toBe(true);
    expect(statSync(target).size).toBeGreaterThan(0);
  });
});
