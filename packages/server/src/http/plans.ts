import { Router } from 'express';
import { followPlan as followRequest, keepPlan as keepRequest } from '@convite/contract';
import type { Context } from '../services/context';
import { followPlan, planFollowersOf } from '../services/plans/follow-plan';
import { keepPlan, listPlans, removePlan } from '../services/plans/plans';
import { idOf } from './ids';
import { actorOf } from './session';

/** Countdowns that are kept for use again. */
export function planRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await listPlans(context));
  });
  routes.post('/', async (request, response) => {
    response.status(201).json({ id: await keepPlan(context, keepRequest.parse(request.body), actorOf(request)) });
  });
  routes.delete('/:id', async (request, response) => {
    await removePlan(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/followers', async (request, response) => {
    response.json(await planFollowersOf(context, idOf(request)));
  });
  routes.post('/:id/follow', async (request, response) => {
    const { events } = followRequest.parse(request.body);
    response.json(await followPlan(context, idOf(request), events, actorOf(request)));
  });
  return routes;
}
