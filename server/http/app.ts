import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { bodyParser } from '@koa/bodyparser';
import Koa, { type Middleware } from 'koa';
import compose from 'koa-compose';
import type { LiveDatabase } from '@rondo/store';
import type { Knex } from 'knex';
import serve from 'koa-static';
import { DEEPEST, LARGEST_FILE, isFlat } from '@rondo/core/formats';
import type { Network } from '../osc/network.js';
import type { Glass } from '../glass/glass.js';
import { tellChanged, type Events } from './events.js';
import { fileRoutes } from './files.js';
import type { KeyAdapter } from '../keys/adapter.js';
import { glassRoutes } from './glass.js';
import { keyRoutes } from './keys.js';
import { networkRoutes } from './network.js';
import { Problem, problems } from './problem.js';
import { documentRoutes } from './routes.js';
import { MIDI_FRAME, contentSecurity, onlyFromHere } from './security.js';

export interface AppOptions {
  readonly database: Pick<LiveDatabase, 'get' | 'restore'>;
  /** Folder of the built page. */
  readonly webFolder: string;
  /** The data folder. */
  readonly folder: string;
  /** Names the data folder, so that another start can tell whether this server has it. */
  readonly folderId: string;
  readonly port: () => number;
  /** Whether `localhost` is this server's too: then the ports may be held in a frame of that name. */
  readonly holdsLocalhost: () => boolean;
  readonly report: (error: unknown) => void;
  readonly network: Network;
  readonly glass: Glass;
  readonly keys: KeyAdapter;
  readonly events: Pick<Events, 'tell'>;
}

const YEAR = 365 * 24 * 3600;
const BODY_LIMIT = '4mb';
/** Files of the page lie at the top or in one folder; deeper down a dot belongs to a document's id. */
const FILE = /^\/(?:media\/.*|[^/]*\.\w+)$/;
const HASHED = /-[A-Z0-9]{8}\.\w+$/;

/** The whole server: its own page, profiles, surfaces, and nothing for anybody else. */
export function createApp(options: AppOptions): Koa {
  const app = new Koa();
  let routes: { readonly db: Knex; readonly all: Middleware } | undefined;
  app.use(problems(options.report));
  app.use(onlyFromHere(options.port));
  app.use(contentSecurity(options.port, options.holdsLocalhost));
  app.use(async (ctx, next) => {
    if (ctx.path !== '/api/health') return next();
    ctx.body = { app: 'rondo', folder: options.folderId };
  });
  app.use(async (ctx, next) => {
    const writes = ctx.method !== 'GET' && ctx.method !== 'HEAD';
    if (writes && ctx.request.length && !ctx.is('application/json'))
      throw new Problem(415, 'Not JSON', 'Send application/json.');
    await next();
  });
  const parsers = [BODY_LIMIT, LARGEST_FILE].map((jsonLimit) =>
    bodyParser({
      enableTypes: ['json'],
      jsonLimit: String(jsonLimit),
      onError: (error) => {
        throw (error as { status?: number }).status === 413
          ? error
          : new Problem(400, 'Not JSON', 'The request’s body is not valid JSON.');
      },
    }),
  );
  // A whole file may be larger than a document.
  app.use((ctx, next) => parsers[ctx.path === '/api/files' ? 1 : 0](ctx, next));
  app.use(async (ctx, next) => {
    if (!isFlat(ctx.request.body))
      throw new Problem(
        400,
        'Too deep',
        `What is sent is nested more than ${DEEPEST} levels deep; no document of Rondo’s is.`,
      );
    await next();
  });
  app.use(async (ctx, next) => {
    if (!ctx.path.startsWith('/api/')) return next();
    ctx.set('Cache-Control', 'no-store');
    const db = await options.database.get();
    // Another one after a backup was restored.
    if (routes?.db !== db) {
      const all = [
        fileRoutes(db, options.folder, options.database),
        networkRoutes(db, options.network),
        glassRoutes(options.glass),
        keyRoutes(db, options.keys),
        documentRoutes(db),
      ];
      routes = {
        db,
        all: compose(
          all.flatMap((router) => [
            router.routes() as never as Middleware,
            router.allowedMethods() as never as Middleware,
          ]),
        ),
      };
    }
    await routes.all(ctx, next);
    tellChanged(ctx, options.events);
  });
  app.use(
    serve(options.webFolder, {
      index: false,
      setHeaders: (response, path) => {
        response.setHeader(
          'Cache-Control',
          HASHED.test(path) ? `public, max-age=${YEAR}, immutable` : 'no-cache',
        );
      },
    }),
  );
  app.use(async (ctx, next) => {
    if (ctx.method !== 'GET' || ctx.path !== MIDI_FRAME) return next();
    if (!options.holdsLocalhost()) throw new Problem(404, 'Not found', 'There is no such page.');
    ctx.type = 'text/html';
    ctx.set('Cache-Control', 'no-store');
    ctx.body = await readFile(join(options.webFolder, 'midi.html'), 'utf8');
  });
  app.use(async (ctx, next) => {
    // Every address of the page is the page; what looks like a file is not.
    if (ctx.method !== 'GET' || ctx.path.startsWith('/api/') || FILE.test(ctx.path)) return next();
    const html = await readFile(join(options.webFolder, 'index.html'), 'utf8');
    ctx.type = 'text/html';
    ctx.set('Cache-Control', 'no-store');
    ctx.body = html
      .replaceAll('__NONCE__', String(ctx.state['nonce']))
      .replaceAll('__MIDI__', options.holdsLocalhost() ? 'apart' : 'taken');
  });
  return app;
}
