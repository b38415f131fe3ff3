import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/* Which of the page's tests `npm test -- changed` runs for a folder: a folder that is in no row would run none. */

const ROOT = join(import.meta.dirname, '..');
const TABLE = JSON.parse(readFileSync(join(ROOT, 'scripts/page-tests.json'), 'utf8')) as Record<
  string,
  string[]
>;

/** Folders with sources of their own, below some. */
function* foldersBelow(folder: string): Generator<string> {
  const entries = readdirSync(join(ROOT, folder), { withFileTypes: true });
  if (entries.some((one) => one.isFile() && /\.(ts|html|css)$/.test(one.name))) yield folder;
  for (const one of entries)
    if (one.isDirectory() && !['node_modules', 'dist', '.angular'].includes(one.name))
      yield* foldersBelow(`${folder}/${one.name}`);
}

test('every folder of sources is in a row, or below one', () => {
  const rows = Object.keys(TABLE);
  const folders = ['core', 'store', 'server', 'cli', 'web/src'].flatMap((one) => [
    ...foldersBelow(one),
  ]);
  expect(folders.length).toBeGreaterThan(30);
  const bare = folders.filter(
    (folder) => !rows.some((row) => folder === row || folder.startsWith(`${row}/`)),
  );
  expect(bare).toEqual([]);
});

test('every test of the page is in some row, and every test that a row names is there', () => {
  const there = readdirSync(join(ROOT, 'e2e'))
    .filter((name) => name.endsWith('.e2e.ts'))
    .map((name) => name.replace('.e2e.ts', ''));
  expect([...new Set(Object.values(TABLE).flat())].sort()).toEqual(there.sort());
});
