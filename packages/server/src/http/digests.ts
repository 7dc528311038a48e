import { Router } from 'express';
import { digestChange } from '@convite/contract';
import type { Context } from '../services/context';
import { listDigests, previewDigest, saveDigest } from '../services/digests/digests';
import { idOf } from './ids';
import { actorOf } from './session';

export function digestRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await listDigests(context));
  });
  routes.post('/', async (request, response) => {
    response
      .status(201)
      .json({ id: await saveDigest(context, null, digestChange.parse(request.body), actorOf(request)) });
  });
  routes.put('/:id', async (request, response) => {
    await saveDigest(context, idOf(request), digestChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/preview', async (request, response) => {
    response.json(await previewDigest(context, idOf(request)));
  });
  return routes;
}
