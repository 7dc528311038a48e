import { Router } from 'express';
import * as z from 'zod';
import { readBoard, readStrip } from '../services/board';
import type { Context } from '../services/context';
import { sendFiringNow, setFiringAgain, stopFiring } from '../services/firings';
import { idOf } from './ids';
import type { LiveHub } from './live-hub';
import { actorOf } from './session';

export function boardRoutes(context: Context, hub: LiveHub): Router {
  const routes = Router();
  routes.get('/board', async (_request, response) => {
    response.json(await readBoard(context));
  });
  routes.get('/strip', async (_request, response) => {
    response.json(await readStrip(context));
  });
  routes.get('/live', (_request, response) => hub.add(response));
  routes.post('/firings/:id/stop', async (request, response) => {
    await stopFiring(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/firings/:id/set-again', async (request, response) => {
    await setFiringAgain(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/firings/:id/send-now', async (request, response) => {
    const { confirmedCount } = z.object({ confirmedCount: z.number().int().nullable() }).parse(request.body);
    await sendFiringNow(context, idOf(request), confirmedCount, actorOf(request));
    response.status(202).end();
  });
  return routes;
}
