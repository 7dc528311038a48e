import { Router } from 'express';
import { manualPreviewRequest, sendManual as sendRequest } from '@convite/contract';
import type { Context } from '../services/context';
import { previewManual, sendManual } from '../services/sending/write-manual';
import { requestKeyOf } from './ids';
import { actorOf } from './session';

/** Messages that somebody writes to some people now, about no event. */
export function manualRoutes(context: Context): Router {
  const routes = Router();
  routes.post('/preview', async (request, response) => {
    response.json(await previewManual(context, manualPreviewRequest.parse(request.body)));
  });
  routes.post('/', async (request, response) => {
    const asked = sendRequest.parse(request.body);
    response.status(201).json({ count: await sendManual(context, asked, actorOf(request), requestKeyOf(request)) });
  });
  return routes;
}
