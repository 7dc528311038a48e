import { Router } from 'express';
import * as z from 'zod';
import {
  cueFields,
  cuePreviewRequest,
  eventFacts,
  invitePlanRequest,
  saveEvent as saveEventRequest,
  sendInvitations as sendInvitationsRequest,
  sendNotice as sendNoticeRequest,
  wordingText,
} from '@convite/contract';
import type { Context } from '../services/context';
import { listCues, previewCue, removeCue, saveCue } from '../services/cues';
import {
  callOffEvent,
  createEvent,
  describeEvent,
  getEvent,
  listEvents,
  publishEvent,
  saveEvent,
} from '../services/events';
import { houseWordings } from '../services/house-wordings';
import { listGuests, planInvitations, previewInvitation, sendInvitations } from '../services/invite';
import { describeChanges, sendNotice } from '../services/notices';
import { idOf, optionalId } from './ids';
import { actorOf } from './session';

const guestQuery = z.object({
  search: z.string().max(200).default(''),
  after: z.coerce.number().int().default(0),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});

export function eventRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (_request, response) => {
    response.json(await listEvents(context));
  });
  routes.post('/', async (request, response) => {
    const id = await createEvent(context, eventFacts.parse(request.body), actorOf(request));
    response.status(201).json(describeEvent(context, await getEvent(context, id)));
  });
  routes.get('/:id', async (request, response) => {
    response.json(describeEvent(context, await getEvent(context, idOf(request))));
  });
  routes.put('/:id', async (request, response) => {
    const { facts, basedOn } = saveEventRequest.parse(request.body);
    await saveEvent(context, idOf(request), facts, basedOn, actorOf(request));
    response.json(describeEvent(context, await getEvent(context, idOf(request))));
  });
  routes.post('/:id/publish', async (request, response) => {
    await publishEvent(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/call-off', async (request, response) => {
    const { wording, confirmedCount } = sendNoticeRequest.parse(request.body);
    await callOffEvent(context, idOf(request), wording, confirmedCount, actorOf(request));
    response.status(204).end();
  });
  invitationRoutes(routes, context);
  cueRoutes(routes, context);
  return routes;
}

function invitationRoutes(routes: Router, context: Context): void {
  routes.get('/:id/guests', async (request, response) => {
    const { search, after, limit } = guestQuery.parse(request.query);
    response.json(await listGuests(context, idOf(request), search, after, limit));
  });
  routes.get('/:id/set-aside', async (request, response) => {
    const rows = await context.store.invitees.setAside(idOf(request));
    response.json(rows.map(({ at, ...row }) => ({ ...row, receivedAt: at.toISOString() })));
  });
  routes.get('/:id/wordings', (_request, response) => {
    response.json(houseWordings);
  });
  routes.post('/:id/invitations/plan', async (request, response) => {
    const { lists, channel } = invitePlanRequest.parse(request.body);
    response.json(await planInvitations(context, idOf(request), lists, channel));
  });
  routes.post('/:id/invitations', async (request, response) => {
    const gets = await sendInvitations(
      context,
      idOf(request),
      sendInvitationsRequest.parse(request.body),
      actorOf(request),
    );
    response.status(202).json({ gets });
  });
  routes.post('/:id/invitation-preview', async (request, response) => {
    const { personId, wording } = z
      .object({ personId: z.number().int().nullable(), wording: wordingText.nullable() })
      .parse(request.body);
    response.json(await previewInvitation(context, idOf(request), personId, wording));
  });
  routes.get('/:id/changes', async (request, response) => {
    response.json(await describeChanges(context, idOf(request)));
  });
  routes.post('/:id/notice', async (request, response) => {
    const { wording, confirmedCount } = sendNoticeRequest.parse(request.body);
    await sendNotice(context, idOf(request), wording, confirmedCount, actorOf(request));
    response.status(202).end();
  });
}

function cueRoutes(routes: Router, context: Context): void {
  routes.get('/:id/cues', async (request, response) => {
    response.json(await listCues(context, idOf(request)));
  });
  routes.post('/:id/cues', async (request, response) => {
    const id = await saveCue(context, idOf(request), null, cueFields.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.post('/:id/cues/preview', async (request, response) => {
    const { personId, ...fields } = cuePreviewRequest.parse(request.body);
    response.json(await previewCue(context, idOf(request), fields, optionalId(personId)));
  });
  routes.put('/:id/cues/:cueId', async (request, response) => {
    await saveCue(context, idOf(request), idOf(request, 'cueId'), cueFields.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:id/cues/:cueId', async (request, response) => {
    await removeCue(context, idOf(request), idOf(request, 'cueId'), actorOf(request));
    response.status(204).end();
  });
}
