import { Router } from 'express';
import * as z from 'zod';
import { senderChange, textCode } from '@convite/contract';
import type { Context } from '../services/context';
import { checkSenderNames, type AskNames, type MailNames } from '../services/senders/sender-names';
import {
  askSender,
  askSenderText,
  houseHealth,
  listSenders,
  pauseSender,
  proveSenderText,
  removeSender,
  saveSender,
} from '../services/senders/senders';
import { idOf } from './ids';
import { actorOf, allow } from './session';

/** As whom the house writes, beside itself. */
export function senderRoutes(context: Context, names: { readonly ask: AskNames; readonly own: MailNames }): Router {
  const routes = Router();
  const owner = allow(['owner']);
  routes.get('/', async (_request, response) => {
    response.json(await listSenders(context));
  });
  routes.get('/house', async (_request, response) => {
    response.json(await houseHealth(context));
  });
  routes.post('/', owner, async (request, response) => {
    const id = await saveSender(context, null, senderChange.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.put('/:id', owner, async (request, response) => {
    await saveSender(context, idOf(request), senderChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.put('/:id/paused', owner, async (request, response) => {
    const { isPaused } = z.object({ isPaused: z.boolean() }).parse(request.body);
    await pauseSender(context, idOf(request), isPaused, actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/proof', owner, async (request, response) => {
    await askSender(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/text-proof', owner, async (request, response) => {
    await askSenderText(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/text-code', owner, async (request, response) => {
    const { code } = textCode.parse(request.body);
    await proveSenderText(context, idOf(request), code, actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/names', owner, async (request, response) => {
    response.json(await checkSenderNames(context, idOf(request), names.ask, names.own));
  });
  routes.delete('/:id', owner, async (request, response) => {
    await removeSender(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
