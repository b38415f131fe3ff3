import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { nineFerriesMix } from '@rondo/core/profile';
import { openDatabase } from './database';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'rondo-'))));
afterEach(() => rmSync(folder, { recursive: true }));

test('a database from a newer Rondo is refused with what to do, and left as it is', async () => {
  const file = join(folder, 'rondo.sqlite');
  await (await openDatabase(file)).destroy();
  const newer = new Sqlite(file);
  newer.pragma('user_version = 99');
  newer.pragma('wal_checkpoint(TRUNCATE)');
  newer.close();
  const before = readFileSync(file);
  await expect(openDatabase(file)).rejects.toThrow(/newer Rondo .* RONDO_DATA/);
  expect(readFileSync(file).equals(before)).toBe(true);
});

test('opening again keeps what is there', async () => {
  const file = join(folder, 'rondo.sqlite');
  const first = await openDatabase(file);
  await first('profile').update({ name: 'Kept' });
  await first.destroy();
  const again = await openDatabase(file);
  expect(await again('profile').pluck('name')).toEqual(['Kept', 'Kept', 'Kept']);
  expect(await again.raw('PRAGMA foreign_keys')).toEqual([{ foreign_keys: 1 }]);
  await again.destroy();
});

test('demos of an earlier Rondo are brought up to date where nobody has changed them', async () => {
  const file = join(folder, 'demos.sqlite');
  const first = await openDatabase(file);
  const old = JSON.stringify({ old: true });
  await first('profile_revision').update({ body: old });
  await first('profile').where({ id: 'neap-rink' }).update({ revision: 2 });
  await first('knex_migrations').where({ name: '004_complete_demos' }).delete();
  await first.destroy();
  const again = await openDatabase(file);
  const bodyOf = async (id: string): Promise<string> => {
    const row: { body: string } = await again('profile_revision')
      .where({ profile_id: id, revision: 1 })
      .first();
    return row.body;
  };
  expect(JSON.parse(await bodyOf('nine-ferries-mix'))).toEqual(nineFerriesMix());
  expect(await bodyOf('neap-rink')).toBe(old);
  await again.destroy();
});
