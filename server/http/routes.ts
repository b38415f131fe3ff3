import Router from '@koa/router';
import type { Context } from 'koa';
import type { Knex } from 'knex';
import * as z from 'zod';
import { faultsOf, type Read } from '@rondo/core/document';
import { HOST_MODELS, readMessageHost } from '@rondo/core/host';
import { readProfile, readSetUp } from '@rondo/core/profile';
import { STOCK_SURFACES, readSurface } from '@rondo/core/surface';
import { DocumentStore, KINDS, profilesWith, type Kind, type Reply } from '@rondo/store';
import { noteChanged, type Changed } from './events.js';
import { NOTHING, answerOnce, json } from './once.js';
import { Problem } from './problem.js';

const idSchema = z.string().regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]{0,63}$/);
const saveSchema = z.object({ revision: z.int().min(1), document: z.unknown() });
const createSchema = z.object({ document: z.unknown() });
const labelSchema = z.object({ label: z.string().trim().min(1).max(80).nullable() });
const revisionSchema = z.coerce.number().int().min(1);

interface Named {
  readonly id: string;
  readonly name: string;
}
const READERS: Readonly<Record<Kind, (value: unknown) => Read<Named>>> = {
  profile: readProfile,
  surface: readSurface,
  host: readMessageHost,
  setup: readSetUp,
};

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

function documentIn(kind: Kind, value: unknown): Named {
  const result = READERS[kind](value);
  if (!result.ok)
    throw new Problem(
      422,
      `${capital(kind)} refused`,
      `The ${kind} has faults; nothing was stored.`,
      { faults: result.faults },
    );
  return result.document;
}

function parse<T>(schema: z.ZodType<T>, value: unknown, detail: string): T {
  const result = schema.safeParse(value);
  if (!result.success)
    throw new Problem(400, 'Request not understood', detail, { faults: faultsOf(result.error) });
  return result.data;
}

const notHere = (kind: Kind, id: string) =>
  new Problem(404, `No such ${kind}`, `There is no ${kind} “${id}”. It may have been deleted.`);

/** Refuses what others still need, or what ships with Rondo. */
async function mayRemove(db: Knex, kind: Kind, id: string): Promise<void> {
  if (kind === 'profile' || kind === 'setup') return;
  const users = await profilesWith(db, kind, id);
  if (users.length > 0)
    throw new Problem(
      409,
      `${capital(kind)} in use`,
      `It is used by ${users.map((name) => `“${name}”`).join(', ')}. Take it out of there first.`,
    );
}

/** The REST routes of profiles, surfaces and hosts. */
export function documentRoutes(db: Knex): Router {
  const router = new Router({ prefix: '/api' });
  for (const kind of KINDS) addRoutes(router, db, new DocumentStore(db, kind));
  return router;
}

/** What an answer says of a document that was made or saved. */
const madeSchema = z.object({ id: z.string().optional(), revision: z.number().optional() });

/**
 * Does what changes something, once for each id of a request, and answers.
 *
 * @param cause as other pages are told of it; null where there is nothing to tell
 */
async function change(
  ctx: Context,
  db: Knex,
  kind: Kind,
  cause: Changed['cause'] | null,
  work: (store: DocumentStore, tx: Knex) => Promise<Reply>,
): Promise<void> {
  const reply = await answerOnce(ctx, db, (tx) => work(new DocumentStore(tx, kind), tx));
  const made = madeSchema.parse(JSON.parse(reply.body ?? '{}'));
  const id = made.id ?? (ctx.params as Record<string, string>)['id'];
  if (cause) noteChanged(ctx, { ...made, kind, id, cause });
}

function addRoutes(router: Router, db: Knex, store: DocumentStore): void {
  const { kind } = store;
  const path = `/${kind}s`;
  const idOf = (params: Record<string, string>) =>
    parse(idSchema, params['id'], `The ${kind}’s id is not one.`);

  router.get(path, async (ctx) => {
    ctx.body = { documents: await store.list() };
  });

  router.post(path, (ctx) => {
    const { document: sent } = parse(createSchema, ctx.request.body, `A ${kind} is expected.`);
    const { id, name } = documentIn(kind, sent);
    const isStock =
      (kind === 'surface' && STOCK_SURFACES.has(id)) || (kind === 'host' && HOST_MODELS.has(id));
    return change(ctx, db, kind, 'made', async (documents) => {
      if (isStock || !(await documents.create(id, name, JSON.stringify(sent))))
        throw new Problem(409, 'Id taken', `There is a ${kind} “${id}” already. Use another id.`);
      return { ...json(201, { id, revision: 1 }), location: `/api${path}/${id}` };
    });
  });

  router.get(`${path}/:id`, async (ctx) => {
    const id = idOf(ctx.params);
    const asked = ctx.query['revision'];
    const revision =
      asked === undefined
        ? undefined
        : parse(revisionSchema, asked, 'A revision is a whole number from 1.');
    const stored = await store.get(id, revision);
    if (!stored) throw notHere(kind, id);
    // The body is JSON already and goes out byte for byte.
    ctx.type = 'application/json';
    ctx.body = `{"revision":${stored.revision},"updatedAt":${JSON.stringify(stored.updatedAt)},"document":${stored.body}}`;
  });

  router.put(`${path}/:id`, (ctx) => {
    const id = idOf(ctx.params);
    const { revision, document: sent } = parse(
      saveSchema,
      ctx.request.body,
      `A revision and a ${kind} are expected.`,
    );
    const document = documentIn(kind, sent);
    if (document.id !== id)
      throw new Problem(
        422,
        `${capital(kind)} refused`,
        `Its id is “${document.id}”, not “${id}”.`,
      );
    return change(ctx, db, kind, 'saved', async (documents) => {
      const result = await documents.save(id, revision, document.name, JSON.stringify(sent));
      if (result.done) return json(200, { revision: result.revision, updatedAt: result.updatedAt });
      if (result.why === 'missing') throw notHere(kind, id);
      throw new Problem(
        409,
        'Saved elsewhere meanwhile',
        `Another browser has saved this ${kind}. Choose which one to keep.`,
        { revision: result.revision },
      );
    });
  });

  /** What was saved of it, the newest first; what has a name is kept for good. */
  router.get(`${path}/:id/versions`, async (ctx) => {
    const id = idOf(ctx.params);
    if (!(await store.get(id))) throw notHere(kind, id);
    ctx.body = { versions: await store.versions(id) };
  });
  router.put(`${path}/:id/versions/:revision`, (ctx) => {
    const id = idOf(ctx.params);
    const revision = parse(
      revisionSchema,
      ctx.params['revision'],
      'A revision is a number from 1.',
    );
    const { label } = parse(
      labelSchema,
      ctx.request.body,
      'A name of at most 80 letters, or null.',
    );
    return change(ctx, db, kind, null, async (documents) => {
      if (!(await documents.call(id, revision, label)))
        throw new Problem(404, 'No such version', 'It was thinned out meanwhile. Choose another.');
      return NOTHING;
    });
  });

  router.delete(`${path}/:id`, (ctx) => {
    const id = idOf(ctx.params);
    return change(ctx, db, kind, 'deleted', async (documents, tx) => {
      await mayRemove(tx, kind, id);
      if (!(await documents.remove(id))) throw notHere(kind, id);
      return NOTHING;
    });
  });

  router.post(`${path}/:id/restore`, (ctx) => {
    const id = idOf(ctx.params);
    return change(ctx, db, kind, 'broughtBack', async (documents) => {
      if (!(await documents.restore(id))) throw notHere(kind, id);
      return NOTHING;
    });
  });
}
