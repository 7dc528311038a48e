import { Router, type Request } from 'express';
import { releaseWhats } from '@convite/contract';
import * as z from 'zod';
import type { Context } from '../services/context';
import { holdBack, listReleases, release, showRelease } from '../services/release/releases';
import { actorOf } from './session';

const named = z.object({ what: z.enum(releaseWhats), ref: z.coerce.number().int().positive() });
const namedIn = (request: Request) => named.parse(request.params);

/** What waits for a second member to read it. */
export function releaseRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (request, response) => {
    response.json(await listReleases(context, actorOf(request)));
  });
  routes.get('/:what/:ref', async (request, response) => {
    const { what, ref } = namedIn(request);
    response.json(await showRelease(context, what, ref));
  });
  routes.post('/:what/:ref', async (request, response) => {
    const { what, ref } = namedIn(request);
    await release(context, what, ref, actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:what/:ref', async (request, response) => {
    const { what, ref } = namedIn(request);
    await holdBack(context, what, ref, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
