import Router from '@koa/router';
import type { Knex } from 'knex';
import { z } from 'zod';
import { faultsOf, type Read } from '@rondo/core/document';
import { HOST_MODELS, readMessageHost } from '@rondo/core/host';
import { readProfile } from '@rondo/core/profile';
import { STOCK_SURFACES, readSurface } from '@rondo/core/surface';
import { DocumentStore, KINDS, profilesWith, type Kind } from '../store/documents.js';
import { Problem } from './problem.js';

const idSchema = z.string().regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]{0,63}$/);
const saveSchema = z.object({ revision: z.int().min(1), document: z.unknown() });
const createSchema = z.object({ document: z.unknown() });
const revisionSchema = z.coerce.number().int().min(1);

interface Named {
  readonly id: string;
  readonly name: string;
}
const READERS: Readonly<Record<Kind, (value: unknown) => Read<Named>>> = {
  profile: readProfile,
  surface: readSurface,
  host: readMessageHost,
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
  if (kind === 'profile') return;
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

function addRoutes(router: Router, db: Knex, store: DocumentStore): void {
  const { kind } = store;
  const path = `/${kind}s`;
  const idOf = (params: Record<string, string>) =>
    parse(idSchema, params['id'], `The ${kind}’s id is not one.`);

  router.get(path, async (ctx) => {
    ctx.body = { documents: await store.list() };
  });

  router.post(path, async (ctx) => {
    const { document: sent } = parse(createSchema, ctx.request.body, `A ${kind} is expected.`);
    const { id, name } = documentIn(kind, sent);
    const isStock =
      (kind === 'surface' && STOCK_SURFACES.has(id)) || (kind === 'host' && HOST_MODELS.has(id));
    if (isStock || !(await store.create(id, name, JSON.stringify(sent))))
      throw new Problem(409, 'Id taken', `There is a ${kind} “${id}” already. Use another id.`);
    ctx.status = 201;
    ctx.set('Location', `/api${path}/${id}`);
    ctx.body = { id, revision: 1 };
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

  router.put(`${path}/:id`, async (ctx) => {
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
    const result = await store.save(id, revision, document.name, JSON.stringify(sent));
    if (result.done) ctx.body = { revision: result.revision, updatedAt: result.updatedAt };
    else if (result.why === 'missing') throw notHere(kind, id);
    else
      throw new Problem(
        409,
        'Saved elsewhere meanwhile',
        `Another window has saved this ${kind}. Choose which one to keep.`,
        { revision: result.revision },
      );
  });

  router.delete(`${path}/:id`, async (ctx) => {
    const id = idOf(ctx.params);
    await mayRemove(db, kind, id);
    if (!(await store.remove(id))) throw notHere(kind, id);
    ctx.status = 204;
  });

  router.post(`${path}/:id/restore`, async (ctx) => {
    const id = idOf(ctx.params);
    if (!(await store.restore(id))) throw notHere(kind, id);
    ctx.status = 204;
  });
}
