import { WebSocket } from 'ws';

/*
 * What every key adapter has in common: it goes to Rondo with a token, hears which keys to press, and refuses all that Rondo
 * has not listed before. It never listens. See protocol.md beside this file.
 */

/** How long it waits before it comes again, ms. */
const AGAIN_MS = 2_000;

function option(name) {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? '' : (process.argv[at + 1] ?? '');
}

/**
 * Goes to Rondo, and comes again whenever the way breaks.
 * @param name of the adapter, as Rondo shows it
 * @param keyboard `down(code)` and `up(code)` of one key by its W3C code, and `front()`: the name of the program in front, or
 *   null where that cannot be told; all may return promises
 */
export function run(name, keyboard) {
  const port = option('port') || '4747';
  const token = option('token');
  if (!token) {
    console.error('Give the token that Rondo shows under Ports, Keys: --token …');
    process.exit(2);
  }
  let allowed = new Set();
  const down = new Set();
  let work = Promise.resolve();
  /** One after the other, so that keys never cross. */
  const then = (does) => {
    work = work.then(does).catch((error) => console.error(String(error)));
  };
  const press = async (code) => {
    down.add(code);
    await keyboard.down(code);
  };
  const lift = async (code) => {
    down.delete(code);
    await keyboard.up(code);
  };
  const connect = () => {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/api/keys/adapter`);
    let timer;
    let shown;
    socket.on('open', () => {
      socket.send(JSON.stringify({ kind: 'hello', token, name }));
      timer = setInterval(async () => {
        const front = await keyboard.front();
        if (front !== shown) socket.send(JSON.stringify({ kind: 'front', program: front }));
        shown = front;
      }, 300);
    });
    socket.on('message', (data) => {
      const message = JSON.parse(String(data));
      if (message.kind === 'allow') {
        allowed = new Set(message.chords.map((keys) => keys.join('+')));
        return;
      }
      const { kind, keys } = message;
      if (!allowed.has(keys.join('+'))) return;
      then(async () => {
        if (kind !== 'up') for (const key of keys) await press(key);
        if (kind !== 'down') for (const key of [...keys].reverse()) await lift(key);
      });
    });
    socket.on('close', (code, reason) => {
      clearInterval(timer);
      // What is down when the way breaks is let go of.
      then(async () => {
        for (const key of [...down].reverse()) await lift(key);
      });
      console.error(`Rondo is away (${code} ${String(reason)}). It is asked again.`);
      setTimeout(connect, AGAIN_MS);
    });
    socket.on('error', () => undefined);
  };
  connect();
}
