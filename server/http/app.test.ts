import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, request, type IncomingHttpHeaders, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { lantern } from '@rondo/core/host';
import { farShore, nineFerriesMix, readProfile, type Profile } from '@rondo/core/profile';
import { BURROW_14 } from '@rondo/core/surface';
import { LiveDatabase, openDatabase } from '@rondo/store';
import { KeyAdapter } from '../keys/adapter';
import { Glass } from '../glass/glass';
import { Network } from '../osc/network';
import { createApp } from './app';
import type { AllChanged, Changed } from './events';

let folder: string;
let db: Knex;
let live: LiveDatabase;
let server: Server;
let port: number;
let holdsLocalhost = true;
const reported: unknown[] = [];
const told: (Changed | AllChanged)[] = [];
let switched = 0;
const network = new Network(() => switched++);

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'rondo-'));
  writeFileSync(
    join(folder, 'index.html'),
    '<html data-midi="__MIDI__"><rondo-root ngCspNonce="__NONCE__"></rondo-root>',
  );
  db = await openDatabase(join(folder, 'rondo.sqlite'));
  live = new LiveDatabase(join(folder, 'rondo.sqlite'), Promise.resolve(db));
  const app = createApp({
    database: live,
    webFolder: folder,
    folder,
    folderId: 'folder',
    port: () => port,
    holdsLocalhost: () => holdsLocalhost,
    report: (error) => reported.push(error),
    network,
    glass: new Glass(
      folder,
      network,
      () => live.get(),
      () => undefined,
    ),
    keys: new KeyAdapter(() => undefined),
    events: { tell: (event) => void told.push(event) },
  });
  const handle = app.callback();
  server = createServer((req, res) => void handle(req, res));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  port = (server.address() as AddressInfo).port;
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await live.close();
  rmSync(folder, { recursive: true });
});

interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  text: string;
  body: {
    title?: string;
    status?: number;
    detail?: string;
    revision?: number;
    faults?: { path: string }[];
    document?: Profile;
    documents?: { id: string }[];
  };
}

function ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
  return new Promise<Answer>((done, fail) => {
    const text = typeof body === 'string' ? body : body === undefined ? '' : JSON.stringify(body);
    const sent = request(
      {
        host: '127.0.0.1',
        port,
        method,
        path,
        headers: { ...(text ? { 'Content-Type': 'application/json' } : {}), ...headers },
      },
      (answer) => {
        const chunks: Buffer[] = [];
        answer.on('data', (chunk: Buffer) => chunks.push(chunk));
        answer.on('end', () => {
          const whole = Buffer.concat(chunks).toString();
          const json = /json/.test(answer.headers['content-type'] ?? '');
          done({
            status: answer.statusCode ?? 0,
            headers: answer.headers,
            text: whole,
            body: json ? (JSON.parse(whole) as Answer['body']) : {},
          });
        });
      },
    );
    sent.on('error', fail);
    sent.end(text);
  });
}
const api = '/api/profiles';
const named = (id: string): Profile => ({ ...nineFerriesMix(id), name: id });

test('a new database holds the demo profiles', async () => {
  const { body } = await ask('GET', api);
  expect(body.documents?.map(({ id }) => id)).toEqual(
    expect.arrayContaining(['nine-ferries-mix', 'neap-rink']),
  );
  expect(readProfile((await ask('GET', `${api}/nine-ferries-mix`)).body.document).ok).toBe(true);
});

test('saves count up; a stale save is refused with 409 and the newest revision', async () => {
  expect((await ask('POST', api, { document: named('a') })).status).toBe(201);
  const second = { ...named('a'), name: 'second' };
  expect((await ask('PUT', `${api}/a`, { revision: 1, document: second })).body.revision).toBe(2);
  const stale = await ask('PUT', `${api}/a`, { revision: 1, document: named('a') });
  expect([stale.status, stale.body.revision]).toEqual([409, 2]);
  expect(stale.headers['content-type']).toMatch('application/problem+json');
  expect((await ask('GET', `${api}/a`)).body.document?.name).toBe('second');
  expect((await ask('GET', `${api}/a?revision=1`)).body.document?.name).toBe('a');
});

test('what was changed is told once it is, by whom and which request; what was refused or only looked at is not', async () => {
  const by = { 'Rondo-Browser': 'one', 'Idempotency-Key': 'request-1' };
  const path = `${api}/told`;
  const seen = told.length;
  await ask('POST', api, { document: named('told') }, by);
  await ask('PUT', path, { revision: 1, document: named('told') });
  await ask('PUT', path, { revision: 1, document: named('told') });
  await ask('PUT', `${path}/versions/1`, { label: 'Friday' });
  await ask('DELETE', path, undefined, { 'Rondo-Browser': 'no name\u00e9' });
  await ask('POST', `${path}/restore`);
  await ask('POST', '/api/files?dry=yes&as=replace', named('told'));
  await ask('POST', '/api/files?as=replace', { ...named('told'), name: 'From a file' });
  await ask('GET', path);
  expect(told.slice(seen)).toEqual(
    [
      { cause: 'made', revision: 1, request: 'request-1', browser: 'one' },
      { cause: 'saved', revision: 2 },
      { cause: 'deleted', revision: null },
      { cause: 'broughtBack', revision: null },
      { cause: 'imported', revision: 3 },
    ].map((one) => ({
      says: 'changed',
      kind: 'profile',
      id: 'told',
      request: null,
      browser: null,
      ...one,
    })),
  );
});

test('a database without room refuses in words, changes nothing, and takes the same again once there is room', async () => {
  expect((await ask('POST', api, { document: named('tight') })).status).toBe(201);
  const large = { ...named('tight'), name: 'x'.repeat(60), notes: 'y'.repeat(400_000) };
  const save = () => ask('PUT', `${api}/tight`, { revision: 1, document: large });
  const [{ page_count: pages }] = (await db.raw('PRAGMA page_count')) as { page_count: number }[];
  await db.raw(`PRAGMA max_page_count = ${pages}`);
  try {
    const refused = await save();
    expect([refused.status, refused.body.title]).toEqual([507, 'No room left']);
    expect((await ask('GET', `${api}/tight`)).body).toMatchObject({
      revision: 1,
      document: { name: 'tight' },
    });
    expect((await ask('GET', api)).status).toBe(200);
  } finally {
    await db.raw('PRAGMA max_page_count = 1073741823');
  }
  expect((await save()).body.revision).toBe(2);
  expect(reported.splice(0)).toHaveLength(1);
});

test('the network is off until it is switched on, and stays as it was switched', async () => {
  const switchNetwork = async (method: string, body?: unknown) => {
    const { status, text } = await ask(method, '/api/network', body);
    return { status, body: JSON.parse(text) as { on?: boolean; addresses?: string[] } };
  };
  expect((await switchNetwork('GET')).body.on).toBe(false);
  expect((await switchNetwork('PUT', { on: 'yes' })).status).toBe(400);
  const { on, addresses } = (await switchNetwork('PUT', { on: true })).body;
  expect([on, switched]).toEqual([true, 1]);
  expect(addresses?.some((address) => address.startsWith('127.'))).toBe(false);
  const again = new Network(() => undefined);
  await again.load(db);
  expect(again.isOpen).toBe(true);
  await switchNetwork('PUT', { on: false });
  expect([network.isOpen, switched]).toEqual([false, 2]);
});

test('unknown fields come back byte for byte', async () => {
  const profile = { mood: { z: 1, a: ['é', 1e-7] }, ...named('bytes') };
  await ask('POST', api, { document: profile });
  expect((await ask('GET', `${api}/bytes`)).text).toContain(
    `"document":${JSON.stringify(profile)}}`,
  );
});

test('deleting is taken back by restoring; an id is never given twice', async () => {
  await ask('POST', api, { document: named('gone') });
  expect((await ask('DELETE', `${api}/gone`)).status).toBe(204);
  expect((await ask('GET', `${api}/gone`)).status).toBe(404);
  expect((await ask('PUT', `${api}/gone`, { revision: 1, document: named('gone') })).status).toBe(
    404,
  );
  expect((await ask('POST', api, { document: named('gone') })).status).toBe(409);
  expect((await ask('POST', `${api}/gone/restore`)).status).toBe(204);
  expect((await ask('GET', `${api}/gone`)).status).toBe(200);
});

// RFC 9457, problem details: type, title, status and detail.
test.each([
  ['not JSON', 'POST', api, '{"document":', 400],
  ['no profile', 'POST', api, {}, 400],
  ['another id inside', 'PUT', `${api}/a`, { revision: 2, document: named('b') }, 422],
  ['a revision that is none', 'PUT', `${api}/a`, { revision: 0, document: named('a') }, 400],
  ['an id that is none', 'GET', `${api}/%2e%2e%2fx`, undefined, 400],
  ['nothing there', 'GET', '/api/other', undefined, 404],
  ['too large', 'POST', api, JSON.stringify({ document: 'x'.repeat(5 << 20) }), 413],
])('%s is answered with problem details', async (_, method, path, body, status) => {
  const answer = await ask(method, path, body);
  expect([answer.status, answer.body.status]).toEqual([status, status]);
  expect(answer.headers['content-type']).toMatch('application/problem+json');
  expect(answer.body.title).toBeTruthy();
  expect(answer.body.detail).toBeTruthy();
  expect(reported).toEqual([]);
});

test('a faulty profile is refused whole, with the path of each fault', async () => {
  const profile = { ...named('a'), name: '', layerOrder: [] };
  const answer = await ask('PUT', `${api}/a`, { revision: 2, document: profile });
  expect(answer.body.faults?.map(({ path }) => path)).toEqual(
    expect.arrayContaining(['name', 'layerOrder']),
  );
  expect((await ask('GET', `${api}/a`)).body.revision).toBe(2);
});

test.each([
  ['another host (DNS rebinding)', { Host: 'rebound.example' }, 403],
  ['another origin', { Origin: 'http://elsewhere.example' }, 403],
  ['another port’s origin', { Origin: 'http://127.0.0.1:1' }, 403],
  ['a form’s content type', { 'Content-Type': 'text/plain' }, 415],
])('a write from %s is refused', async (_, headers, status) => {
  expect((await ask('POST', api, { document: named('foreign') }, headers)).status).toBe(status);
  expect((await ask('GET', `${api}/foreign`)).status).toBe(404);
});

test('the page comes with a nonce of its own each time and a policy without exceptions', async () => {
  const [one, two] = [await ask('GET', '/bind/a'), await ask('GET', '/bind/a')];
  const nonce = /ngCspNonce="([^"]+)"/.exec(one.text)?.[1];
  const policy = String(one.headers['content-security-policy']);
  expect(policy).toContain(`'nonce-${nonce}'`);
  expect(policy.replace(`frame-src http://localhost:${port}/midi`, '')).not.toMatch(
    /unsafe|\*|http:/,
  );
  expect(policy).toContain("frame-ancestors 'none'");
  expect(one.headers['x-frame-options']).toBe('DENY');
  expect(two.text).not.toBe(one.text);
});

test('files outside the page’s folder are not served', async () => {
  expect((await ask('GET', '/../rondo.sqlite')).text).not.toContain('SQLite');
  expect((await ask('GET', '/..%2f..%2fetc%2fpasswd')).text).not.toContain('root:');
});

describe('surfaces', () => {
  const surface = { ...BURROW_14, id: 'mine', name: 'My box' };
  const path = '/api/surfaces';

  test('are stored, saved and listed as profiles are; a stock id is not given', async () => {
    expect((await ask('POST', path, { document: surface })).status).toBe(201);
    const renamed = { ...surface, name: 'Other' };
    expect(
      (await ask('PUT', `${path}/mine`, { revision: 1, document: renamed })).body.revision,
    ).toBe(2);
    expect((await ask('GET', path)).body.documents).toMatchObject([{ id: 'mine', name: 'Other' }]);
    expect((await ask('POST', path, { document: BURROW_14 })).status).toBe(409);
    const bad = { ...surface, id: 'bad', controls: [{ ...surface.controls[0], width: 0 }] };
    const refused = await ask('POST', path, { document: bad });
    expect([refused.status, refused.body.faults?.[0].path]).toEqual([422, 'controls › 0 › width']);
  });

  test('one in use is not deleted, and the answer says by which profiles', async () => {
    const user = {
      ...named('user'),
      surfaces: {
        ...named('user').surfaces,
        desk: { id: 'desk', model: 'mine', label: 'Box' },
      },
    };
    await ask('POST', api, { document: user });
    const refused = await ask('DELETE', `${path}/mine`);
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringMatching('“user”')]);
    await ask('DELETE', `${api}/user`);
    expect((await ask('DELETE', `${path}/mine`)).status).toBe(204);
    expect((await ask('POST', `${path}/mine/restore`)).status).toBe(204);
  });
});

describe('hosts by their charts', () => {
  const path = '/api/hosts';
  const host = { ...lantern(), id: 'synth', name: 'Synth' };

  test('are kept like other documents; the demo is there', async () => {
    expect((await ask('GET', path)).body.documents?.map(({ id }) => id)).toEqual(
      expect.arrayContaining(['lantern', 'placard']),
    );
    expect((await ask('POST', path, { document: host })).status).toBe(201);
    expect((await ask('GET', `${path}/synth`)).body.document).toEqual(host);
    expect((await ask('POST', path, { document: { ...host, id: 'studio' } })).status).toBe(409);
    const bad = { ...host, id: 'bad', rows: [{ ...host.rows[0], feedback: 'perhaps' }] };
    const refused = await ask('POST', path, { document: bad });
    expect([refused.status, refused.body.faults?.[0].path]).toEqual([422, 'rows › 0 › feedback']);
  });

  test('neither a host nor a surface that a program expects is deleted under a profile', async () => {
    const user = { ...farShore(), id: 'user-2', name: 'user' };
    user.hosts = {
      ...user.hosts,
      program: { ...user.hosts['program'], model: 'as:mine_too+mine' },
      lantern: { ...user.hosts['lantern'], model: 'synth' },
    };
    await ask('POST', api, { document: user });
    for (const busy of [`${path}/synth`, '/api/surfaces/mine']) {
      const refused = await ask('DELETE', busy);
      expect([busy, refused.status]).toEqual([busy, 409]);
      expect(refused.body.detail).toMatch('“user”');
    }
    // An id that only looks like it is none.
    const other = { ...BURROW_14, id: 'mine-to', name: 'Other' };
    await ask('POST', '/api/surfaces', { document: other });
    expect((await ask('DELETE', '/api/surfaces/mine-to')).status).toBe(204);
    await ask('DELETE', `${api}/user-2`);
    expect((await ask('DELETE', `${path}/synth`)).status).toBe(204);
  });
});

describe('a request that comes twice', () => {
  const key = (name: string) => ({ 'Idempotency-Key': `request-${name}` });

  test('is done once and answered alike: create, save, delete, restore', async () => {
    const make = () => ask('POST', api, { document: named('twice') }, key('make'));
    expect([(await make()).status, (await make()).status]).toEqual([201, 201]);
    const document = { ...named('twice'), name: 'saved' };
    const save = () => ask('PUT', `${api}/twice`, { revision: 1, document }, key('save'));
    const [first, again] = [await save(), await save()];
    expect([first.status, first.text]).toEqual([200, again.text]);
    expect(again.body.revision).toBe(2);
    // The page goes on from what it was told, although the answer came late.
    const next = await ask('PUT', `${api}/twice`, { revision: 2, document: named('twice') });
    expect(next.body.revision).toBe(3);
    const remove = () => ask('DELETE', `${api}/twice`, undefined, key('gone'));
    expect([(await remove()).status, (await remove()).status]).toEqual([204, 204]);
    const back = () => ask('POST', `${api}/twice/restore`, undefined, key('back'));
    expect([(await back()).status, (await back()).status]).toEqual([204, 204]);
    expect((await ask('GET', `${api}/twice`)).body.revision).toBe(3);
  });

  test('a file is taken in once, and taken back once', async () => {
    const file = { ...named('filed'), name: 'Filed' };
    const take = () => ask('POST', '/api/files', file, key('file'));
    const [first, again] = [await take(), await take()];
    expect([first.status, again.status, again.text]).toEqual([200, 200, first.text]);
    expect(again.text).toContain('"did":"new"');
    const other = await ask('POST', '/api/files?as=replace', file, key('file'));
    expect(other.status).toBe(422);
    const back = () => ask('POST', '/api/files/back', first.body, key('taken-back'));
    expect([(await back()).status, (await back()).status]).toEqual([204, 204]);
    expect((await ask('GET', `${api}/filed`)).status).toBe(404);
  });

  test('with another body, or elsewhere, is refused with 422 and changes nothing', async () => {
    await ask('POST', api, { document: named('other') }, key('same'));
    const other = await ask('POST', api, { document: named('third') }, key('same'));
    expect([other.status, other.body.title]).toEqual([422, 'Id of another request']);
    expect((await ask('GET', `${api}/third`)).status).toBe(404);
    expect((await ask('DELETE', `${api}/other`, undefined, key('same'))).status).toBe(422);
    expect((await ask('GET', `${api}/other`)).status).toBe(200);
  });

  test('what was refused is not remembered: it may be asked again once it can be done', async () => {
    const save = () =>
      ask('PUT', `${api}/late`, { revision: 1, document: named('late') }, key('late'));
    expect((await save()).status).toBe(404);
    await ask('POST', api, { document: named('late') });
    expect((await save()).status).toBe(200);
  });

  test('by any two clients at once is done once', async () => {
    const answers = await Promise.all(
      Array.from({ length: 8 }, () =>
        ask('POST', api, { document: named('at-once') }, key('at-once')),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual(Array(8).fill(201));
  });
});

test('every fault is told as problem details (RFC 9457), a method that is not known too', async () => {
  const wrong = await ask('PATCH', `${api}/a`);
  expect([wrong.status, wrong.body.status]).toEqual([405, 405]);
  expect(wrong.headers['content-type']).toMatch('application/problem+json');
  expect(wrong.headers.allow).toMatch(/PUT/);
});

test('what is nested too deep is refused with 400, however long it is', async () => {
  for (const depth of [70, 100_000]) {
    const deep = `{"document":${'['.repeat(depth)}${']'.repeat(depth)}}`;
    const answer = await ask('POST', api, deep);
    expect([answer.status, answer.headers['content-type']]).toEqual([
      400,
      'application/problem+json',
    ]);
  }
});

test('an id with dots has a page of its own; a file that is not there has none', async () => {
  expect((await ask('GET', '/bind/my.own.profile')).status).toBe(200);
  expect((await ask('GET', '/missing.js')).status).toBe(404);
  expect((await ask('GET', '/media/missing.woff2')).status).toBe(404);
});

test('on port 80 the port goes without saying (RFC 9110)', async () => {
  const real = port;
  const plain = { Host: '127.0.0.1', Origin: 'http://127.0.0.1' };
  expect((await ask('GET', api, undefined, plain)).status).toBe(403);
  const answer = ask('GET', api, undefined, plain);
  port = 80;
  expect((await answer).status).toBe(200);
  port = real;
});

describe('the frame that holds the MIDI ports', () => {
  const under = (name: string, path: string) =>
    ask('GET', path, undefined, { Host: `${name}:${port}` });
  beforeAll(() => writeFileSync(join(folder, 'midi.html'), '<script src="/midi.js"></script>'));
  afterEach(() => (holdsLocalhost = true));

  test.each([
    ['127.0.0.1', 'localhost'],
    ['localhost', '127.0.0.1'],
  ])(
    'under %s only the page under %s may frame it, and it may do nothing else',
    async (name, page) => {
      const { status, headers, text } = await under(name, '/midi');
      expect([status, text]).toEqual([200, '<script src="/midi.js"></script>']);
      expect(headers['content-security-policy']).toBe(
        `default-src 'none';script-src 'self';base-uri 'none';form-action 'none';frame-ancestors http://${page}:${port}`,
      );
      expect(headers['x-frame-options']).toBeUndefined();
      expect(headers['permissions-policy']).toMatch(/^midi=\(self\), camera=\(\)/);
    },
  );

  test.each([
    ['127.0.0.1', 'localhost'],
    ['localhost', '127.0.0.1'],
  ])('the page under %s may frame it under %s, and lend it MIDI', async (name, frame) => {
    const { headers, text } = await under(name, '/bind/a');
    expect(headers['permissions-policy']).toContain(`midi=(self "http://${frame}:${port}")`);
    expect(headers['content-security-policy']).toContain(`frame-src http://${frame}:${port}/midi;`);
    expect(text).not.toContain('__MIDI__');
  });

  test('where another program has localhost there is no frame, and nothing is lent', async () => {
    holdsLocalhost = false;
    expect((await under('127.0.0.1', '/midi')).status).toBe(404);
    const { headers } = await under('127.0.0.1', '/bind/a');
    expect(headers['permissions-policy']).toContain('midi=(self),');
    expect(headers['content-security-policy']).not.toContain('frame-src');
  });

  test.each(['/', '/bind/a', '/api/profiles', '/midi.js'])('%s is never framed', async (path) => {
    const { headers } = await under('localhost', path);
    if (path !== '/midi.js') expect(headers['x-frame-options']).toBe('DENY');
    expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  });
});

describe('files, the bin and backups', () => {
  const file = (name: string) => ({
    format: 'rondo-file',
    version: 1,
    profiles: [{ ...nineFerriesMix('travels'), name }],
    surfaces: [],
    hosts: [],
  });
  const did = (answer: Answer) =>
    (answer.body.documents as { did?: string }[] | undefined)?.map((one) => one.did);

  test('a file is looked at, taken in, refused where it clashes, and given out again', async () => {
    expect(did(await ask('POST', '/api/files?dry', file('One')))).toEqual(['new']);
    expect((await ask('GET', '/api/profiles/travels')).status).toBe(404);
    expect(did(await ask('POST', '/api/files', file('One')))).toEqual(['new']);
    expect(did(await ask('POST', '/api/files', file('Two')))).toEqual(['refused']);
    expect(did(await ask('POST', '/api/files?as=replace', file('Two')))).toEqual(['replaced']);
    const out = await ask('GET', '/api/files?profile=travels');
    expect(JSON.parse(out.text)).toMatchObject(file('Two'));
    expect((await ask('GET', '/api/files?profile=none')).status).toBe(404);
    expect((await ask('POST', '/api/files?as=merge', file('Two'))).status).toBe(400);
    const bad = await ask('POST', '/api/files', { ...file('x'), profiles: [{ name: 3 }] });
    expect([bad.status, bad.body.faults?.[0]?.path]).toEqual([
      422,
      expect.stringContaining('profiles › 0'),
    ]);
  });

  test('a file larger than a document is taken; what is deleted can be purged, once', async () => {
    const large = { ...file('Large'), notes: 'x', extra: 'y'.repeat(5 << 20) };
    expect(did(await ask('POST', '/api/files?dry', large))).toEqual(['refused']);
    expect((await ask('POST', '/api/profiles', { document: large })).status).toBe(413);
    await ask('DELETE', '/api/profiles/travels');
    const bin = await ask('GET', '/api/bin');
    expect(bin.body.documents?.map(({ id }) => id)).toContain('travels');
    expect((await ask('DELETE', '/api/bin/profile/travels')).status).toBe(204);
    expect((await ask('DELETE', '/api/bin/profile/travels')).status).toBe(404);
  });

  test('a version has a name until it is taken off; a backup brings back what was, under the same server', async () => {
    await ask('POST', '/api/files', file('Before'));
    expect((await ask('PUT', '/api/profiles/travels/versions/1', { label: 'Friday' })).status).toBe(
      204,
    );
    expect((await ask('PUT', '/api/profiles/travels/versions/9', { label: 'None' })).status).toBe(
      404,
    );
    const listed = JSON.parse((await ask('GET', '/api/profiles/travels/versions')).text) as object;
    expect(listed).toMatchObject({ versions: [{ revision: 1, label: 'Friday' }] });
    const made = JSON.parse((await ask('POST', '/api/backups')).text) as { name: string };
    await ask('POST', '/api/files?as=replace', file('After'));
    // Twice at once: one does it, the other is told to wait; nobody gets half a database.
    const both = [1, 2].map(() => ask('POST', `/api/backups/${made.name}/restore`));
    const statuses = (await Promise.all(both)).map(({ status }) => status).sort();
    expect(statuses).toEqual([204, 503]);
    // Revisions go on counting: nobody who has a later one open saves over it.
    const back = await ask('GET', '/api/profiles/travels');
    expect([back.body.document?.name, back.body.revision]).toEqual(['Before', 3]);
    expect((await ask('POST', '/api/backups/none.sqlite/restore')).status).toBe(404);
    db = await live.get();
  });
});
