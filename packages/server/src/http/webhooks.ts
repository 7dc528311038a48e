import { Router } from 'express';
import { webhookCallQuery, webhookFields } from '@convite/contract';
import type { Context } from '../services/context';
import {
  addWebhook,
  changeWebhook,
  listWebhooks,
  postAgain,
  removeWebhook,
  testWebhook,
  webhookLog,
} from '../services/programs/webhooks';
import { idOf } from './ids';
import { actorOf, allow } from './session';

/** Other systems that are told of things; an owner's alone. */
export function webhookRoutes(context: Context): Router {
  const routes = Router();
  routes.use(allow(['owner']));
  routes.get('/', async (_request, response) => {
    response.json(await listWebhooks(context));
  });
  routes.post('/', async (request, response) => {
    response.status(201).json(await addWebhook(context, webhookFields.parse(request.body), actorOf(request)));
  });
  routes.put('/:id', async (request, response) => {
    await changeWebhook(context, idOf(request), webhookFields.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:id', async (request, response) => {
    await removeWebhook(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/test', async (request, response) => {
    await testWebhook(context, idOf(request));
    response.status(204).end();
  });
  routes.get('/:id/calls', async (request, response) => {
    response.json(await webhookLog(context, idOf(request), webhookCallQuery.parse(request.query).before));
  });
  routes.post('/:id/calls/:call/again', async (request, response) => {
    await postAgain(context, idOf(request), idOf(request, 'call'));
    response.status(204).end();
  });
  return routes;
}
