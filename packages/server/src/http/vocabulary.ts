import { Router } from 'express';
import { newField, newTopic, renameField as renameFieldRequest } from '@convite/contract';
import {
  addTopic,
  createField,
  readVocabulary,
  removeField,
  removeTopic,
  renameField,
} from '../services/audience/vocabulary';
import type { Context } from '../services/context';
import { idOf } from './ids';
import { sendLines } from './lines';
import { actorOf } from './session';

/** Fields and topics, in one place. */
export function vocabularyRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await readVocabulary(context));
  });
  routes.post('/fields', async (request, response) => {
    response.status(201).json({ id: await createField(context, newField.parse(request.body), actorOf(request)) });
  });
  routes.put('/fields/:id', async (request, response) => {
    await renameField(context, idOf(request), renameFieldRequest.parse(request.body).name, actorOf(request));
    response.status(204).end();
  });
  routes.post('/fields/:id/remove', async (request, response) => {
    await sendLines(response, await removeField(context, idOf(request), actorOf(request)));
  });
  routes.post('/topics', async (request, response) => {
    await addTopic(context, newTopic.parse(request.body).topic, actorOf(request));
    response.status(201).json({});
  });
  routes.post('/topics/remove', async (request, response) => {
    await removeTopic(context, newTopic.parse(request.body).topic, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
