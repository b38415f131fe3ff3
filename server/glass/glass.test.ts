import { jest } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { networkInterfaces, tmpdir } from 'node:os';
import { join } from 'node:path';
import { once } from 'node:events';
import type { Knex } from 'knex';
import { WebSocket } from 'ws';
import {
  CODE_LENGTH,
  CODE_LETTERS,
  type FromGlass,
  type FromGlassEngine,
  type ToGlass,
  type ToGlassEngine,
} from '@rondo/core/wire';
import { openDatabase } from '@rondo/store';
import { EngineSockets } from '../http/engine-sockets';
import { Network } from '../osc/network';
import { GlassDevices } from './devices';
import { Glass } from './glass';
import { GLASS_PER_SECOND, WRONG_BY_ADDRESS, WRONG_IN_ALL } from './limits';
import { MOST_BY_ADDRESS } from './listener';
import { HELLO_MS } from './relay';

let folder: string;
let db: Knex;
let now = 1_000_000;
let server: Server;
let port: number;
let sockets: EngineSockets;
let glass: Glass;
const network = new Network(() => undefined);
const ends: (() => void)[] = [];
/** What was told to be a fault of ours. */
const faults: unknown[] = [];
let database = () => Promise.resolve(db);

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'rondo-glass-'));
  writeFileSync(join(folder, 'index.html'), '<title>Glass</title>');
  db = await openDatabase(join(folder, 'rondo.sqlite'));
  glass = new Glass(
    folder,
    network,
    () => database(),
    (error) => void faults.push(error),
    () => now,
  );
  sockets = new EngineSockets(() => port, {
    '/api/glass': (client) => glass.relay.takeEngine(client),
  });
  server = createServer((_, response) => response.end('Rondo'));
  sockets.attach(server);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  port = (server.address() as AddressInfo).port;
});
beforeEach(async () => {
  network.isOpen = true;
  await glass.follow(0);
});
afterEach(() => {
  for (const end of ends.splice(0)) end();
});
afterAll(async () => {
  await glass.close();
  sockets.close();
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await db.destroy();
  rmSync(folder, { recursive: true });
});

/** One end of a WebSocket: what it hears, and a way to wait for something. */
class End<Hears, Says> {
  readonly heard: Hears[] = [];
  private readonly wakers: (() => void)[] = [];
  readonly closed: Promise<number>;

  private constructor(readonly socket: WebSocket) {
    socket.on('message', (data: Buffer) => {
      this.heard.push(JSON.parse(String(data)) as Hears);
      for (const wake of this.wakers.splice(0)) wake();
    });
    this.closed = new Promise((done) => socket.on('close', (code) => done(code)));
    socket.on('error', () => undefined);
    ends.push(() => socket.terminate());
  }
  static async at<H, S>(url: string, origin: string): Promise<End<H, S>> {
    const socket = new WebSocket(url, { origin });
    const end = new End<H, S>(socket);
    await once(socket, 'open');
    return end;
  }
  say(message: Says): void {
    this.socket.send(JSON.stringify(message));
  }
  async until<T>(look: (heard: readonly Hears[]) => T | undefined | false): Promise<T> {
    for (;;) {
      const found = look(this.heard);
      if (found) return found;
      await new Promise<void>((done) => this.wakers.push(done));
    }
  }
}
const tablet = () => {
  const at = `127.0.0.1:${glass.standing().port}`;
  return End.at<ToGlass, FromGlass>(`ws://${at}/glass/socket`, `http://${at}`);
};
const engine = () =>
  End.at<ToGlassEngine, FromGlassEngine>(
    `ws://127.0.0.1:${port}/api/glass`,
    `http://127.0.0.1:${port}`,
  );
const refusal = (one: End<ToGlass, FromGlass>) =>
  one.until((heard) => heard.find((message) => message.kind === 'refused')).then(({ why }) => why);

async function paired(surface: string) {
  const one = await tablet();
  one.say({ kind: 'pair', code: glass.devices.makeCode(surface).code, name: 'Tablet' });
  const { id, secret } = (await one.until((heard) =>
    heard.find(({ kind }) => kind === 'paired'),
  )) as {
    id: string;
    secret: string;
  };
  return { one, id, secret };
}
async function joined(surface: string) {
  const device = await paired(surface);
  device.one.say({ kind: 'join', id: device.id, secret: device.secret });
  return device;
}
const hands = (heard: readonly ToGlassEngine[]) =>
  heard.flatMap((message) =>
    message.kind === 'hand' ? [`${message.control} ${message.does} ${message.value}`] : [],
  );

describe('who is let in', () => {
  test('a code lets one device in once; remembered, it comes again, also after a restart; sent away, it does not', async () => {
    const { one, id, secret } = await paired('desk');
    // What it is called is not shown as good any more, and never was the code itself.
    expect(glass.standing().codes).toEqual([]);
    const waiting = glass.devices.makeCode('desk');
    expect(glass.standing().codes).toEqual([waiting.id]);
    expect(JSON.stringify(glass.standing())).not.toContain(waiting.code);
    const twice = await tablet();
    twice.say({ kind: 'pair', code: 'USEDUSED', name: 'Other' });
    expect(await refusal(twice)).toBe('code');
    one.say({ kind: 'join', id, secret });
    await one.until((heard) => heard.some(({ kind }) => kind === 'panel'));
    const anew = new GlassDevices();
    await anew.load(db);
    expect(anew.find(id, secret)?.surface).toBe('desk');
    expect(anew.find(id, `${secret}x`)).toBeUndefined();
    expect(anew.find('other', secret)).toBeUndefined();
    // The database holds nothing that lets anybody in.
    expect(JSON.stringify(await db('setting').select())).not.toContain(secret);
    expect(await glass.sendAway(id)).toBe(true);
    expect(await refusal(one)).toBe('revoked');
    expect(await glass.sendAway(id)).toBe(false);
    const again = await tablet();
    again.say({ kind: 'join', id, secret });
    expect(await refusal(again)).toBe('unknown');
  });

  test('a code is of letters that cannot be mistaken, and good for five minutes', async () => {
    const { code } = glass.devices.makeCode('desk');
    expect(code).toHaveLength(CODE_LENGTH);
    expect([...code].every((letter) => CODE_LETTERS.includes(letter))).toBe(true);
    expect(CODE_LETTERS).not.toMatch(/[01OIL]/);
    now += 5 * 60_000 + 1;
    expect(await glass.devices.pair(database, 'here', code, 'Late')).toBe('code');
  });

  test('wrong codes from one address stop that address for a minute, and nobody else; many from all end all codes', async () => {
    const devices = new GlassDevices(() => now);
    const from = (address: string, code: string) => devices.pair(database, address, code, 'x');
    const good = { id: expect.any(String) as string, secret: expect.any(String) as string };
    jest.useFakeTimers({
      doNotFake: ['nextTick', 'setImmediate', 'queueMicrotask', 'performance'],
    });
    try {
      const { code } = devices.makeCode('desk');
      for (let n = 1; n < WRONG_BY_ADDRESS; n++) expect(await from('a', 'WRONG')).toBe('code');
      expect(await from('a', 'WRONG')).toBe('pause');
      expect(await from('a', code)).toBe('pause');
      // In either case, with a space that came along.
      expect(await from('b', ` ${code.toLowerCase()}`)).toEqual(good);
      const next = devices.makeCode('desk').code;
      jest.advanceTimersByTime(60_000);
      expect(await from('a', next)).toEqual(good);
      const ended = devices.makeCode('desk').code;
      for (let n = 1; n < WRONG_IN_ALL; n++) await from(`address ${n}`, 'WRONG');
      expect(await from('c', 'WRONG')).toBe('pause');
      expect(await from('d', ended)).toBe('pause');
      jest.advanceTimersByTime(60_000);
      expect(await from('d', ended)).toBe('code');
    } finally {
      jest.useRealTimers();
    }
  });

  test('where the database cannot be asked or written nobody is let in, nothing ends, and the code stays good', async () => {
    const { code } = glass.devices.makeCode('desk');
    const before = glass.standing().devices.length;
    const failures: readonly (() => Promise<Knex>)[] = [
      () => Promise.reject(new Error('restoring')),
      () =>
        Promise.resolve((() => {
          throw new Error('locked');
        }) as unknown as Knex),
    ];
    for (const failing of failures) {
      database = failing;
      faults.length = 0;
      const wrong = await tablet();
      // Judged before the database is asked.
      wrong.say({ kind: 'pair', code: 'WRONG', name: 'x' });
      expect(await refusal(wrong)).toBe('code');
      const right = await tablet();
      right.say({ kind: 'pair', code, name: 'x' });
      expect(await refusal(right)).toBe('busy');
      expect(faults).toHaveLength(1);
      expect(glass.standing().devices).toHaveLength(before);
    }
    database = () => Promise.resolve(db);
    const at = await tablet();
    at.say({ kind: 'pair', code, name: 'x' });
    await at.until((heard) => heard.some(({ kind }) => kind === 'paired'));
    const [{ id }] = glass.standing().devices.slice(-1);
    database = failures[0];
    await expect(glass.sendAway(id)).rejects.toThrow('restoring');
    database = () => Promise.resolve(db);
    expect(glass.standing().devices.some((one) => one.id === id)).toBe(true);
    expect(await glass.sendAway(id)).toBe(true);
  });

  test('one that does not say who it is is closed, and one address takes not all the room', async () => {
    const silent = await tablet();
    const since = performance.now();
    expect(await silent.closed).toBe(1008);
    expect(performance.now() - since).toBeGreaterThan(HELLO_MS - 500);
    const all: Awaited<ReturnType<typeof tablet>>[] = [];
    while (all.length < MOST_BY_ADDRESS) all.push(await tablet());
    await expect(tablet()).rejects.toThrow('403');
    all[0].socket.terminate();
    await all[0].closed;
  }, 15_000);

  test('nobody says anything before it has said who it is', async () => {
    const program = await engine();
    const one = await tablet();
    one.say({ kind: 'hand', control: 'fader', does: 'move', value: 1 });
    expect(await refusal(one)).toBe('unknown');
    expect(hands(program.heard)).toEqual([]);
    const other = await tablet();
    other.socket.send('what?');
    expect(await other.closed).toBe(1007);
  });
});

describe('what is brought together', () => {
  test('fingers reach the engine, its changes the glasses of that surface and no other', async () => {
    const program = await engine();
    const [desk, pads] = [await joined('desk'), await joined('pads')];
    await program.until((heard) =>
      heard.some((message) => message.kind === 'there' && message.glasses.length === 2),
    );
    desk.one.say({ kind: 'hand', control: 'fader-1', does: 'move', value: 0.5 });
    const hand = await program.until((heard) => heard.find(({ kind }) => kind === 'hand'));
    expect(hand).toMatchObject({ surface: 'desk', control: 'fader-1', does: 'move', value: 0.5 });
    program.say({ surface: 'desk', says: { kind: 'changes', changes: { at: [[0, 0.5]] } } });
    program.say({ surface: 'pads', says: { kind: 'panel', why: 'none' } });
    await desk.one.until((heard) => heard.some(({ kind }) => kind === 'changes'));
    await pads.one.until((heard) => heard.some(({ kind }) => kind === 'panel'));
    expect(desk.one.heard.some(({ kind }) => kind === 'panel')).toBe(false);
    expect(pads.one.heard.some(({ kind }) => kind === 'changes')).toBe(false);
  });

  test('what a glass held when its link broke is let go of, in any order and once', async () => {
    const program = await engine();
    const { one } = await joined('desk');
    one.say({ kind: 'hand', control: 'fader-1', does: 'touch', value: 1 });
    one.say({ kind: 'hand', control: 'mute-1', does: 'press', value: 1 });
    one.say({ kind: 'hand', control: 'mute-2', does: 'press', value: 1 });
    one.say({ kind: 'hand', control: 'mute-2', does: 'press', value: 0 });
    await program.until((heard) => hands(heard).length === 4);
    one.socket.terminate();
    await program.until((heard) => hands(heard).length === 6);
    expect(hands(program.heard).slice(4).sort()).toEqual(['fader-1 touch 0', 'mute-1 press 0']);
  });

  test('without an engine it is said; of two the later one has the glasses, and the earlier again when that leaves', async () => {
    const { one } = await joined('desk');
    const why = await one.until((heard) => heard.find(({ kind }) => kind === 'panel'));
    expect(why).toMatchObject({ why: expect.stringContaining('not open in a browser') });
    const [first, second] = [await engine(), await engine()];
    await second.until((heard) =>
      heard.some((message) => message.kind === 'there' && message.glasses.length === 1),
    );
    second.socket.terminate();
    await first.until((heard) => {
      const last = heard.at(-1);
      return last?.kind === 'there' && last.glasses.length === 1 && heard.length > 2;
    });
    one.say({ kind: 'hand', control: 'a', does: 'press', value: 1 });
    await first.until((heard) => hands(heard).length === 1);
  });

  test('the engine that has the glasses lets go of what they hold when another browser takes them over', async () => {
    const first = await engine();
    const { one } = await joined('desk');
    one.say({ kind: 'hand', control: 'pad-1', does: 'press', value: 1 });
    await first.until((heard) => hands(heard).includes('pad-1 press 1'));
    const second = await engine();
    await first.until((heard) => hands(heard).includes('pad-1 press 0'));
    // It has none any more.
    await first.until((heard) => heard.at(-1)?.kind === 'there');
    expect(first.heard.at(-1)).toEqual({ kind: 'there', glasses: [] });
    one.say({ kind: 'hand', control: 'pad-1', does: 'press', value: 0 });
    one.say({ kind: 'hand', control: 'pad-2', does: 'press', value: 1 });
    await second.until((heard) => hands(heard).includes('pad-2 press 1'));
    expect(hands(first.heard)).toEqual(['pad-1 press 1', 'pad-1 press 0']);
  });

  test('more than a screen can show in a second is refused, and what was held goes', async () => {
    const program = await engine();
    const { one } = await joined('desk');
    one.say({ kind: 'hand', control: 'key', does: 'press', value: 1 });
    // So many that a slow machine, too, gets them faster than they are allowed.
    const sent = 20 * GLASS_PER_SECOND;
    for (let n = 0; n < sent; n++)
      one.say({ kind: 'hand', control: 'fader', does: 'move', value: 0.5 });
    expect(await refusal(one)).toBe('fast');
    await program.until((heard) => hands(heard).includes('key press 0'));
    expect(hands(program.heard).length).toBeLessThan(sent / 2);
  });
});

describe('what is open', () => {
  function ask(path: string, headers: Record<string, string>, method = 'GET', host = '127.0.0.1') {
    return new Promise<{ status: number; text: string; headers: Record<string, unknown> }>(
      (done, fail) => {
        const sent = request(
          { host, port: glass.standing().port, path, headers, method },
          (answer) => {
            const chunks: Buffer[] = [];
            answer.on('data', (chunk: Buffer) => chunks.push(chunk));
            answer.on('end', () =>
              done({
                status: answer.statusCode ?? 0,
                text: Buffer.concat(chunks).toString(),
                headers: answer.headers,
              }),
            );
          },
        );
        sent.on('error', fail);
        sent.end();
      },
    );
  }
  const own = () => ({ Host: `127.0.0.1:${glass.standing().port}` });

  test('the page of glass and nothing else of Rondo, under its own names only', async () => {
    const page = await ask('/', own());
    expect([page.status, page.text]).toEqual([200, '<title>Glass</title>']);
    const policy = String(page.headers['content-security-policy']);
    expect(policy).toContain(`connect-src ws://127.0.0.1:${glass.standing().port}`);
    expect(policy).not.toMatch(/unsafe|\*|https?:/);
    for (const path of [
      '/api/profiles',
      '/api/glass',
      '/rondo',
      '/..%2f..%2fetc%2fpasswd',
      '/bind/x',
    ])
      expect([403, 404]).toContain((await ask(path, own())).status);
    expect((await ask('/', own(), 'POST')).status).toBe(405);
    expect((await ask('/', { Host: 'rebound.example' })).status).toBe(403);
  });

  test('nothing is, where the network is off; and who is there is sent away when it is switched off', async () => {
    const { one } = await joined('desk');
    const before = glass.standing().port;
    network.isOpen = false;
    await glass.follow(0);
    expect(await one.closed).toBe(1001);
    expect(glass.standing()).toMatchObject({ isOpen: false, port: 0 });
    const socket = new WebSocket(`ws://127.0.0.1:${before}/glass/socket`);
    expect(await once(socket, 'error')).toEqual([
      expect.objectContaining({ code: 'ECONNREFUSED' }),
    ]);
  });

  test('however fast the network is switched, the way in stands as it was switched last', async () => {
    for (const on of [true, false, true, false]) {
      network.isOpen = on;
      void glass.follow(0);
    }
    await glass.follow(0);
    expect(glass.standing()).toMatchObject({ isOpen: false, fault: '' });
    network.isOpen = true;
    await glass.follow(0);
    expect(glass.standing().isOpen).toBe(true);
  });

  test('an address that this computer has not is said, and nothing is open', async () => {
    // TEST-NET-1 of RFC 5737 is nobody's.
    network.address = '192.0.2.77';
    await glass.follow(0);
    expect(glass.standing()).toMatchObject({
      isOpen: false,
      fault: expect.stringContaining('192.0.2.77'),
    });
    network.address = null;
    await glass.follow(0);
    expect(glass.standing().fault).toBe('');
  });

  test('a socket from another page, or by another name, is refused', async () => {
    const at = `127.0.0.1:${glass.standing().port}`;
    for (const [url, origin] of [
      [`ws://${at}/glass/socket`, 'http://elsewhere.example'],
      [`ws://${at}/api/glass`, `http://${at}`],
      [`ws://127.0.0.1:${port}/api/glass`, `http://${at}`],
    ])
      await expect(End.at(url, origin)).rejects.toThrow('403');
  });

  const address = Object.values(networkInterfaces())
    .flat()
    .find((one) => one && !one.internal && one.family === 'IPv4')?.address;
  const withNetwork = address === undefined ? test.skip : test;
  withNetwork(
    'at the chosen address alone, and from there the rest of Rondo is not reached',
    async () => {
      network.address = address!;
      await glass.follow(0);
      const { port: at } = glass.standing();
      expect((await ask('/', { Host: `${address}:${at}` }, 'GET', address)).status).toBe(200);
      await expect(ask('/', own())).rejects.toThrow('ECONNREFUSED');
      const socket = new WebSocket(`ws://${address}:${port}/api/glass`);
      expect(await once(socket, 'error')).toEqual([
        expect.objectContaining({ code: 'ECONNREFUSED' }),
      ]);
      network.address = null;
      await glass.follow(0);
    },
  );
});
