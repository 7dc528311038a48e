import { Router } from 'express';
import { behindCountRequest, countedMessage } from '@convite/contract';
import { countMessage, peopleBehind } from '../services/audience/count-message';
import type { Context } from '../services/context';
import { sendLines } from './lines';

/** Who gets a message that is being put together, and why not the others: any message, by the rules that send it. */
export function countRoutes(context: Context): Router {
  const routes = Router();
  routes.post('/', async (request, response) => {
    await sendLines(response, await countMessage(context, countedMessage.parse(request.body)));
  });
  routes.post('/people', async (request, response) => {
    response.json(await peopleBehind(context, behindCountRequest.parse(request.body)));
  });
  return routes;
}
