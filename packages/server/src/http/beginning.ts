import { Router } from 'express';
import { loadInvented, removeInvented } from '../services/beginning/invented';
import { askForProof } from '../services/beginning/prove-sender';
import type { Context } from '../services/context';
import { actorOf, allow, memberOf } from './session';

/** How a house begins: its sender proven, and invented data to try things out. */
export function beginningRoutes(context: Context): Router {
  const routes = Router();
  const owner = allow(['owner']);
  routes.post('/beginning/proof', owner, async (request, response) => {
    const actor = { ...actorOf(request), email: memberOf(request).email };
    response.json({ sentTo: await askForProof(context, actor) });
  });
  routes.post('/beginning/invented', owner, async (request, response) => {
    await loadInvented(context, actorOf(request));
    response.status(204).end();
  });
  routes.delete('/beginning/invented', owner, async (request, response) => {
    await removeInvented(context, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
