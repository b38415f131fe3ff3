import Router from '@koa/router';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Network } from '../osc/network.js';
import { Problem } from './problem.js';

const switchSchema = z.object({ on: z.boolean() });

/** The switch by which Rondo takes part in the local network, and how this machine is called there. */
export function networkRoutes(db: Knex, network: Network): Router {
  const router = new Router({ prefix: '/api' });
  const standing = () => ({ on: network.isOpen, addresses: network.addresses });

  router.get('/network', (ctx) => {
    ctx.body = standing();
  });

  router.put('/network', async (ctx) => {
    const wanted = switchSchema.safeParse(ctx.request.body);
    if (!wanted.success)
      throw new Problem(400, 'Request not understood', 'Send {"on": true} or {"on": false}.');
    await network.set(db, wanted.data.on);
    ctx.body = standing();
  });
  return router;
}
