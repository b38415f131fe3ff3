import Router from '@koa/router';
import type { Knex } from 'knex';
import * as z from 'zod';
import type { KeyAdapter } from '../keys/adapter.js';
import { Problem } from './problem.js';

const switchSchema = z.object({ on: z.boolean() });

/** The switch for key strokes, and what an adapter has to show. */
export function keyRoutes(db: Knex, adapter: KeyAdapter): Router {
  const router = new Router({ prefix: '/api' });

  router.get('/keys', (ctx) => {
    ctx.body = adapter.standing();
  });

  router.put('/keys', async (ctx) => {
    const wanted = switchSchema.safeParse(ctx.request.body);
    if (!wanted.success)
      throw new Problem(400, 'Request not understood', 'Send {"on": true} or {"on": false}.');
    await adapter.set(db, wanted.data.on);
    ctx.body = adapter.standing();
  });
  return router;
}
