import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Sqlite from 'better-sqlite3';
import { farShore, nineFerriesMix } from '@rondo/core/profile';
import { COBBLE_64 } from '@rondo/core/surface';

/* The built programs as people run them. `npm test` builds them first; by hand: node scripts/build.mjs. */
const PROGRAM = fileURLToPath(new URL('dist/rondo.mjs', import.meta.url));
const SERVER = fileURLToPath(new URL('../server/dist/main.mjs', import.meta.url));

let folder: string;
const at = (name: string) => join(folder, name);
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'rondo-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

function rondo(...args: string[]) {
  const { stdout, stderr, status } = spawnSync(process.execPath, [PROGRAM, ...args], {
    encoding: 'utf8',
    maxBuffer: 64 << 20,
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  const lines = stdout.split('\n').filter(Boolean);
  return { out: stdout, lines, errors: stderr, status };
}
const write = (name: string, value: unknown): string => {
  writeFileSync(at(name), typeof value === 'string' ? value : JSON.stringify(value));
  return at(name);
};
const said = (lines: readonly string[]) =>
  lines.map((line) => {
    const { id, kind, did } = JSON.parse(line) as Record<string, string>;
    return `${kind} ${id} ${did}`;
  });
const own = { ...COBBLE_64, id: 'my-grid', name: 'My grid' };
const mine = {
  ...farShore(),
  id: 'mine',
  name: 'Mine',
  surfaces: { ...farShore().surfaces, pads: { id: 'pads', model: 'my-grid', label: 'Pads' } },
};

test('a profile goes from one folder to another through a file, with what it uses', () => {
  const grid = write('grid.json', own);
  const profile = write('mine.json', mine);
  const first = rondo('import', '--data', at('one'), grid, profile);
  expect(first.errors).toBe('');
  expect(said(first.lines)).toEqual(['surface my-grid new', 'profile mine new']);
  expect(JSON.parse(first.lines[0]) as object).toEqual({
    file: grid,
    id: 'my-grid',
    kind: 'surface',
    name: 'My grid',
    did: 'new',
  });
  expect(
    rondo('export', '--data', at('one'), '--profile', 'mine', '--out', at('out.json')),
  ).toMatchObject({
    out: '',
    status: 0,
  });
  const again = rondo('import', '--data', at('two'), at('out.json'));
  expect(again.status).toBe(0);
  expect(said(again.lines)).toEqual([
    'surface my-grid new',
    'host lantern same',
    'profile mine new',
  ]);
  rondo('export', '--data', at('two'), '--profile', 'mine', '--out', at('back.json'));
  expect(readFileSync(at('back.json'), 'utf8')).toBe(readFileSync(at('out.json'), 'utf8'));
  expect(rondo('diff', at('out.json'), at('back.json'))).toMatchObject({ out: '', status: 0 });
});

test('a clash is refused and nothing changed, taken under a new id, or in its place, as it is said', () => {
  const changed = write('changed.json', { ...mine, name: 'Changed' });
  rondo('import', '--data', at('one'), write('grid.json', own), write('mine.json', mine));
  const refused = rondo('import', '--data', at('one'), changed);
  expect([said(refused.lines), refused.status]).toEqual([['profile mine refused'], 1]);
  const asNew = rondo('import', '--data', at('one'), '--as', 'new', changed);
  expect(asNew.status).toBe(0);
  expect((JSON.parse(asNew.lines[0]) as { id: string }).id).not.toBe('mine');
  rondo('export', '--data', at('one'), '--profile', 'mine', '--out', at('a.json'));
  expect(readFileSync(at('a.json'), 'utf8')).toContain('"name": "Mine"');
  const replaced = rondo('import', '--data', at('one'), '--as', 'replace', changed);
  expect([said(replaced.lines), replaced.status]).toEqual([['profile mine replaced'], 0]);
  expect(said(rondo('import', '--data', at('one'), changed).lines)).toEqual(['profile mine same']);
});

test('everything is written file by file, and reads back as the same', () => {
  rondo('import', '--data', at('one'), write('grid.json', own));
  expect(rondo('export', '--data', at('one'), '--all', '--out', at('all')).status).toBe(0);
  expect(readdirSync(at('all')).sort()).toEqual([
    'everything.json',
    'far-shore.json',
    'neap-rink.json',
    'nine-ferries-mix.json',
  ]);
  const back = rondo('import', '--data', at('one'), join(at('all'), 'everything.json'));
  expect(said(back.lines).every((line) => line.endsWith(' same'))).toBe(true);
  expect(said(back.lines)).toContain('surface my-grid same');
});

test('differences are printed line by line, and the exit code says whether there are any', () => {
  const start = nineFerriesMix();
  const a = write('a.json', start);
  const b = write('b.json', { ...start, name: 'Other', later: 1 });
  const { lines, status } = rondo('diff', a, b);
  expect(status).toBe(1);
  expect(
    lines
      .map((line) => JSON.parse(line) as object)
      .sort((x, y) => (JSON.stringify(x) < JSON.stringify(y) ? -1 : 1)),
  ).toEqual(
    [
      { path: '/later', after: 1, says: 'later: added 1' },
      { path: '/name', before: start.name, after: 'Other', says: `name: ${start.name} → Other` },
    ].sort((x, y) => (JSON.stringify(x) < JSON.stringify(y) ? -1 : 1)),
  );
  expect(rondo('diff', a, a)).toMatchObject({ out: '', errors: '', status: 0 });
});

test('replay takes Rondo’s file wherever it takes a profile', () => {
  const file = write('both.json', {
    format: 'rondo-file',
    version: 1,
    profiles: [nineFerriesMix(), mine],
    surfaces: [own],
    hosts: [],
  });
  const input = write('in.txt', '0,desk,90 10 7f\n100,desk,90 10 00\n');
  const one = rondo('replay', file, '--profile', 'nine-ferries-mix', '--in', input);
  const plain = rondo('replay', write('a.json', nineFerriesMix()), '--in', input);
  expect(one.out).toBe(plain.out);
  expect(one.lines.length).toBeGreaterThan(1);
  expect(rondo('replay', file, '--in', input)).toMatchObject({ out: '', status: 2 });
});

test('a backup is a whole database, and comes back; the one that was there is kept', () => {
  rondo('import', '--data', at('one'), write('grid.json', own), write('mine.json', mine));
  expect(rondo('backup', '--data', at('one'), '--out', at('kept.sqlite'))).toMatchObject({
    out: '',
    status: 0,
  });
  rondo(
    'import',
    '--data',
    at('one'),
    '--as',
    'replace',
    write('changed.json', { ...mine, name: 'Changed' }),
  );
  const restored = rondo('restore', '--data', at('one'), at('kept.sqlite'));
  expect([restored.out, restored.status]).toEqual(['', 0]);
  expect(restored.errors).toContain('is kept as');
  rondo('export', '--data', at('one'), '--profile', 'mine', '--out', at('out.json'));
  expect(readFileSync(at('out.json'), 'utf8')).toContain('"name": "Mine"');
  expect(readdirSync(at('one')).filter((name) => name.includes('before')).length).toBe(1);
});

describe('what cannot be used ends with 2 and nothing on standard output', () => {
  let shared: string;
  beforeAll(() => {
    shared = mkdtempSync(join(tmpdir(), 'rondo-'));
    writeFileSync(join(shared, 'grid.json'), JSON.stringify(own));
    rondo('import', '--data', join(shared, 'one'), join(shared, 'grid.json'));
  });
  afterAll(() => rmSync(shared, { recursive: true, force: true }));
  /** All that the folder holds. */
  const kept = (): string => {
    const db = new Sqlite(join(shared, 'one', 'rondo.sqlite'), { readonly: true });
    const rows = ['profile', 'surface', 'host'].map((kind) =>
      db.prepare(`select * from ${kind}_revision order by 1, 2`).all(),
    );
    db.close();
    return JSON.stringify(rows);
  };
  test.each([
    ['no folder', ['export', '--profile', 'a', '--out', 'x'], /--data is missing/],
    [
      'a folder that is none',
      ['export', '--data', 'nowhere', '--all', '--out', 'x'],
      /no data folder/,
    ],
    ['neither one nor all', ['export', '--data', '$one', '--out', 'x'], /--profile ID or --all/],
    [
      'no such profile',
      ['export', '--data', '$one', '--profile', 'none', '--out', '$x'],
      /no profile/,
    ],
    ['no file', ['import', '--data', '$one'], /at least one file/],
    ['a file that is not there', ['import', '--data', '$one', '$none'], /cannot be read/],
    ['a file that is none', ['import', '--data', '$one', '$bad'], /not JSON/],
    ['a good file and a bad one', ['import', '--data', '$one', '$good', '$bad'], /not JSON/],
    ['an unknown way', ['import', '--data', '$one', '--as', 'merge', '$good'], /new or replace/],
    ['an unknown option', ['diff', '--fast', '$good', '$good'], /help/],
    ['one file to compare', ['diff', '$good'], /two files/],
    ['a backup that is none', ['restore', '--data', '$one', '$bad'], /damaged|no database/],
    ['no place for a backup', ['backup', '--data', '$one'], /--out is missing/],
  ])('%s', (_, args, says) => {
    write('good.json', mine);
    write('bad.json', '{"format":');
    const places: Record<string, string> = {
      $one: join(shared, 'one'),
      $good: at('good.json'),
      $bad: at('bad.json'),
      $none: at('none'),
      $x: at('x'),
    };
    const before = kept();
    const { out, errors, status } = rondo(...args.map((one) => places[one] ?? one));
    expect([out, status]).toEqual(['', 2]);
    expect(errors).toMatch(says);
    expect(kept()).toBe(before);
  });
});

test('where Rondo runs on the folder the command goes through it, and is not put aside by it', async () => {
  let server: ChildProcess | undefined;
  try {
    server = spawn(process.execPath, [SERVER], {
      env: { ...process.env, RONDO_DATA: at('one'), RONDO_PORT: '0', NODE_OPTIONS: '' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const child = server;
    const address = await new Promise<string>((done, fail) => {
      child.stdout?.on('data', (chunk: Buffer) => {
        const found = /http:\/\/\S+/.exec(String(chunk));
        if (found) done(found[0]);
      });
      child.once('exit', () => fail(new Error('The server did not start.')));
    });
    const taken = rondo(
      'import',
      '--data',
      at('one'),
      write('grid.json', own),
      write('mine.json', mine),
    );
    expect(said(taken.lines)).toEqual(['surface my-grid new', 'profile mine new']);
    const listed = (await (await fetch(`${address}api/profiles`)).json()) as {
      documents: { id: string }[];
    };
    expect(listed.documents.map(({ id }) => id)).toContain('mine');
    expect(
      rondo('export', '--data', at('one'), '--profile', 'mine', '--out', at('out.json')).status,
    ).toBe(0);
    expect(existsSync(at('out.json'))).toBe(true);
    expect(rondo('export', '--data', at('one'), '--profile', 'none', '--out', at('x')).status).toBe(
      2,
    );
    expect(rondo('backup', '--data', at('one'), '--out', at('kept.sqlite')).status).toBe(0);
    const refused = rondo('restore', '--data', at('one'), at('kept.sqlite'));
    expect([refused.out, refused.status]).toEqual(['', 2]);
    expect(refused.errors).toContain('Stop it');
  } finally {
    server?.kill('SIGKILL');
  }
});
