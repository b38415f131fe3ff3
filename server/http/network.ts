import Router from '@koa/router';
import type { Knex } from 'knex';
import * as z from 'zod';
import type { Network } from '../osc/network.js';
import { Problem } from './problem.js';

const switchSchema = z.object({ on: z.boolean(), address: z.ipv4().nullable().default(null) });

/** The switch by which Rondo takes part in the local network, and how this machine is called there. */
export function networkRoutes(db: Knex, network: Network): Router {
  const router = new Router({ prefix: '/api' });
  const standing = () => ({
    on: network.isOpen,
    address: network.address,
    addresses: network.addresses,
  });

  router.get('/network', (ctx) => {
    ctx.body = standing();
  });

  router.put('/network', async (ctx) => {
    const wanted = switchSchema.safeParse(ctx.request.body);
    if (!wanted.success)
      throw new Problem(400, 'Request not understood', 'Send {"on": true} or {"on": false}.');
    const { on, address } = wanted.data;
    if (address !== null && !network.addresses.includes(address))
      throw new Problem(422, 'Not an address of this computer', 'Choose one that it has, or all.');
    await network.set(db, on, address);
    ctx.body = standing();
  });
  return router;
}
