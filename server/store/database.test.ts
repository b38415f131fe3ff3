import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
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
  expect(await again('profile').pluck('name')).toEqual(['Kept', 'Kept']);
  expect(await again.raw('PRAGMA foreign_keys')).toEqual([{ foreign_keys: 1 }]);
  await again.destroy();
});
