import { Router } from 'express';
import { changeMember, newApiKey, newMember, settings } from '@convite/contract';
import { zoneNames } from '@convite/core';
import { makeApiKey, removeApiKey } from '../services/api-keys';
import { addMember, changeRole } from '../services/accounts';
import type { Context } from '../services/context';
import { saveSettings } from '../services/settings';
import { idOf } from './ids';
import { actorOf, allow } from './session';

export function settingsRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/settings', async (_request, response) => {
    response.json(await context.store.house.settings());
  });
  routes.put('/settings', allow('owner'), async (request, response) => {
    await saveSettings(context, settings.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.get('/team', async (_request, response) => {
    response.json(await context.store.house.users());
  });
  routes.post('/team', allow('owner'), async (request, response) => {
    response.status(201).json({ id: await addMember(context, newMember.parse(request.body), actorOf(request)) });
  });
  routes.put('/team/:id', allow('owner'), async (request, response) => {
    await changeRole(context, idOf(request), changeMember.parse(request.body).role, actorOf(request));
    response.status(204).end();
  });
  routes.get('/about', (_request, response) => {
    response.json({ zoneData: process.versions.tz ?? 'unknown', zones: zoneNames().length });
  });
  routes.get('/keys', allow('owner'), async (_request, response) => {
    response.json(await context.store.house.apiKeys());
  });
  routes.post('/keys', allow('owner'), async (request, response) => {
    const { name } = newApiKey.parse(request.body);
    response.status(201).json({ key: await makeApiKey(context, name, actorOf(request)) });
  });
  routes.delete('/keys/:id', allow('owner'), async (request, response) => {
    await removeApiKey(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/audit', allow('owner', 'marketer'), async (_request, response) => {
    response.json(await context.store.house.auditRows(200));
  });
  return routes;
}
