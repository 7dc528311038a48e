import { Router } from 'express';
import {
  auditQuery,
  changeMember,
  lookPreviewRequest,
  mostCalendarOctets,
  newApiKey,
  newMember,
  settingsChange,
} from '@convite/contract';
import { zoneNames } from '@convite/core';
import {
  changeRole,
  inviteAgain,
  inviteMember,
  listTeam,
  removeFactorOf,
  removeMember,
} from '../services/accounts/team';
import { listApiKeys, makeApiKey, removeApiKey } from '../services/accounts/api-keys';
import { auditHeading, exportAudit, readAudit } from '../services/accounts/audit-log';
import type { Context } from '../services/context';
import { housePictureUrl, removeHousePicture, setHousePicture } from '../services/house-picture';
import { testAnnouncement } from '../services/countdown/announce';
import { readHolidays } from '../services/calendars/read-holidays';
import { takeFile } from './file-body';
import { readSettings, saveSettings } from '../services/settings';
import { previewLook } from '../services/wording/preview-wording';
import { sendTable } from './send-table';
import { idOf } from './ids';
import { actorOf, allow } from './session';

/** It stands on every page that somebody opens on a phone. */
const mostPictureOctets = 300_000;

export function settingsRoutes(context: Context): Router {
  const routes = Router();
  const owner = allow(['owner']);
  routes.get('/settings', async (_request, response) => {
    response.json(await readSettings(context));
  });
  routes.put('/settings', owner, async (request, response) => {
    await saveSettings(context, settingsChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.post('/settings/look/preview', async (request, response) => {
    response.json(await previewLook(context, lookPreviewRequest.parse(request.body)));
  });
  routes.post('/settings/standby/test', owner, async (_request, response) => {
    await testAnnouncement(context);
    response.status(204).end();
  });
  routes.post('/settings/holidays', owner, async (request, response) => {
    response.json({ days: await readHolidays(context, await takeFile(request, mostCalendarOctets)) });
  });
  routes.put('/settings/picture', owner, async (request, response) => {
    await setHousePicture(context, await takeFile(request, mostPictureOctets), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/settings/picture', owner, async (request, response) => {
    await removeHousePicture(context, actorOf(request));
    response.status(204).end();
  });
  routes.get('/settings/picture', async (_request, response) => {
    response.json({ url: await housePictureUrl(context) });
  });
  routes.get('/team', async (_request, response) => {
    response.json(await listTeam(context));
  });
  routes.post('/team', owner, async (request, response) => {
    response.status(201).json({ id: await inviteMember(context, newMember.parse(request.body), actorOf(request)) });
  });
  routes.put('/team/:id', owner, async (request, response) => {
    await changeRole(context, idOf(request), changeMember.parse(request.body).role, actorOf(request));
    response.status(204).end();
  });
  routes.delete('/team/:id', owner, async (request, response) => {
    await removeMember(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/team/:id/invitation', owner, async (request, response) => {
    await inviteAgain(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/team/:id/factor', owner, async (request, response) => {
    await removeFactorOf(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/about', (_request, response) => {
    response.json({ zoneData: process.versions.tz ?? 'unknown', zones: zoneNames().length });
  });
  routes.get('/keys', owner, async (_request, response) => {
    response.json(await listApiKeys(context));
  });
  routes.post('/keys', owner, async (request, response) => {
    response.status(201).json({ key: await makeApiKey(context, newApiKey.parse(request.body), actorOf(request)) });
  });
  routes.delete('/keys/:id', owner, async (request, response) => {
    await removeApiKey(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/audit', allow(['owner', 'marketer']), async (request, response) => {
    response.json(await readAudit(context, auditQuery.parse(request.query)));
  });
  routes.get('/audit.csv', owner, async (request, response) => {
    const rows = await exportAudit(context, auditQuery.parse(request.query), actorOf(request));
    await sendTable(response, { format: 'csv', name: 'audit', heading: auditHeading, rows });
  });
  return routes;
}
