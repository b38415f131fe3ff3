import { spawn, type ChildProcess } from 'node:child_process';
import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import { WebSocket } from 'ws';
import {
  NET_HEAD,
  OscStream,
  inStream,
  netStretch,
  readOscMessage,
  writeOscMessage,
  type FromNet,
  type NetChoice,
  type OscMessage,
} from '@rondo/core/wire';
import { KeyAdapter } from '../keys/adapter';
import { EngineSockets } from '../http/engine-sockets';
import { OscEngines } from './engines';
import { MOST_PER_SECOND } from './places';

/** A general OSC client and server of another house, where the system has them (Debian: liblo-tools). */
const TOOLS = ['oscsend', 'oscdump'].map((name) => `/usr/bin/${name}`);
const withTools = TOOLS.every((path) => existsSync(path)) ? test : test.skip;
const here = Object.values(networkInterfaces()).flatMap((all) =>
  (all ?? []).flatMap(({ address, family, internal }) =>
    family === 'IPv4' && !internal ? [address] : [],
  ),
)[0] as string | undefined;

const openness = { isOpen: false };
let server: Server;
let port: number;
let engines: OscEngines;
let sockets: EngineSockets;
const ends: (() => void)[] = [];

beforeAll(async () => {
  engines = new OscEngines(openness, new KeyAdapter(() => undefined));
  sockets = new EngineSockets(() => port, { '/api/osc': (client) => engines.take(client) });
  server = createServer((_, response) => response.end());
  sockets.attach(server);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  port = (server.address() as AddressInfo).port;
});
afterEach(() => {
  openness.isOpen = false;
  for (const end of ends.splice(0)) end();
});
afterAll(async () => {
  sockets.close();
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
});

/** An engine as the page's worker is one: all that it is told, and all that it hears. */
class TestEngine {
  readonly heard: { place: number; message: OscMessage | null }[] = [];
  readonly told: FromNet[] = [];
  private readonly wakers: (() => void)[] = [];
  private round = 0;

  private constructor(private readonly socket: WebSocket) {
    socket.binaryType = 'nodebuffer';
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary)
        new OscStream((bytes, from, to) => {
          const message = readOscMessage(bytes.slice(from, to));
          this.heard.push({ place: data[1], message });
        }).feed(data, NET_HEAD, data.length);
      else this.told.push(JSON.parse(String(data)) as FromNet);
      for (const wake of this.wakers.splice(0)) wake();
    });
    ends.push(() => socket.terminate());
  }

  static async join(origin = `http://127.0.0.1:${port}`, path = '/api/osc'): Promise<TestEngine> {
    const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, { origin });
    await once(socket, 'open');
    return new TestEngine(socket);
  }

  async until<T>(look: () => T | undefined | false): Promise<T> {
    for (;;) {
      const found = look();
      if (found) return found;
      await new Promise<void>((done) => this.wakers.push(done));
    }
  }

  /** Says which places there are, and waits until it is told how they stand. */
  async places(...choices: Partial<NetChoice>[]) {
    this.told.length = 0;
    this.round++;
    const places = choices.map((choice, n) => ({
      listen: null,
      to: null,
      from: [],
      ...choice,
      link: `surface:${n}`,
    }));
    this.socket.send(JSON.stringify({ kind: 'places', round: this.round, places }));
    return this.until(() => {
      const standing = this.told.find((one) => one.kind === 'standing');
      return standing?.kind === 'standing' && standing.round === this.round && standing.standing;
    });
  }

  say(place: number, packet: Uint8Array): void {
    this.socket.send(netStretch(this.round, place, inStream(packet)));
  }

  will(link: string, bytes: Uint8Array): void {
    this.socket.send(JSON.stringify({ kind: 'will', link, bytes: [...bytes] }));
  }

  vanish(): void {
    this.socket.terminate();
  }

  news(why: string) {
    return this.until(() =>
      this.told.flatMap((one) => (one.kind === 'news' ? one.news : [])).find((n) => n.why === why),
    );
  }
}

/** A UDP socket of a program of ours. */
async function program(address = '127.0.0.1'): Promise<{ socket: Socket; port: number }> {
  const socket = createSocket('udp4');
  socket.bind(0, address);
  await once(socket, 'listening');
  ends.push(() => socket.close());
  return { socket, port: socket.address().port };
}
/** A UDP port that nobody has just now. */
async function freePort(): Promise<number> {
  const socket = createSocket('udp4');
  socket.bind(0, '127.0.0.1');
  await once(socket, 'listening');
  const { port: free } = socket.address();
  await new Promise<void>((done) => socket.close(() => done()));
  return free;
}
const one = (n: number) => writeOscMessage('/n', [{ as: 'integer', value: n }]);

const hasSix = Object.values(networkInterfaces())
  .flat()
  .some((known) => known?.address === '::1');
(hasSix ? test : test.skip)('a program that takes localhost for ::1 is heard, too', async () => {
  const engine = await TestEngine.join();
  const listen = await freePort();
  expect(await engine.places({ listen })).toMatchObject([{ hears: true, fault: '' }]);
  const socket = createSocket('udp6');
  ends.push(() => socket.close());
  socket.send(one(6), listen, '::1');
  await engine.until(() => engine.heard.length === 1);
  expect(engine.heard[0].message?.values).toEqual([6]);
});

test('what is sent to a place is heard, in its order, and what the engine says goes out', async () => {
  const engine = await TestEngine.join();
  const { socket, port: theirs } = await program();
  const listen = await freePort();
  expect(await engine.places({ listen, to: { host: 'localhost', port: theirs } })).toEqual([
    { link: 'surface:0', hears: true, speaks: true, fault: '' },
  ]);
  for (let n = 0; n < 50; n++) socket.send(one(n), listen, '127.0.0.1');
  await engine.until(() => engine.heard.length === 50);
  expect(engine.heard.map(({ message }) => message?.values[0])).toEqual(
    Array.from({ length: 50 }, (_, n) => n),
  );
  const came = once(socket, 'message');
  engine.say(0, one(7));
  const [packet, from] = (await came) as [Buffer, { port: number }];
  expect(readOscMessage(packet)?.values).toEqual([7]);
  // An answer to where it came from is heard.
  expect(from.port).toBe(listen);
});

withTools('a general client is understood, and a general server understands', async () => {
  const engine = await TestEngine.join();
  const [listen, theirs] = [await freePort(), await freePort()];
  const dump: ChildProcess = spawn(TOOLS[1], ['-L', String(theirs)], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  ends.push(() => dump.kill());
  let lines = '';
  const wakers: (() => void)[] = [];
  dump.stdout?.on('data', (chunk: Buffer) => {
    lines += String(chunk);
    for (const wake of wakers.splice(0)) wake();
  });
  await engine.places({ listen, to: { host: '127.0.0.1', port: theirs } });
  const args = ['127.0.0.1', String(listen), '/mix/1', 'fisTFNIhd', '0.25', '-3', 'Vesper Lane'];
  spawn(TOOLS[0], [...args, '9000000000', '0.125']);
  const [{ message }] = await engine.until(() => engine.heard.length > 0 && engine.heard);
  expect(message).toEqual({
    address: '/mix/1',
    values: [0.25, -3, 'Vesper Lane', true, false, null, true, 9_000_000_000, 0.125],
    tags: 'fisTFNIhd',
  });
  // It may not listen yet: said again until it is heard.
  const said = setInterval(() => {
    engine.say(
      0,
      writeOscMessage('/mix/2', [
        { as: 'float', value: 0.5 },
        { as: 'integer', value: 12 },
        { as: 'string', value: 'Held' },
        { as: 'boolean', value: 1 },
        { as: 'double', value: 0.125 },
        { as: 'long', value: 9_000_000_000 },
      ]),
    );
  }, 50);
  while (!lines.includes('\n')) await new Promise<void>((done) => wakers.push(done));
  clearInterval(said);
  const [line] = lines.split('\n').filter((text) => text.includes('/mix/2'));
  expect(line).toMatch(/\/mix\/2 fisTdh 0\.500000 12 "Held" #T 0\.125000 9000000000/);
});

test('a bundle acts at its time; one too far ahead, or malformed, is refused and said', async () => {
  const engine = await TestEngine.join();
  const { socket } = await program();
  const listen = await freePort();
  await engine.places({ listen });
  const bundle = (ahead: number, packet: Uint8Array) => {
    const at = Date.now() + ahead;
    const head = Buffer.alloc(16);
    head.write('#bundle');
    head.writeUInt32BE(Math.floor(at / 1_000) + 2_208_988_800, 8);
    head.writeUInt32BE(Math.floor(((at % 1_000) / 1_000) * 2 ** 32), 12);
    return Buffer.concat([head, inStream(packet)]);
  };
  const sent = performance.now();
  socket.send(bundle(150, one(2)), listen, '127.0.0.1');
  socket.send(bundle(-9_000, one(1)), listen, '127.0.0.1');
  socket.send(bundle(60_000, one(3)), listen, '127.0.0.1');
  socket.send(Buffer.from('nothing of OSC.'), listen, '127.0.0.1');
  await engine.until(() => engine.heard.length === 2);
  expect(performance.now() - sent).toBeGreaterThan(140);
  expect(engine.heard.map(({ message }) => message?.values[0])).toEqual([1, 2]);
  expect(await engine.news('tooFarAhead')).toMatchObject({ link: 'surface:0', from: '127.0.0.1' });
  expect(await engine.news('malformed')).toMatchObject({ count: 1 });
});

test('faster than anything sensible is cut and said, and the place goes on afterwards', async () => {
  const engine = await TestEngine.join();
  const { socket } = await program();
  const listen = await freePort();
  await engine.places({ listen });
  const packed = Buffer.concat([
    Buffer.concat([Buffer.from('#bundle\0'), Buffer.from([0, 0, 0, 0, 0, 0, 0, 1])]),
    ...Array.from({ length: 500 }, (_, n) => Buffer.from(inStream(one(n)))),
  ]);
  const began = performance.now();
  const isTold = () => engine.told.some(({ kind }) => kind === 'news');
  // The system itself loses some of such a flood, so it goes on until it is noticed.
  while (!isTold()) {
    socket.send(packed, listen, '127.0.0.1');
    await new Promise((done) => setImmediate(done));
  }
  await engine.news('tooFast');
  const seconds = (performance.now() - began) / 1_000;
  expect(engine.heard.length).toBeGreaterThan(0);
  expect(engine.heard.length).toBeLessThan((1 + seconds) * MOST_PER_SECOND + 500);
  const before = engine.heard.length;
  const again = setInterval(() => socket.send(one(1), listen, '127.0.0.1'), 20);
  await engine.until(() => engine.heard.length > before);
  clearInterval(again);
});

test('places go and come again: a port is free at once, and nothing of an old round is heard', async () => {
  const engine = await TestEngine.join();
  const listen = await freePort();
  await engine.places({ listen });
  await engine.places({});
  const other = createSocket('udp4');
  other.bind(listen, '127.0.0.1');
  await once(other, 'listening');
  const [standing] = await engine.places({ listen });
  expect(standing).toMatchObject({ hears: false });
  expect(standing.fault).toMatch(/Another program listens on UDP port \d+ already/);
  // However often it is tried again, nothing of a try is left behind.
  const sockets = () => process.getActiveResourcesInfo().filter((one) => /UDP/.test(one)).length;
  const open = sockets();
  for (let n = 0; n < 5; n++) await engine.places({ listen });
  expect(sockets()).toBe(open);
  await new Promise<void>((done) => other.close(() => done()));
  // It is taken as soon as it is free, without being asked for again.
  const isOpen = (told: FromNet) => told.kind === 'standing' && told.standing[0].hears;
  await engine.until(() => engine.told.some(isOpen));
  // What is as it was goes on while others come and go.
  const { socket } = await program();
  const both = engine.places({ listen }, { listen: await freePort() });
  for (let n = 0; n < 20; n++) socket.send(one(n), listen, '127.0.0.1');
  await both;
  await engine.until(() => engine.heard.length === 20);
});

test('what an engine held is released when it is gone, also where nothing listens', async () => {
  const engine = await TestEngine.join();
  const { socket, port: theirs } = await program();
  await engine.places({ to: { host: '127.0.0.1', port: theirs } });
  engine.will('surface:0', inStream(one(0)));
  engine.say(0, one(1));
  expect(readOscMessage(((await once(socket, 'message')) as [Buffer])[0])?.values).toEqual([1]);
  const came = once(socket, 'message');
  engine.vanish();
  expect(readOscMessage(((await came) as [Buffer])[0])?.values).toEqual([0]);
});

test('with the network off nothing of another machine is reached, nor reaches', async () => {
  const engine = await TestEngine.join();
  const listen = await freePort();
  const [standing] = await engine.places({ listen, to: { host: '192.0.2.7', port: 9_000 } });
  expect(standing).toMatchObject({ hears: true, speaks: false });
  expect(standing.fault).toMatch(/another machine, and the network is switched off/);
  expect(
    (await engine.places({ to: { host: 'no-such-machine.invalid', port: 9 } }))[0].fault,
  ).toMatch(/There is no machine called/);
});

(here === undefined ? test.skip : test)(
  'with the network on only senders that are listed are heard; others are told of by their address',
  async () => {
    openness.isOpen = true;
    const engine = await TestEngine.join();
    const listen = await freePort();
    const { socket } = await program(here);
    await engine.places({ listen });
    socket.send(one(1), listen, here);
    expect(await engine.news('stranger')).toMatchObject({ from: here });
    expect(engine.heard).toEqual([]);
    await engine.places({ listen, from: [here as string] });
    socket.send(one(2), listen, here);
    await engine.until(() => engine.heard.length === 1);
    expect(engine.heard[0].message?.values).toEqual([2]);
  },
);

test('only Rondo’s own page is let in, and whoever does not keep to the protocol is put out', async () => {
  const refused = async (origin: string, path?: string) => {
    const socket = new WebSocket(`ws://127.0.0.1:${port}${path ?? '/api/osc'}`, { origin });
    const [, answer] = (await once(socket, 'unexpected-response')) as [
      unknown,
      { statusCode: number },
    ];
    return answer.statusCode;
  };
  expect(await refused('http://example.test')).toBe(403);
  expect(await refused(`http://127.0.0.1:${port}`, '/api/profiles')).toBe(403);
  for (const text of [
    '{',
    '{"kind":"places"}',
    JSON.stringify({
      kind: 'places',
      round: 1,
      places: [{ link: 'a', listen: 70_000, to: null, from: [] }],
    }),
  ]) {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/api/osc`, {
      origin: `http://127.0.0.1:${port}`,
    });
    await once(socket, 'open');
    socket.send(text);
    expect((await once(socket, 'close'))[0]).toBe(1007);
  }
});
