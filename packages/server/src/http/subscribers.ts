import { Router } from 'express';
import { changeListImport, importRequest, newList, personEdit, subscriberQuery } from '@convite/contract';
import { nowOf, type Context } from '../services/context';
import { Failure } from '../services/failure';
import { changeImport, importSubscribers, listImports } from '../services/import-subscribers';
import { editPerson, getPerson } from '../services/persons';
import { isDuplicate } from '../store/database';
import { idOf } from './ids';
import { actorOf } from './session';

export function subscriberRoutes(context: Context): Router {
  const routes = Router();
  const { store } = context;
  routes.get('/subscribers', async (request, response) => {
    response.json(await store.subscribers.page(subscriberQuery.parse(request.query)));
  });
  routes.get('/subscribers/fields', async (_request, response) => {
    response.json((await store.fields.all()).map(({ name }) => name));
  });
  routes.get('/subscribers/:id', async (request, response) => {
    response.json(await getPerson(context, idOf(request)));
  });
  routes.put('/subscribers/:id', async (request, response) => {
    await editPerson(context, idOf(request), personEdit.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.get('/lists', async (_request, response) => {
    response.json(await store.lists.all());
  });
  routes.post('/lists', async (request, response) => {
    const { name } = newList.parse(request.body);
    try {
      const id = await store.lists.create(name);
      await store.house.audit(nowOf(context), actorOf(request), 'list: created', name);
      response.status(201).json({ id });
    } catch (error) {
      if (isDuplicate(error)) throw new Failure(409, 'list-exists', `There is a list “${name}” already.`);
      throw error;
    }
  });
  routes.post('/lists/:id/import', async (request, response) => {
    response.json(await importSubscribers(context, idOf(request), importRequest.parse(request.body), actorOf(request)));
  });
  routes.get('/list-imports', async (_request, response) => {
    response.json(await listImports(context));
  });
  routes.post('/list-imports/:id', async (request, response) => {
    await changeImport(context, idOf(request), changeListImport.parse(request.body).change, actorOf(request));
    response.status(204).end();
  });
  return routes;
}
