import { Router } from 'express';
import { pressureChange, quietChange } from '@convite/contract';
import { lookBack, readPressure, savePressure, saveQuiet } from '../services/audience/pressure';
import type { Context } from '../services/context';
import { sendLines } from './lines';
import { actorOf, allow } from './session';

/** How often one person is written to. */
export function pressureRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await readPressure(context));
  });
  routes.put('/', allow(['owner']), async (request, response) => {
    await savePressure(context, pressureChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.put('/quiet', allow(['owner']), async (request, response) => {
    await saveQuiet(context, quietChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.post('/look', allow(['owner', 'marketer']), async (_request, response) => {
    await sendLines(response, lookBack(context));
  });
  return routes;
}
