import { Router } from 'express';
import { misuseQuery } from '@convite/contract';
import type { Context } from '../services/context';
import { endPersonalLinks } from '../services/sending/link-generation';
import { listMisuses, reviewMisuse } from '../services/sending/misuses';
import { idOf } from './ids';
import { actorOf, allow } from './session';

/** An owner ends all personal links, and reviews what looks as if somebody had used those of others. */
export function personalLinkRoutes(context: Context): Router {
  const routes = Router();
  routes.use(allow(['owner']));
  routes.get('/misuses', async (request, response) => {
    response.json(await listMisuses(context, misuseQuery.parse(request.query).before));
  });
  routes.post('/misuses/:id/reviewed', async (request, response) => {
    await reviewMisuse(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/end', async (request, response) => {
    await endPersonalLinks(context, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
