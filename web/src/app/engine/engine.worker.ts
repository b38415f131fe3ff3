/// <reference lib="webworker" />
import * as z from 'zod';
import type { ToEngine } from '../../midi/protocol';
import { GlassNet } from './glass-net';
import { OscNet, type NetEvents, type NetSocket } from './osc-net';
import type { ToWorker } from './protocol';
import { Runner } from './runner';

// Zod would else try `new Function`, which the content security policy forbids.
z.config({ jitless: true });

/** How often stand-ins and wires move on, ms. */
const TICK_MS = 5;

// A message to ourselves comes after those that wait already, and is not held up as timers are.
const { port1, port2 } = new MessageChannel();
const works: (() => void)[] = [];
port1.onmessage = () => works.shift()?.();

const runner = new Runner(
  (message, transfer) => postMessage(message, transfer ?? []),
  () => Math.round(performance.now() * 1_000),
  Math.round(performance.timeOrigin * 1_000),
  (later) => {
    works.push(later);
    port2.postMessage(null);
  },
);

/** Opens a socket to the server that this script comes from. */
const openSocket =
  (path: string) =>
  (events: NetEvents): NetSocket => {
    const socket = new WebSocket(`${location.origin.replace(/^http/, 'ws')}${path}`);
    socket.binaryType = 'arraybuffer';
    socket.onopen = () => events.opened();
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      if (typeof data === 'string') events.text(data);
      else events.bytes(new Uint8Array(data));
    };
    socket.onclose = () => events.closed();
    return socket;
  };
const later = (work: () => void, ms: number): void => void setTimeout(work, ms);
runner.joinNet((owner) => new OscNet(openSocket('/api/osc'), later, owner));
runner.joinGlass((owner) => new GlassNet(openSocket('/api/glass'), later, owner));

addEventListener('message', ({ data, ports: [port] }: MessageEvent<ToWorker>) => {
  if (data.kind !== 'join ports') return runner.receive(data);
  port.onmessage = ({ data }: MessageEvent<ToEngine>) => runner.receive(data);
  runner.joinPorts((message) => port.postMessage(message));
});

const tick = (): void => {
  runner.tick();
  setTimeout(tick, TICK_MS);
};
tick();
