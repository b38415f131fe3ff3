import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { WebSocket } from 'ws';
import { hostNamed, modelOfHost } from '@rondo/core/host';
import { compile, Engine } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { NET_HEAD, netStretch, readOscMessage, writeOscMessage } from '@rondo/core/wire';
import { LAMPROOM, lamproomProfile } from '../core/testing/osc-room.js';
import { table } from './report.js';
import { startServer } from './server.js';
import { quantile } from './traffic.js';

const PER_SECOND = 1_000;
const COUNT = 5_000;
const STEPS = 16_383;
const REPETITIONS = 5;
/** With the engine in the middle it takes at most so many times a bare echo, at 99 %. */
const MOST = 3;

const now = (): number => Number(process.hrtime.bigint()) / 1e6;

/** What stands behind the server's socket: it takes a stretch and may answer with others. */
type Middle = (
  place: number,
  bytes: Uint8Array,
  say: (place: number, bytes: Uint8Array) => void,
) => void;

/** Sends what comes on the first place out on the second, as it came. */
const echo: Middle = (place, bytes, say) => place === 0 && say(1, bytes);

/** The engine between a touch screen and a light desk. */
function rondo(): Middle {
  const model = modelOfHost(LAMPROOM);
  const surface = (id: string) => STOCK_SURFACES.get(id);
  const plan = compile(lamproomProfile(), {
    surface,
    host: (id) => hostNamed(id, (name) => (name === model.id ? model : undefined), surface),
  });
  let out: (place: number, bytes: Uint8Array) => void = () => undefined;
  const engine = new Engine(plan, (link, bytes, from, to) => {
    if (plan.links[link].kind === 'host') out(1, bytes.slice(from, to));
  });
  const t = () => Math.round(now() * 1_000);
  plan.links.forEach((_, link) => {
    engine.setInputOpen(link, true, t());
    engine.setOutputOpen(link, true, t());
  });
  return (place, bytes, say) => {
    out = say;
    engine.receive(place, bytes, 0, bytes.length, t());
    engine.advance(t());
  };
}

/** What of a packet that came out tells which one it was, from 0. */
const numberOf = (packet: Uint8Array): number => {
  const message = readOscMessage(packet);
  const value = Number(message?.values[0]);
  return Math.round((message?.address === '/grand' ? (value + 60) / 66 : value) * STEPS);
};

async function udp(): Promise<Socket> {
  const socket = createSocket('udp4');
  socket.bind(0, '127.0.0.1');
  await once(socket, 'listening');
  return socket;
}

/** Times from a UDP packet to the one that comes of it, ms, through the server and what stands behind its socket. */
async function run(address: string, middle: Middle): Promise<number[]> {
  const [screen, desk, free] = [await udp(), await udp(), await udp()];
  const listen = free.address().port;
  await new Promise<void>((done) => free.close(() => done()));
  const socket = new WebSocket(`${address.replace('http', 'ws')}/api/osc`, { origin: address });
  await once(socket, 'open');
  const to = { host: '127.0.0.1', port: desk.address().port };
  const places = [
    { link: 'surface', listen, to: null, from: [] },
    { link: 'host', listen: null, to, from: [] },
  ];
  const say = (place: number, bytes: Uint8Array) => socket.send(netStretch(1, place, bytes));
  const standing = new Promise<void>((done) =>
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) middle(data[1], new Uint8Array(data.subarray(NET_HEAD)), say);
      else done();
    }),
  );
  socket.send(JSON.stringify({ kind: 'places', round: 1, places }));
  await standing;
  const sent = new Map<number, number>();
  const times: number[] = [];
  desk.on('message', (packet) => {
    const which = numberOf(packet);
    const at = sent.get(which);
    if (at === undefined) return;
    sent.delete(which);
    times.push(now() - at);
  });
  const from = now();
  for (let n = 1; n <= COUNT; n++) {
    while (now() - from < (n * 1_000) / PER_SECOND) await new Promise((done) => setImmediate(done));
    const packet = writeOscMessage('/pane/fader/1', [{ as: 'float', value: n / STEPS }]);
    sent.set(n, now());
    screen.send(packet, listen, '127.0.0.1');
  }
  const until = now() + 1_000;
  while (sent.size > 0 && now() < until) await new Promise((done) => setImmediate(done));
  socket.terminate();
  screen.close();
  desk.close();
  if (times.length < COUNT * 0.99)
    throw new Error(`Only ${times.length} of ${COUNT} packets came through.`);
  return times;
}

/** OSC in to OSC out with Rondo in the middle, beside a bare echo through the same processes. */
export async function osc(): Promise<void> {
  const server = await startServer();
  const ratios: number[] = [];
  const rows: [string, string][] = [];
  try {
    for (let n = 0; n < REPETITIONS; n++) {
      const bare = quantile(await run(server.address, echo), 0.99);
      const through = await run(server.address, rondo());
      const p99 = quantile(through, 0.99);
      ratios.push(p99 / bare);
      rows.push([
        `run ${n + 1}`,
        `median ${quantile(through, 0.5).toFixed(2)} ms, 99 % ${p99.toFixed(2)} ms; a bare echo ${bare.toFixed(2)} ms`,
      ]);
    }
  } finally {
    server.stop();
  }
  const middle = quantile(ratios, 0.5);
  if (middle > MOST) process.exitCode = 1;
  table(`OSC in to OSC out, ${PER_SECOND} messages a second, by UDP and a WebSocket`, [
    ...rows,
    ['ratio at 99 %, median of the runs', `${middle.toFixed(2)} (at most ${MOST})`],
  ]);
}
