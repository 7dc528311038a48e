import { Router } from 'express';
import * as z from 'zod';
import { askLinksRequest, keptChange, keptPreviewRequest, offeredQuery, testRequest } from '@convite/contract';
import type { Context } from '../services/context';
import { sendTest } from '../services/sending/send-test';
import { askLinks } from '../services/wording/ask-links';
import {
  archiveWording,
  dropWording,
  findWording,
  keepWording,
  listBlocks,
  listWordings,
  readVersion,
} from '../services/wording/kept-wordings';
import { beginFrom, offerWordings } from '../services/wording/offer-wordings';
import { previewWording } from '../services/wording/preview-wording';
import { actorOf, memberOf } from './session';

/** Messages kept to be used again, and what is asked of those that are being written. */
export function wordingRoutes(context: Context): Router {
  const routes = Router();
  routes.post('/ask-links', async (request, response) => {
    response.json(await askLinks(context, askLinksRequest.parse(request.body).addresses));
  });
  routes.post('/test', async (request, response) => {
    const actor = { ...actorOf(request), email: memberOf(request).email };
    response.json(await sendTest(context, testRequest.parse(request.body), actor));
  });
  routes.post('/preview', async (request, response) => {
    response.json(await previewWording(context, keptPreviewRequest.parse(request.body)));
  });
  routes.get('/offered', async (request, response) => {
    response.json(await offerWordings(context, offeredQuery.parse(request.query)));
  });
  routes.get('/offered/:key', async (request, response) => {
    const { channel } = offeredQuery.parse(request.query);
    response.json({ wording: await beginFrom(context, request.params.key, channel) });
  });
  routes.get('/blocks', async (_request, response) => {
    response.json(await listBlocks(context));
  });
  routes.get('/', async (_request, response) => {
    response.json(await listWordings(context));
  });
  routes.post('/', async (request, response) => {
    const key = await keepWording(context, null, keptChange.parse(request.body), actorOf(request));
    response.status(201).json({ key });
  });
  routes.get('/:key', async (request, response) => {
    response.json(await findWording(context, request.params.key));
  });
  routes.get('/:key/versions/:number', async (request, response) => {
    const number = z.coerce.number().int().min(0).parse(request.params.number);
    response.json({ wording: await readVersion(context, request.params.key, number) });
  });
  routes.put('/:key', async (request, response) => {
    await keepWording(context, request.params.key, keptChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.put('/:key/archived', async (request, response) => {
    const { isArchived } = z.object({ isArchived: z.boolean() }).parse(request.body);
    await archiveWording(context, request.params.key, isArchived, actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:key', async (request, response) => {
    await dropWording(context, request.params.key, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
