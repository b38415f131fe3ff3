import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { WebSocket } from 'ws';
import { hostNamed, modelOfHost } from '@rondo/core/host';
import { compile, Engine } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { NET_HEAD, netStretch, readOscMessage, writeOscMessage } from '@rondo/core/wire';
import { LAMPROOM, lamproomProfile } from '../core/testing/osc-room.js';
import { PER_SECOND, atPace, besideEcho, enough, now } from './beside-echo.js';
import { startServer } from './server.js';

const STEPS = 16_383;

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
  await atPace(
    (n) => {
      const packet = writeOscMessage('/pane/fader/1', [{ as: 'float', value: n / STEPS }]);
      sent.set(n, now());
      screen.send(packet, listen, '127.0.0.1');
    },
    () => sent.size,
  );
  socket.terminate();
  screen.close();
  desk.close();
  return enough(times);
}

/** OSC in to OSC out with Rondo in the middle, beside a bare echo through the same processes. */
export async function osc(): Promise<void> {
  const server = await startServer();
  try {
    await besideEcho(
      `OSC in to OSC out, ${PER_SECOND} messages a second, by UDP and a WebSocket`,
      () => run(server.address, echo),
      () => run(server.address, rondo()),
    );
  } finally {
    server.stop();
  }
}
