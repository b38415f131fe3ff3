import Router from '@koa/router';
import * as z from 'zod';
import type { Glass } from '../glass/glass.js';
import { Problem } from './problem.js';

const codeSchema = z.object({ surface: z.string().min(1).max(64) });

/** Who may show a surface on glass, and how one gets there. */
export function glassRoutes(glass: Glass): Router {
  const router = new Router({ prefix: '/api' });

  router.get('/glass', (ctx) => {
    ctx.body = glass.standing();
  });

  router.post('/glass/codes', (ctx) => {
    const wanted = codeSchema.safeParse(ctx.request.body);
    if (!wanted.success)
      throw new Problem(400, 'Request not understood', 'Send {"surface": "its id"}.');
    const { isOpen, fault } = glass.standing();
    if (!isOpen)
      throw new Problem(
        409,
        'There is no way in',
        fault || 'Switch the network on under Ports first.',
      );
    ctx.status = 201;
    ctx.body = glass.devices.makeCode(wanted.data.surface);
  });

  router.delete('/glass/devices/:id', async (ctx) => {
    if (!(await glass.sendAway(ctx.params['id'] ?? '')))
      throw new Problem(404, 'Not found', 'There is no such device; it may be gone already.');
    ctx.status = 204;
  });
  return router;
}
