import Router from '@koa/router';
import { z } from 'zod';
import { faultsOf, readProfile, type Profile } from '@rondo/core/profile';
import type { ProfileStore } from '../store/profiles.js';
import { Problem } from './problem.js';

const idSchema = z.string().regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]{0,63}$/);
const saveSchema = z.object({ revision: z.int().min(1), profile: z.unknown() });
const createSchema = z.object({ profile: z.unknown() });
const revisionSchema = z.coerce.number().int().min(1);

function profileIn(value: unknown): Profile {
  const result = readProfile(value);
  if (!result.ok)
    throw new Problem(422, 'Profile refused', 'The profile has faults; nothing was stored.', {
      faults: result.faults,
    });
  return result.profile;
}

function parse<T>(schema: z.ZodType<T>, value: unknown, detail: string): T {
  const result = schema.safeParse(value);
  if (!result.success)
    throw new Problem(400, 'Request not understood', detail, { faults: faultsOf(result.error) });
  return result.data;
}

const notHere = (id: string) =>
  new Problem(404, 'No such profile', `There is no profile “${id}”. It may have been deleted.`);

/** The REST routes of profiles. */
export function profileRoutes(store: ProfileStore): Router {
  const router = new Router({ prefix: '/api/profiles' });
  const idOf = (params: Record<string, string>) =>
    parse(idSchema, params['id'], 'The profile’s id is not one.');

  router.get('/', async (ctx) => {
    ctx.body = { profiles: await store.list() };
  });

  router.post('/', async (ctx) => {
    const { profile: sent } = parse(createSchema, ctx.request.body, 'A profile is expected.');
    const { id, name } = profileIn(sent);
    if (!(await store.create(id, name, JSON.stringify(sent))))
      throw new Problem(409, 'Id taken', `There is a profile “${id}” already. Use another id.`);
    ctx.status = 201;
    ctx.set('Location', `/api/profiles/${id}`);
    ctx.body = { id, revision: 1 };
  });

  router.get('/:id', async (ctx) => {
    const id = idOf(ctx.params);
    const asked = ctx.query['revision'];
    const revision =
      asked === undefined
        ? undefined
        : parse(revisionSchema, asked, 'A revision is a whole number from 1.');
    const stored = await store.get(id, revision);
    if (!stored) throw notHere(id);
    // The body is JSON already and goes out byte for byte.
    ctx.type = 'application/json';
    ctx.body = `{"revision":${stored.revision},"updatedAt":${JSON.stringify(stored.updatedAt)},"profile":${stored.body}}`;
  });

  router.put('/:id', async (ctx) => {
    const id = idOf(ctx.params);
    const { revision, profile: sent } = parse(
      saveSchema,
      ctx.request.body,
      'A revision and a profile are expected.',
    );
    const profile = profileIn(sent);
    if (profile.id !== id)
      throw new Problem(422, 'Profile refused', `Its id is “${profile.id}”, not “${id}”.`);
    const result = await store.save(id, revision, profile.name, JSON.stringify(sent));
    if (result.done) ctx.body = { revision: result.revision, updatedAt: result.updatedAt };
    else if (result.why === 'missing') throw notHere(id);
    else
      throw new Problem(
        409,
        'Saved elsewhere meanwhile',
        'Another window has saved this profile. Choose which one to keep.',
        { revision: result.revision },
      );
  });

  router.delete('/:id', async (ctx) => {
    const id = idOf(ctx.params);
    if (!(await store.remove(id))) throw notHere(id);
    ctx.status = 204;
  });

  router.post('/:id/restore', async (ctx) => {
    const id = idOf(ctx.params);
    if (!(await store.restore(id))) throw notHere(id);
    ctx.status = 204;
  });
  return router;
}
