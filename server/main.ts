import { createServer, type Server } from 'node:http';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Knex } from 'knex';
import pino from 'pino';
import { createApp } from './http/app.js';
import { Glass } from './glass/glass.js';
import { KeyAdapter } from './keys/adapter.js';
import { EngineSockets } from './http/engine-sockets.js';
import { Events } from './http/events.js';
import { endOnFault } from './guard.js';
import { OscEngines } from './osc/engines.js';
import { Network } from './osc/network.js';
import {
  DataFolder,
  LiveDatabase,
  checkFolder,
  dailyBackup,
  keepSmall,
  openDatabase,
} from '@rondo/store';

/** Where Rondo is found unless another program has the port. */
const USUAL_PORT = 4_747;
const PORTS_TRIED = 20;
/** How long a connection that waits is kept open, ms. */
const KEEP_ALIVE_MS = 120_000;
/** How long what has begun may take to finish when the server is shut down. */
const LONGEST_FINISH_MS = 5_000;

const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
const log = pino({ level: process.env['RONDO_LOG'] ?? 'warn' }, pino.destination(2));

function listen(server: Server, port: number): Promise<boolean> {
  return new Promise((done, fail) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? done(false) : fail(error),
    );
    server.listen(port, '127.0.0.1', () => done(true));
  });
}

/**
 * Takes `::1` too, to which `localhost` leads first on many systems; false where another program has it. A system
 * without IPv6 has no such address to take: there `localhost` is 127.0.0.1.
 */
function listenAsLocalhost(server: Server, port: number): Promise<boolean> {
  return new Promise((done) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      done(error.code === 'EADDRNOTAVAIL' || error.code === 'EAFNOSUPPORT'),
    );
    server.listen({ host: '::1', port, ipv6Only: true }, () => done(true));
  });
}

/** How often it is looked whether the day has its backup, ms. */
const BACKUP_LOOK_MS = 3_600_000;

/** A backup each day that Rondo runs, and a database that stays small; what fails is told in the log and tried again. */
async function keepWell(folder: string, database: LiveDatabase): Promise<void> {
  const make = async () => {
    await dailyBackup(folder).catch((error: unknown) => log.error(error, 'No backup was made.'));
    await database
      .get()
      .then((db) => keepSmall(db))
      .catch((error: unknown) => log.error(error, 'Old versions were not thinned.'));
  };
  await make();
  setInterval(() => void make(), BACKUP_LOOK_MS).unref();
}

const tell = (sentence: string): void => void process.stdout.write(`${sentence}\n`);
const address = (port: number) => `http://127.0.0.1:${port}/`;

async function main(): Promise<void> {
  const folder = new DataFolder(resolve(process.env['RONDO_DATA'] ?? join(root, 'data')));
  const running = await folder.runningPort();
  if (running !== null) return tell(`Rondo is already running: ${address(running)}`);

  const wanted = Number(process.env['RONDO_PORT'] ?? USUAL_PORT);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65_535)
    throw new Error('RONDO_PORT must be a port number, 0–65535.');
  await checkFolder(folder.path);
  let port = wanted;
  let holdsLocalhost = false;
  let ready: (database: Knex) => void = () => undefined;
  const file = join(folder.path, 'rondo.sqlite');
  const database = new LiveDatabase(file, new Promise<Knex>((done) => (ready = done)));
  const webFolder = join(root, 'web', 'dist', 'browser');
  const network: Network = new Network(() => {
    engines.reopen();
    void glass.follow(glassPort());
  });
  const keys: KeyAdapter = new KeyAdapter(() => engines.adapterChanged());
  const engines = new OscEngines(network, keys);
  const glass = new Glass(
    join(webFolder, 'glass'),
    network,
    () => database.get(),
    (error) => log.error(error),
  );
  const events = new Events();
  const sockets = new EngineSockets(
    () => port,
    {
      '/api/osc': (client) => engines.take(client),
      '/api/glass': (client) => glass.relay.takeEngine(client),
      '/api/events': (client) => events.take(client),
    },
    { '/api/keys/adapter': (client) => keys.take(client) },
  );
  /** What is set for all of Rondo, as the database has it. */
  const readSettings = async (db: Knex) => {
    await network.load(db);
    await glass.devices.load(db);
    await keys.load(db);
    await glass.follow(glassPort());
  };
  const app = createApp({
    database: {
      get: () => database.get(),
      restore: async (backup) => {
        const kept = await database.restore(backup);
        await readSettings(await database.get());
        engines.reopen();
        return kept;
      },
    },
    network,
    glass,
    keys,
    events,
    webFolder,
    folder: folder.path,
    folderId: folder.id,
    port: () => port,
    holdsLocalhost: () => holdsLocalhost,
    report: (error) => log.error(error),
  });
  // Beside the port of the page, so that a firewall has one place to open.
  const glassPort = () => (wanted === 0 ? 0 : port + 100);
  const answer = app.callback();
  const server = createServer((request, response) => void answer(request, response));
  const localhost = createServer((request, response) => void answer(request, response));
  for (const one of [server, localhost]) {
    sockets.attach(one);
    // Longer than browsers keep a connection that waits: none is closed in the moment of a request.
    one.keepAliveTimeout = KEEP_ALIVE_MS;
  }
  for (;;) {
    if (await listen(server, port)) break;
    if (await folder.isServedOn(port)) return tell(`Rondo is already running: ${address(port)}`);
    if (++port >= wanted + PORTS_TRIED)
      throw new Error(
        `Ports ${wanted} to ${port - 1} are all taken. Name a free one with RONDO_PORT.`,
      );
  }
  const bound = server.address();
  if (bound && typeof bound === 'object') port = bound.port;
  holdsLocalhost = await listenAsLocalhost(localhost, port);
  const db = await openDatabase(file, tell);
  await readSettings(db);
  ready(db);
  folder.note(port);
  void keepWell(folder.path, database);
  if (wanted !== 0 && port !== wanted)
    tell(
      `Another program holds port ${wanted}, so Rondo took ${port}. For the browser that is a new address: ` +
        'it will ask for permission to use MIDI again.',
    );
  tell(`Rondo is at ${address(port)}`);

  endOnFault(process, {
    tell: (error) => {
      log.fatal(error);
      process.stderr.write(
        `Rondo has run into a fault of its own and ends. What was held is let go of, what was saved is safe. Start it again. (${String(error)})\n`,
      );
    },
    letGo: () => {
      engines.letGo();
      glass.relay.letGo();
      folder.forget();
    },
    end: () => process.exit(1),
  });
  const stop = () => {
    folder.forget();
    sockets.close();
    void glass.close();
    // What has begun is finished and answered; a connection that only waits is closed at once.
    const closed = [server, localhost].map(
      (one) => new Promise<void>((done) => (one.listening ? one.close(() => done()) : done())),
    );
    void Promise.all(closed).then(() => database.close().then(() => process.exit(0)));
    for (const one of [server, localhost]) {
      one.closeIdleConnections();
      setTimeout(() => one.closeAllConnections(), LONGEST_FINISH_MS).unref();
    }
  };
  process.once('SIGINT', stop);
  process.once('SIGTERM', stop);
}

main().catch((error: unknown) => {
  log.debug(error);
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
