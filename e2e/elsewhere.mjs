/**
 * What another machine of the network sees of one, as lines of JSON on standard output: run there, with the address to
 * look at, then the ports to speak to, if any, and a pairing code.
 */
import { get } from 'node:http';
import { connect } from 'node:net';
import WebSocket from 'ws';

const [address, port, code] = process.argv.slice(2);
const PORTS = 65_535;
const AT_ONCE = 500;

/** Whether a TCP port takes a connection. */
const isOpen = (number) =>
  new Promise((done) => {
    const socket = connect(number, address);
    socket.once('connect', () => done(true)).once('error', () => done(false));
    socket.once('close', () => socket.destroy());
    socket.once('connect', () => socket.destroy());
  });

async function scan() {
  const open = [];
  for (let from = 1; from <= PORTS; from += AT_ONCE) {
    const some = Array.from({ length: Math.min(AT_ONCE, PORTS - from + 1) }, (_, n) => from + n);
    const found = await Promise.all(some.map(isOpen));
    open.push(...some.filter((_, n) => found[n]));
  }
  return open;
}

/** The status of an answer; the path goes out as it is written here. */
const status = (path) =>
  new Promise((done, fail) => {
    get({ host: address, port, path }, (answer) => {
      answer.resume();
      done(answer.statusCode);
    }).once('error', fail);
  });

/** The first answer to what is said on a socket; a status where it is not opened. */
const said = (path, message) =>
  new Promise((done) => {
    const socket = new WebSocket(`ws://${address}:${port}${path}`, {
      origin: `http://${address}:${port}`,
    });
    socket.once('error', (error) => done(error.message));
    socket.once('open', () => socket.send(JSON.stringify(message)));
    socket.once('message', (data) => {
      socket.terminate();
      const { kind, why } = JSON.parse(String(data));
      done(why ? `${kind} ${why}` : kind);
    });
  });

const seen = { open: await scan(), pages: {}, sockets: {} };
if (port) {
  for (const path of [
    '/',
    '/api/profiles',
    '/api/surfaces',
    '/api/hosts',
    '/api/network',
    '/api/glass',
    '/api/keys',
    '/../index.html',
    '/%2e%2e/index.html',
    '/..%2f..%2f..%2f..%2fpackage.json',
  ])
    seen.pages[path] = await status(path);
  seen.sockets = {
    engine: await said('/api/glass', {}),
    osc: await said('/api/osc', {}),
    keys: await said('/api/keys/adapter', {}),
    'wrong code': await said('/glass/socket', { kind: 'pair', code: 'AAAAAAAA', name: 'Tablet' }),
    'unknown device': await said('/glass/socket', { kind: 'join', id: 'a', secret: 'b' }),
    'right code': await said('/glass/socket', { kind: 'pair', code, name: 'Tablet' }),
    'used code': await said('/glass/socket', { kind: 'pair', code, name: 'Tablet' }),
  };
}
process.stdout.write(`${JSON.stringify(seen)}\n`);
