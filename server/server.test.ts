import { jest } from '@jest/globals';
import { WebSocket } from 'ws';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { request } from 'node:http';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { inflateRawSync } from 'node:zlib';
import Sqlite from 'better-sqlite3';
import { nineFerriesMix } from '@rondo/core/profile';

// Long random runs have their time: five minutes here, an hour in the soak.
jest.setTimeout(process.env['RONDO_LAW_RUNS'] || process.env['RONDO_KILLS'] ? 3_600_000 : 300_000);

/*
 * The built server as its own process. `npm test` builds it first; by hand: node scripts/build.mjs.
 */
const PROGRAM = fileURLToPath(new URL('dist/main.mjs', import.meta.url));
/** What it serves; a server without a page starts all the same, and fails at it. */
const PAGE = fileURLToPath(new URL('../web/dist/browser/index.html', import.meta.url));
/** Many more in the soak. */
const KILLS = Number(process.env['RONDO_KILLS'] ?? 20);
const LATEST_KILL_MS = 100;

const running = new Set<ChildProcess>();
let folder: string;

beforeAll(() => {
  for (const built of [PROGRAM, PAGE])
    if (!existsSync(built)) throw new Error(`${built} is not built: node scripts/build.mjs`);
});
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'rondo-'))));
afterEach(async () => {
  await Promise.all([...running].map(kill));
  rmSync(folder, { recursive: true });
});

function start(port: number, path = folder): { child: ChildProcess; said: Promise<string> } {
  const child = spawn(process.execPath, [PROGRAM], {
    env: { ...process.env, RONDO_DATA: path, RONDO_PORT: String(port), NODE_OPTIONS: '' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  running.add(child);
  child.once('exit', () => running.delete(child));
  let text = '';
  const said = new Promise<string>((done, fail) => {
    child.stdout?.on('data', (chunk: Buffer) => {
      text += String(chunk);
      if (/http:\/\/\S+\n/.test(text)) done(text);
    });
    child.stderr?.on('data', (chunk: Buffer) => (text += String(chunk)));
    child.once('exit', () => fail(new Error(text || 'killed')));
  });
  return { child, said };
}

async function kill(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  child.kill('SIGKILL');
  await once(child, 'exit');
}
const addressIn = (text: string): string => /http:\/\/\S+/.exec(text)?.[0] ?? '';

test('a second start on the same folder finds the first and prints its address', async () => {
  const first = addressIn(await start(0).said);
  const second = start(0);
  const code = once(second.child, 'exit');
  expect(await second.said).toBe(`Rondo is already running: ${first}\n`);
  expect((await code)[0]).toBe(0);
});

test('every page hears what another has changed; no page of elsewhere does', async () => {
  const url = addressIn(await start(0).said);
  const events = `${url.replace('http', 'ws')}api/events`;
  const pages = [0, 1].map(() => new WebSocket(events, { origin: url.slice(0, -1) }));
  await Promise.all(pages.map((page) => once(page, 'open')));
  const heard = pages.map((page) => once(page, 'message'));
  await fetch(`${url}api/profiles/neap-rink`, { method: 'DELETE' });
  for (const [data] of (await Promise.all(heard)) as [Buffer][])
    expect(JSON.parse(String(data))).toMatchObject({
      says: 'changed',
      kind: 'profile',
      id: 'neap-rink',
      cause: 'deleted',
    });
  for (const page of pages) page.close();
  for (const origin of ['http://elsewhere.example', 'null', undefined]) {
    const stranger = new WebSocket(events, origin === undefined ? {} : { origin });
    const [error] = (await once(stranger, 'error')) as [Error];
    expect(error.message).toContain('403');
  }
});

test('where another program holds the port, the next one is taken, and the loss of permission said', async () => {
  const other = createServer();
  await new Promise<void>((done) => other.listen(0, '127.0.0.1', done));
  const { port } = other.address() as { port: number };
  const text = await start(port).said;
  other.close();
  expect(text).toContain(`Another program holds port ${port}`);
  expect(text).toContain('permission to use MIDI again');
});

test('a backup that is put back leaves as it is set who may come in, and whether anybody may', async () => {
  const url = addressIn(await start(0).said);
  const ask = async (method: string, path: string, body?: object) => {
    const answer = await fetch(`${url}api/${path}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    return (answer.status === 204 ? {} : await answer.json()) as Record<string, unknown>;
  };
  const made = async () => String((await ask('POST', 'backups'))['name']);
  await ask('PUT', 'network', { on: true });
  await ask('PUT', 'keys', { on: true });
  const open = await made();
  await ask('PUT', 'network', { on: false });
  await ask('PUT', 'keys', { on: false });
  await ask('POST', `backups/${open}/restore`);
  // What was closed since is not opened by an old file.
  expect(await ask('GET', 'network')).toMatchObject({ on: false });
  expect(await ask('GET', 'glass')).toMatchObject({ isOpen: false });
  expect(await ask('GET', 'keys')).toMatchObject({ on: false, token: '' });
  await ask('PUT', 'network', { on: true });
  const { token } = await ask('PUT', 'keys', { on: true });
  await ask('POST', `backups/${open}/restore`);
  expect(await ask('GET', 'network')).toMatchObject({ on: true });
  expect(await ask('GET', 'glass')).toMatchObject({ isOpen: true, fault: '' });
  expect(await ask('GET', 'keys')).toMatchObject({ on: true, token });
});

/** Starts a server, saves as fast as it answers, and kills it somewhere in between. */
async function saveAndKill(
  path: string,
  afterMs: number,
  mark: string,
  acknowledged: Map<number, string>,
): Promise<void> {
  const { child, said } = start(0, path);
  said.catch(() => undefined);
  const url = `${addressIn(await said)}api/profiles/nine-ferries-mix`;
  let { revision } = (await (await fetch(url)).json()) as { revision: number };
  const died = once(child, 'exit');
  let isTimed = false;
  try {
    for (;;) {
      const body = JSON.stringify({ ...nineFerriesMix(), name: `Save ${mark} on ${revision}` });
      const answer = await fetch(url, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: `{"revision":${revision},"document":${body}}`,
      });
      ({ revision } = (await answer.json()) as { revision: number });
      acknowledged.set(revision, body);
      // However slow the machine is, there is something to lose.
      if (!isTimed) setTimeout(() => child.kill('SIGKILL'), afterMs);
      isTimed = true;
    }
  } catch {
    // The kill cut the connection: what was answered before stands.
  }
  await died;
}

test(`${KILLS} kills while saving lose no acknowledged revision`, async () => {
  let seed = 23_112_026;
  const random = () => {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) | 0;
    return (seed >>> 0) / 2 ** 32;
  };
  // Two folders side by side, one for each core that tests may count on.
  await Promise.all(
    ['one', 'two'].map(async (name) => {
      const path = join(folder, name);
      const acknowledged = new Map<number, string>();
      for (let n = 0; n < KILLS / 2; n++)
        await saveAndKill(path, random() * LATEST_KILL_MS, `${n}`, acknowledged);
      expect(acknowledged.size).toBeGreaterThanOrEqual(KILLS / 2);
      const db = new Sqlite(join(path, 'rondo.sqlite'));
      const read = db.prepare('select body from profile_revision where revision = ?').pluck();
      // What is not the newest may be compressed by then.
      for (const [revision, body] of acknowledged) {
        const kept = read.get(revision) as string | Buffer;
        const text = typeof kept === 'string' ? kept : inflateRawSync(kept).toString('utf8');
        expect(text).toBe(body);
      }
      expect(db.pragma('integrity_check', { simple: true })).toBe('ok');
      db.close();
    }),
  );
});

/** A folder as years leave it: revisions of many days, some of them named, and a backup of another name. */
async function lived(path: string): Promise<{ readonly named: readonly string[] }> {
  await start(0, path).said;
  await Promise.all([...running].map(kill));
  const file = join(path, 'rondo.sqlite');
  const db = new Sqlite(file);
  const put = db.prepare(
    'insert into profile_revision (profile_id, revision, body, saved_at, label) values (?, ?, ?, ?, ?)',
  );
  const day = Date.parse('2026-01-01T08:00:00Z');
  const named: string[] = [];
  db.transaction(() => {
    for (let n = 2; n <= 601; n++) {
      const body = JSON.stringify({ ...nineFerriesMix(), name: `Day ${n}` });
      if (n % 100 === 0) named.push(body);
      const at = new Date(day + n * 3_600_000).toISOString();
      put.run('nine-ferries-mix', n, body, at, n % 100 === 0 ? `Named ${n}` : null);
    }
    db.prepare(
      `update profile set revision = 601, name = 'Day 601' where id = 'nine-ferries-mix'`,
    ).run();
  })();
  db.close();
  copyFileSync(file, join(path, 'other.sqlite'));
  const other = new Sqlite(join(path, 'other.sqlite'));
  other.prepare(`update profile set name = 'The backup' where id = 'nine-ferries-mix'`).run();
  other.close();
  mkdirSync(join(path, 'backups'), { recursive: true });
  copyFileSync(
    join(path, 'other.sqlite'),
    join(path, 'backups', 'rondo-2020-01-01T08-00-00.sqlite'),
  );
  return { named };
}

const ASKED = {
  thinning: null,
  'a backup': 'backups',
  'a restore': 'backups/rondo-2020-01-01T08-00-00.sqlite/restore',
} as const;

test.each(Object.entries(ASKED))(
  'kills during %s leave it whole: as it was, or as it was to be',
  async (what, path) => {
    const { named } = await lived(folder);
    const file = join(folder, 'rondo.sqlite');
    const untouched = readFileSync(file);
    const counted = () => {
      const db = new Sqlite(file, { readonly: true });
      const count = Number(db.prepare('select count(*) from profile_revision').pluck().get());
      db.close();
      return count;
    };
    const all = counted();
    /** Asks for it, or waits until it has begun by itself and is done. */
    const whole = async (url: string): Promise<unknown> => {
      if (path) return fetch(`${url}api/${path}`, { method: 'POST' }).catch(() => undefined);
      while (running.size > 0 && counted() === all) await new Promise((done) => setImmediate(done));
      return undefined;
    };
    const first = start(0);
    const url = addressIn(await first.said);
    const since = performance.now();
    await whole(url);
    const lasts = performance.now() - since;
    await kill(first.child);
    const kills = Math.max(5, Math.round(KILLS / 4));
    const seen = new Set<string>();
    const checked = new Set<string>();
    for (let n = 0; n < kills; n++) {
      for (const rest of ['-wal', '-shm']) rmSync(file + rest, { force: true });
      writeFileSync(file, untouched);
      const { child, said } = start(0);
      const died = once(child, 'exit');
      const asked = whole(addressIn(await said));
      // From its beginning to somewhat after its end.
      setTimeout(() => child.kill('SIGKILL'), (n / (kills - 1)) * 1.2 * lasts);
      await Promise.all([died, asked]);
      expect(existsSync(file)).toBe(true);
      const db = new Sqlite(file);
      expect(db.pragma('integrity_check', { simple: true })).toBe('ok');
      const name = db
        .prepare(`select name from profile where id = 'nine-ferries-mix'`)
        .pluck()
        .get();
      expect(what === 'a restore' ? ['Day 601', 'The backup'] : ['Day 601']).toContain(name);
      const bodies = db
        .prepare('select body from profile_revision where label is not null or revision = 601')
        .pluck()
        .all()
        .map((body) =>
          typeof body === 'string' ? body : inflateRawSync(body as Buffer).toString('utf8'),
        );
      expect(bodies).toEqual(expect.arrayContaining([...named]));
      expect(bodies).toHaveLength(named.length + 1);
      db.close();
      const backups = readdirSync(join(folder, 'backups')).filter((one) => one.endsWith('.sqlite'));
      for (const backup of backups.filter((one) => !checked.has(one))) {
        checked.add(backup);
        const copy = new Sqlite(join(folder, 'backups', backup), { readonly: true });
        expect(copy.pragma('integrity_check', { simple: true })).toBe('ok');
        copy.close();
      }
      seen.add(`${String(name)} ${counted() === all ? '' : 'thinned'}`);
    }
    // Some came before it was done, and some after.
    if (what !== 'a backup') expect(seen.size).toBeGreaterThan(1);
    // And it starts.
    expect(addressIn(await start(0).said)).not.toBe('');
  },
  120_000,
);

test('a damaged database is left as it is, and the newest good backup is offered', async () => {
  const first = start(0);
  await first.said;
  const database = join(folder, 'rondo.sqlite');
  const good = 'rondo-2026-11-02T08-00-00.sqlite';
  mkdirSync(join(folder, 'backups'), { recursive: true });
  await kill(first.child);
  const settled = new Sqlite(database);
  settled.pragma('wal_checkpoint(TRUNCATE)');
  settled.close();
  copyFileSync(database, join(folder, 'backups', good));
  // A newer one that is no good is passed over.
  writeFileSync(join(folder, 'backups', 'rondo-2026-11-03T08-00-00.sqlite'), 'not a database');
  const bytes = readFileSync(database);
  bytes.fill(0x5a, 4_096);
  writeFileSync(database, bytes);
  const damaged = start(0);
  const said = await damaged.said.catch((error: Error) => error.message);
  expect(said).toMatch(/damaged.*Nothing was changed\./s);
  expect(said).toContain(good);
  expect(said).toContain('rondo -- restore');
  expect(readFileSync(database).equals(bytes)).toBe(true);
  const command = fileURLToPath(new URL('../cli/dist/rondo.mjs', import.meta.url));
  const done = spawnSync(process.execPath, [
    command,
    ...['restore', '--data', folder, join(folder, 'backups', good)],
  ]);
  expect(String(done.stderr)).toContain('is kept as');
  expect(done.status).toBe(0);
  expect(addressIn(await start(0).said)).toMatch(/^http/);
});

test('shutting down finishes what has begun: a save that is under way is stored and answered', async () => {
  const { child, said } = start(0);
  const url = `${addressIn(await said)}api/profiles/nine-ferries-mix`;
  const body = JSON.stringify({
    revision: 1,
    document: { ...nineFerriesMix(), name: 'The last word' },
  });
  const sent = request(url, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body) },
  });
  const answer = once(sent, 'response');
  sent.write(body.slice(0, body.length / 2));
  await once(sent, 'socket');
  // The server has begun to read; now it is told to stop, and only then the rest comes.
  await new Promise<void>((done) => sent.once('drain', done) && setImmediate(done));
  const ended = once(child, 'exit');
  await fetch(url.replace(/api.*/, 'api/health'));
  child.kill('SIGTERM');
  sent.end(body.slice(body.length / 2));
  const [{ statusCode }] = (await answer) as [{ statusCode: number }];
  expect(statusCode).toBe(200);
  expect((await ended)[0]).toBe(0);
  const db = new Sqlite(join(folder, 'rondo.sqlite'));
  expect(db.prepare('select name from profile where id = ?').pluck().get('nine-ferries-mix')).toBe(
    'The last word',
  );
  db.close();
});

test('where another program holds localhost there is no frame for the ports; else both names lead here', async () => {
  const other = createServer();
  const isV6 = await new Promise<boolean>((done) => {
    other.once('error', () => done(false));
    other.listen(0, '::1', () => done(true));
  });
  // Without IPv6 there is no other address for localhost to lead to.
  if (!isV6) return;
  const { port } = other.address() as { port: number };
  try {
    const page = async (address: string) => (await fetch(address)).text();
    const taken = start(port);
    expect(await page(addressIn(await taken.said))).toContain('data-midi="taken"');
    expect((await fetch(`http://127.0.0.1:${port}/midi`)).status).toBe(404);
    await kill(taken.child);
  } finally {
    await new Promise((done) => other.close(done));
  }
  const free = start(port);
  expect(await (await fetch(addressIn(await free.said))).text()).toContain('data-midi="apart"');
  for (const name of ['127.0.0.1', '[::1]'])
    expect((await fetch(`http://${name}:${port}/api/health`)).status).toBe(200);
});
