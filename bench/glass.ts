import { once } from 'node:events';
import { WebSocket } from 'ws';
import { nineFerriesMix } from '@rondo/core/profile';
import type { FromGlass, FromGlassEngine, ToGlass, ToGlassEngine } from '@rondo/core/wire';
import { GlassNet } from '../web/src/app/engine/glass-net.js';
import { NOTHING_OWN } from '../web/src/app/engine/library.js';
import { Runner } from '../web/src/app/engine/runner.js';
import { PER_SECOND, atPace, besideEcho, now } from './beside-echo.js';
import { startServer } from './server.js';

/** Steps of the fader that is moved. */
const STEPS = 1_023;
const SURFACE = 'harrow-8';
const TICK_MS = 5;

/** What stands behind the server, as the engine's worker does, until it is stopped. */
type Behind = (url: string, origin: string) => Promise<() => void>;

/** Answers what a finger does with the same as a change. */
const echo: Behind = async (url, origin) => {
  const socket = new WebSocket(url, { origin });
  socket.on('message', (data: Buffer) => {
    const said = JSON.parse(String(data)) as ToGlassEngine;
    const says: FromGlassEngine['says'] =
      said.kind === 'hand'
        ? { kind: 'changes', changes: { at: [[0, said.value]] } }
        : { kind: 'panel', why: 'echo' };
    socket.send(JSON.stringify({ surface: SURFACE, says }));
  });
  await once(socket, 'open');
  return () => socket.terminate();
};

/** The worker's own runner with the mix before a Studio. */
const rondo: Behind = async (url, origin) => {
  const runner = new Runner(
    () => undefined,
    () => Math.round(now() * 1_000),
    0,
  );
  runner.receive({ kind: 'profile', version: 1, profile: nineFerriesMix(), own: NOTHING_OWN });
  for (let n = 0; n < 200; n++) runner.tick();
  const opened = new Promise<{ net: GlassNet; socket: WebSocket }>((done) => {
    runner.joinGlass((owner) => {
      const net: GlassNet = new GlassNet(
        (events) => {
          const socket = new WebSocket(url, { origin });
          socket.on('open', () => {
            events.opened();
            done({ net, socket });
          });
          socket.on('message', (data: Buffer) => events.text(String(data)));
          return { send: (data) => socket.send(data), close: () => socket.terminate() };
        },
        () => undefined,
        owner,
      );
      return net;
    });
    runner.receive({ kind: 'glass', on: true });
  });
  const { socket } = await opened;
  const timer = setInterval(() => runner.tick(), TICK_MS);
  return () => {
    clearInterval(timer);
    socket.terminate();
  };
};

async function ask<T>(address: string, method: string, path: string, body?: object): Promise<T> {
  const answer = await fetch(`${address}/api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
  return (await answer.json()) as T;
}

/** Times from a finger's move to the change that comes of it at the glass, ms. */
async function run(address: string, behind: Behind): Promise<number[]> {
  const stop = await behind(`${address.replace('http', 'ws')}/api/glass`, address);
  const { port } = await ask<{ port: number }>(address, 'GET', 'glass');
  const { code } = await ask<{ code: string }>(address, 'POST', 'glass/codes', {
    surface: SURFACE,
  });
  const host = `127.0.0.1:${port}`;
  const glass = new WebSocket(`ws://${host}/glass/socket`, { origin: `http://${host}` });
  const say = (message: FromGlass) => glass.send(JSON.stringify(message));
  const sent = new Map<number, number>();
  const times: number[] = [];
  const shown = new Promise<void>((done) =>
    glass.on('message', (data: Buffer) => {
      const message = JSON.parse(String(data)) as ToGlass;
      if (message.kind === 'paired') say({ kind: 'join', id: message.id, secret: message.secret });
      else if (message.kind === 'panel') done();
      else if (message.kind === 'changes')
        for (const [, position] of message.changes.at ?? []) {
          const step = Math.round(position * STEPS);
          const at = sent.get(step);
          if (at === undefined) continue;
          sent.delete(step);
          times.push(now() - at);
        }
    }),
  );
  await once(glass, 'open');
  say({ kind: 'pair', code, name: 'Bench' });
  await shown;
  say({ kind: 'hand', control: 'fader-1', does: 'touch', value: 1 });
  await atPace(
    (n) => {
      const step = (n * 7) % (STEPS + 1);
      sent.set(step, now());
      say({ kind: 'hand', control: 'fader-1', does: 'move', value: step / STEPS });
    },
    () => sent.size,
  );
  stop();
  glass.terminate();
  return times;
}

/** From a finger on glass to the engine and back, beside a bare echo through the same processes. */
export async function glass(): Promise<void> {
  const server = await startServer();
  try {
    await ask(server.address, 'PUT', 'network', { on: true });
    await besideEcho(
      `Glass to engine and back, ${PER_SECOND} messages a second, by two WebSockets`,
      () => run(server.address, echo),
      () => run(server.address, rondo),
    );
  } finally {
    server.stop();
  }
}
