import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { WebSocket } from 'ws';
import { blankHost, hostNamed, modelOfHost, type MessageHost } from '@rondo/core/host';
import type { Profile } from '@rondo/core/profile';
import { compile, Engine } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { NET_HEAD, netStretch, readOscMessage, writeOscMessage } from '@rondo/core/wire';
import { LAMPROOM, lamproomProfile } from '../core/testing/osc-room.js';
import { PER_SECOND, atPace, besideEcho, now } from './beside-echo.js';
import { startServer } from './server.js';

const STEPS = 16_383;
/** Bytes before a packet in a stream, that tell its length (OSC 1.0). */
const FRAME = 4;

/** The ways out of what stands behind the server's socket. */
interface Ways {
  /** To the server, which sends it on by UDP. */
  readonly osc: (bytes: Uint8Array) => void;
  /** To a MIDI output of the page: it has left, and was the message of this number. */
  readonly midi: (which: number) => void;
}
/** What stands behind the server's socket and takes what comes from the touch screen. */
type Middle = (bytes: Uint8Array, ways: Ways) => void;

/** The cheapest things that could stand there. */
const oscEcho: Middle = (bytes, { osc }) => osc(bytes);
const midiEcho: Middle = (bytes, { midi }) => midi(numberOf(bytes.subarray(FRAME)));

/** A program that takes a position of 14 bits as pitch bend, on a wire that is never full: every message must leave. */
const BENT: MessageHost = {
  ...blankHost('bent', 'Bent'),
  bytesPerSecond: 10_000_000,
  rows: [{ ...LAMPROOM.rows[0], message: { type: 'pitchBend', channel: 1, bits: 14 } }],
};
const atBent = (): Profile => {
  const profile = lamproomProfile();
  const [host] = profile.hostOrder;
  return { ...profile, hosts: { [host]: { ...profile.hosts[host], model: 'bent' } } };
};

/** The engine between a touch screen and a program. */
function rondo(program: MessageHost, profile: Profile): Middle {
  const model = modelOfHost(program);
  const surface = (id: string) => STOCK_SURFACES.get(id);
  const plan = compile(profile, {
    surface,
    host: (id) => hostNamed(id, (name) => (name === model.id ? model : undefined), surface),
  });
  // What is asked of a program before anything comes is nobody's to count.
  let ways: Ways = { osc: () => undefined, midi: () => undefined };
  const engine = new Engine(plan, (link, bytes, from, to) => {
    if (plan.links[link].kind !== 'host') return;
    if (plan.links[link].isOsc) ways.osc(bytes.slice(from, to));
    else for (let at = from; at < to; at += 3) ways.midi(bytes[at + 1] | (bytes[at + 2] << 7));
  });
  const t = () => Math.round(now() * 1_000);
  plan.links.forEach((_, link) => {
    engine.setInputOpen(link, true, t());
    engine.setOutputOpen(link, true, t());
  });
  return (bytes, out) => {
    ways = out;
    engine.at(t()).receive(0, bytes, 0, bytes.length);
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
  const sent = new Map<number, number>();
  const times: number[] = [];
  const left = (which: number) => {
    const at = sent.get(which);
    if (at === undefined) return;
    sent.delete(which);
    times.push(now() - at);
  };
  const ways = { osc: (bytes: Uint8Array) => socket.send(netStretch(1, 1, bytes)), midi: left };
  const standing = new Promise<void>((done) =>
    socket.on('message', (data: Buffer, isBinary) => {
      if (!isBinary) done();
      else if (data[1] === 0) middle(new Uint8Array(data.subarray(NET_HEAD)), ways);
    }),
  );
  socket.send(JSON.stringify({ kind: 'places', round: 1, places }));
  await standing;
  desk.on('message', (packet) => left(numberOf(packet)));
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
  return times;
}

/** OSC in to OSC and MIDI out with Rondo in the middle, each beside an echo through the same processes. */
export async function osc(): Promise<void> {
  const server = await startServer();
  try {
    await besideEcho(
      `OSC in to OSC out, ${PER_SECOND} messages a second, by UDP and a WebSocket`,
      () => run(server.address, oscEcho),
      () => run(server.address, rondo(LAMPROOM, lamproomProfile())),
    );
    await besideEcho(
      `OSC in to MIDI out, ${PER_SECOND} messages a second`,
      () => run(server.address, midiEcho),
      () => run(server.address, rondo(BENT, atBent())),
    );
  } finally {
    server.stop();
  }
}
