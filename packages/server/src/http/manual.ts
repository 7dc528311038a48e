import { Router } from 'express';
import { manualPlan, manualPreviewRequest, sendManual as sendRequest } from '@convite/contract';
import type { Context } from '../services/context';
import { countManual, previewManual, sendManual } from '../services/sending/write-manual';
import { requestKeyOf } from './ids';
import { sendLines } from './lines';
import { actorOf } from './session';

/** Messages that somebody writes to some people now, about no event. */
export function manualRoutes(context: Context): Router {
  const routes = Router();
  routes.post('/count', async (request, response) => {
    await sendLines(response, await countManual(context, manualPlan.parse(request.body)));
  });
  routes.post('/preview', async (request, response) => {
    response.json(await previewManual(context, manualPreviewRequest.parse(request.body)));
  });
  routes.post('/', async (request, response) => {
    const asked = sendRequest.parse(request.body);
    response.status(201).json({ count: await sendManual(context, asked, actorOf(request), requestKeyOf(request)) });
  });
  return routes;
}
