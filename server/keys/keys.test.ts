import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawn } from 'node:child_process';
import type { Knex } from 'knex';
import { WebSocket } from 'ws';
import {
  inStream,
  netStretch,
  strokeAddress,
  writeOscMessage,
  type FromNet,
} from '@rondo/core/wire';
import { openDatabase } from '@rondo/store';
import { EngineSockets } from '../http/engine-sockets';
import { OscEngines } from '../osc/engines';
import { KeyAdapter, type ToAdapter } from './adapter';

let folder: string;
let db: Knex;
let server: Server;
let port: number;
let sockets: EngineSockets;
const adapter: KeyAdapter = new KeyAdapter(() => engines.adapterChanged());
const engines = new OscEngines({ isOpen: false }, adapter);
const ends: (() => void)[] = [];

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'rondo-keys-'));
  db = await openDatabase(join(folder, 'rondo.sqlite'));
  sockets = new EngineSockets(
    () => port,
    { '/api/osc': (client) => engines.take(client) },
    { '/api/keys/adapter': (client) => adapter.take(client) },
  );
  server = createServer((_, response) => response.end());
  sockets.attach(server);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  port = (server.address() as AddressInfo).port;
});
beforeEach(() => adapter.set(db, true));
afterEach(() => {
  for (const end of ends.splice(0)) end();
});
afterAll(async () => {
  sockets.close();
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await db.destroy();
  rmSync(folder, { recursive: true });
});

/** One end of a WebSocket: what it hears as JSON, and a way to wait for something. */
async function end<Hears>(path: string, origin?: string) {
  const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, origin ? { origin } : {});
  const heard: Hears[] = [];
  const wakers: (() => void)[] = [];
  const closed = new Promise<string>((done) =>
    socket.on('close', (_, reason) => done(String(reason))),
  );
  socket.on('message', (data: Buffer) => {
    heard.push(JSON.parse(String(data)) as Hears);
    for (const wake of wakers.splice(0)) wake();
  });
  ends.push(() => socket.terminate());
  await once(socket, 'open');
  return {
    socket,
    heard,
    closed,
    say: (message: object) => socket.send(JSON.stringify(message)),
    until: async <T>(look: (all: readonly Hears[]) => T | undefined | false): Promise<T> => {
      for (;;) {
        const found = look(heard);
        if (found) return found;
        await new Promise<void>((done) => wakers.push(done));
      }
    },
  };
}
const keyboard = async (token = adapter.standing().token) => {
  const one = await end<ToAdapter>('/api/keys/adapter');
  one.say({ kind: 'hello', token, name: 'Test keys' });
  return one;
};
const SAVE = strokeAddress({ way: 'press', chords: [['ControlLeft', 'KeyK'], ['KeyS']] });
const TORCH = strokeAddress({ way: 'hold', chords: [['KeyT']] });
const SCROLL = strokeAddress({ way: 'repeat', chords: [['ArrowDown']] });

/** An engine with one link that goes to keys. */
async function engine(program = '', strokes = [SAVE, TORCH, SCROLL]) {
  const one = await end<FromNet>('/api/osc', `http://127.0.0.1:${port}`);
  const place = { link: 'host', listen: null, to: null, from: [], keys: { program }, strokes };
  one.say({ kind: 'places', round: 1, places: [place] });
  return {
    ...one,
    send: (address: string, value: number) =>
      one.socket.send(
        netStretch(1, 0, inStream(writeOscMessage(address, [{ as: 'integer', value }]))),
      ),
    standing: (fault: boolean) =>
      one.until((heard) =>
        heard.some((said) => said.kind === 'standing' && (said.standing[0].fault !== '') === fault),
      ),
    news: (why: string) =>
      one.until((heard) =>
        heard
          .flatMap((said) => (said.kind === 'news' ? said.news : []))
          .find((news) => news.why === why),
      ),
  };
}
const pressed = (heard: readonly ToAdapter[]) =>
  heard.flatMap((message) =>
    message.kind === 'allow' ? [] : [`${message.kind} ${message.keys.join('+')}`],
  );

test('a stroke is pressed step by step, one is held as long as its control, one repeats meanwhile', async () => {
  const [keys, host] = [await keyboard(), await engine()];
  await host.standing(false);
  host.send(SAVE, 1);
  host.send(SAVE, 0);
  await keys.until((heard) => pressed(heard).length === 2);
  host.send(TORCH, 1);
  host.send(TORCH, 1);
  host.send(TORCH, 0);
  await keys.until((heard) => pressed(heard).length === 4);
  expect(pressed(keys.heard)).toEqual([
    'press ControlLeft+KeyK',
    'press KeyS',
    'down KeyT',
    'up KeyT',
  ]);
  host.send(SCROLL, 1);
  await keys.until((heard) => pressed(heard).length >= 7);
  host.send(SCROLL, 0);
  host.send(TORCH, 1);
  await keys.until((heard) => pressed(heard).at(-1) === 'down KeyT');
});

test('only what the host lists is pressed, and the adapter is told the list', async () => {
  const keys = await keyboard();
  const host = await engine('', [TORCH]);
  await host.standing(false);
  await keys.until((heard) =>
    heard.some(({ kind, ...more }) => kind === 'allow' && JSON.stringify(more).includes('KeyT')),
  );
  host.send(SAVE, 1);
  expect(await host.news('notListed')).toMatchObject({ from: SAVE });
  expect(pressed(keys.heard)).toEqual([]);
});

test('keys go only while the chosen program is in front, where that can be told; what is down comes up all the same', async () => {
  const keys = await keyboard();
  const host = await engine('placard');
  await host.standing(false);
  host.send(TORCH, 1);
  await keys.until((heard) => pressed(heard).length === 1);
  keys.say({ kind: 'front', program: 'A letter' });
  await new Promise<void>((done) => {
    const look = setInterval(() => {
      if (adapter.front !== 'A letter') return;
      clearInterval(look);
      done();
    }, 5);
  });
  host.send(TORCH, 0);
  host.send(SAVE, 1);
  expect(await host.news('notInFront')).toMatchObject({ from: 'A letter' });
  expect(pressed(keys.heard)).toEqual(['down KeyT', 'up KeyT']);
  keys.say({ kind: 'front', program: 'Placard – Nine Ferries' });
  host.send(SAVE, 1);
});

test('an engine that vanishes holds nothing down; an adapter that leaves is said, and found again', async () => {
  const keys = await keyboard();
  const host = await engine();
  await host.standing(false);
  host.send(TORCH, 1);
  await keys.until((heard) => pressed(heard).length === 1);
  host.socket.terminate();
  await keys.until((heard) => pressed(heard).at(-1) === 'up KeyT');
  const next = await engine();
  await next.standing(false);
  keys.socket.terminate();
  await next.standing(true);
  next.heard.length = 0;
  await keyboard();
  await next.standing(false);
});

test('nobody comes in without the token, from a page, or while it is switched off', async () => {
  expect(await (await keyboard('wrong')).closed).toBe('Wrong token');
  const early = await end('/api/keys/adapter');
  early.say({ kind: 'front', program: 'x' });
  expect(await early.closed).toBe('No hello');
  await expect(end('/api/keys/adapter', `http://127.0.0.1:${port}`)).rejects.toThrow('403');
  await expect(end('/api/keys/adapter', 'http://elsewhere.example')).rejects.toThrow('403');
  const { token } = adapter.standing();
  const here = await keyboard();
  await here.until((heard) => heard.some(({ kind }) => kind === 'allow'));
  await adapter.set(db, false);
  expect(await here.closed).toBe('Switched off');
  expect(adapter.standing().token).toBe('');
  expect(await (await keyboard(token)).closed).toBe('Wrong token');
  await adapter.set(db, true);
  expect(adapter.standing().token).not.toBe(token);
  const again = new KeyAdapter(() => undefined);
  await again.load(db);
  expect(again.standing()).toMatchObject({ on: true, token: adapter.standing().token });
});

test('the example’s common part comes by itself and presses what is listed and nothing else', async () => {
  const link = new URL('../../docs/keys/link.mjs', import.meta.url).href;
  const program = `
    const { run } = await import(${JSON.stringify(link)});
    run('Example', {
      down: (code) => console.log('down ' + code),
      up: (code) => console.log('up ' + code),
      front: () => null,
    });`;
  const { token } = adapter.standing();
  const child = spawn(
    process.execPath,
    ['--input-type=module', '-e', program, '--', '--port', String(port), '--token', token],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  ends.push(() => child.kill('SIGKILL'));
  const lines: string[] = [];
  const said = new Promise<void>((done) =>
    child.stdout.on('data', (chunk: Buffer) => {
      lines.push(...String(chunk).trim().split('\n'));
      if (lines.length >= 6) done();
    }),
  );
  const host = await engine('', [SAVE]);
  await host.standing(false);
  adapter.tell({ kind: 'press', keys: ['KeyX'] });
  host.send(SAVE, 1);
  await said;
  expect(lines).toEqual([
    'down ControlLeft',
    'down KeyK',
    'up KeyK',
    'up ControlLeft',
    'down KeyS',
    'up KeyS',
  ]);
});
