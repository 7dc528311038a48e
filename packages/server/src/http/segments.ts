import { Router } from 'express';
import { overlapAsked, segmentAsked, segmentChange, segmentPeopleAsked, segmentWhyAsked } from '@convite/contract';
import {
  allSegments,
  countOverlap,
  countSegment,
  peopleOfSegment,
  removeSegment,
  saveSegment,
  useOfSegment,
  whyInSegment,
} from '../services/audience/segments';
import type { Context } from '../services/context';
import { idOf } from './ids';
import { sendLines } from './lines';
import { actorOf, allow } from './session';

/** Segments, and what they ask of people. */
export function segmentRoutes(context: Context): Router {
  const routes = Router();
  const composing = allow(['owner', 'marketer']);
  routes.get('/', async (_request, response) => {
    response.json(await allSegments(context));
  });
  routes.post('/', async (request, response) => {
    const id = await saveSegment(context, null, segmentChange.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.post('/count', composing, async (request, response) => {
    await sendLines(response, countSegment(context, segmentAsked.parse(request.body).conditions));
  });
  routes.post('/people', composing, async (request, response) => {
    const { conditions, after, limit } = segmentPeopleAsked.parse(request.body);
    response.json(await peopleOfSegment(context, conditions, after, limit));
  });
  routes.post('/why', composing, async (request, response) => {
    const { conditions, personId } = segmentWhyAsked.parse(request.body);
    response.json(await whyInSegment(context, conditions, personId));
  });
  routes.post('/overlap', composing, async (request, response) => {
    const { left, right } = overlapAsked.parse(request.body);
    await sendLines(response, countOverlap(context, left, right));
  });
  routes.get('/:id/use', async (request, response) => {
    response.json(await useOfSegment(context, idOf(request)));
  });
  routes.put('/:id', async (request, response) => {
    await saveSegment(context, idOf(request), segmentChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:id', async (request, response) => {
    await removeSegment(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
