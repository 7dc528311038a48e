import { Router } from 'express';
import * as z from 'zod';
import {
  answerProposal as answerProposalRequest,
  applyPlan as applyRequest,
  changeDateRequest,
  changeGrace,
  changeReach,
  changeToInvite,
  chooseSender as senderChosen,
  copyRequest,
  changeContact,
  cueChange,
  writtenCue,
  cuePreviewRequest,
  cueSearchQuery,
  cueSourceQuery,
  writeToGuests as writeToGuestsRequest,
  eventQuery,
  guestActRequest,
  guestQuery,
  markAttendance as markAttendanceRequest,
  newEvent,
  publishRequest,
  rehearsalQuery,
  ownRequest,
  pasteToInvite as pasteToInviteRequest,
  planSource,
  saveEvent as saveEventRequest,
  sendInvitations as sendInvitationsRequest,
  sendNotice as sendNoticeRequest,
  testLinkRequest,
  tryOutRequest,
  writtenWording,
  tableFormats,
  waitingPlace,
  waitlistQuery,
  noticePreviewRequest,
} from '@convite/contract';
import type { Context } from '../services/context';
import { copyEvent, deleteDraft } from '../services/events/copy-event';
import { countReply, listSetAside } from '../services/replies/count-reply';
import { removeCue, saveCue } from '../services/countdown/cues';
import { writeToGuests } from '../services/sending/write-to-guests';
import { previewCue } from '../services/countdown/preview-cue';
import { setContact } from '../services/countdown/contact';
import { setGrace } from '../services/countdown/grace';
import { holdEvent, letEventGoOn } from '../services/countdown/hold';
import { rehearseForAll } from '../services/countdown/rehearse-all';
import { rehearse } from '../services/countdown/rehearse';
import { callOffEvent, createEvent, describeEvent, publishEvent, saveEvent, setReach } from '../services/events/events';
import { giveByHand } from '../services/registration/register';
import { leaveWaitlist, listWaiting } from '../services/registration/waitlist';
import { exportGuests, guestHeading } from '../services/events/export-guests';
import { prepareReminder } from '../services/events/remind-guests';
import { putGuestsBack, removeGuests } from '../services/events/remove-guests';
import { readYear } from '../services/events/event-year';
import { getEvent } from '../services/events/get-event';
import { chooseSender } from '../services/senders/senders';
import { allHouseWordings } from '../services/wording/house-wording';
import { findCues } from '../services/countdown/find-cues';
import { applyPlan, fitPlan } from '../services/plans/apply-plan';
import { listCues } from '../services/countdown/list-cues';
import { railAround } from '../services/countdown/rail-around';
import { listLetters } from '../services/replies/letters';
import { eventsWithCues, listEvents } from '../services/events/list-events';
import { listGuests, sendInvitations } from '../services/sending/invite';
import { tryOut } from '../services/sending/try-out';
import { previewInvitation, testLinkOf } from '../services/sending/preview-invitation';
import { answerProposal, listProposals } from '../services/replies/proposals';
import { chooseToInvite, pasteToInvite } from '../services/events/to-invite';
import { takePersonal } from '../services/events/personal';
import { changeDate, listDates, markAttendance } from '../services/events/dates';
import { previewNotice } from '../services/sending/preview-notice';
import { describeChanges, sendNotice } from '../services/sending/notices';
import { idOf, optionalId, requestKeyOf } from './ids';
import { sendTable } from './send-table';
import { actorOf, allow } from './session';

export function eventRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (request, response) => {
    response.json(await listEvents(context, eventQuery.parse(request.query)));
  });
  routes.get('/year', async (_request, response) => {
    response.json(await readYear(context));
  });
  routes.get('/cues', async (request, response) => {
    response.json(await findCues(context, cueSearchQuery.parse(request.query).search));
  });
  routes.get('/with-cues', async (request, response) => {
    response.json(await eventsWithCues(context, cueSourceQuery.parse(request.query)));
  });
  routes.post('/', async (request, response) => {
    const { reach, ...facts } = newEvent.parse(request.body);
    const id = await createEvent(context, facts, actorOf(request), reach);
    response.status(201).json(await describeEvent(context, await getEvent(context, id)));
  });
  routes.get('/:id', async (request, response) => {
    response.json(await describeEvent(context, await getEvent(context, idOf(request))));
  });
  routes.put('/:id', async (request, response) => {
    const id = idOf(request);
    const { followingId } = await saveEvent(context, id, saveEventRequest.parse(request.body), actorOf(request));
    response.json({ event: await describeEvent(context, await getEvent(context, id)), followingId });
  });
  routes.post('/:id/copy', async (request, response) => {
    const { withCountdown } = copyRequest.parse(request.body);
    response.status(201).json({ id: await copyEvent(context, idOf(request), withCountdown, actorOf(request)) });
  });
  routes.delete('/:id', async (request, response) => {
    await deleteDraft(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.put('/:id/sender', async (request, response) => {
    const { senderId } = senderChosen.parse(request.body);
    await chooseSender(context, idOf(request), senderId, actorOf(request));
    response.status(204).end();
  });
  routes.put('/:id/reach', async (request, response) => {
    await setReach(context, idOf(request), changeReach.parse(request.body).reach, actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/publish', async (request, response) => {
    const { isSure } = publishRequest.parse(request.body ?? {});
    await publishEvent(context, idOf(request), actorOf(request), isSure);
    response.status(204).end();
  });
  routes.post('/:id/call-off', async (request, response) => {
    const { wording, confirmedCount } = sendNoticeRequest.parse(request.body);
    await callOffEvent(context, idOf(request), wording, confirmedCount, actorOf(request), requestKeyOf(request));
    response.status(204).end();
  });
  dateRoutes(routes, context);
  guestRoutes(routes, context);
  invitationRoutes(routes, context);
  cueRoutes(routes, context);
  return routes;
}

function dateRoutes(routes: Router, context: Context): void {
  routes.get('/:id/dates', async (request, response) => {
    response.json(await listDates(context, idOf(request), 12));
  });
  routes.post('/:id/dates', async (request, response) => {
    const { change, basedOn } = changeDateRequest.parse(request.body);
    await changeDate(context, idOf(request), change, basedOn, actorOf(request));
    response.status(204).end();
  });
}

function guestRoutes(routes: Router, context: Context): void {
  routes.get('/:id/guests', async (request, response) => {
    response.json(await listGuests(context, idOf(request), guestQuery.parse(request.query)));
  });
  for (const format of tableFormats)
    routes.get(`/:id/guests.${format}`, allow(['owner', 'marketer']), async (request, response) => {
      const rows = await exportGuests(context, idOf(request), guestQuery.parse(request.query), actorOf(request));
      await sendTable(response, { format, name: 'guests', heading: guestHeading, rows });
    });
  routes.post('/:id/guests/remove', async (request, response) => {
    const { selection } = guestActRequest.parse(request.body);
    response.json(await removeGuests(context, idOf(request), selection, actorOf(request)));
  });
  routes.post('/:id/guests/put-back/:removalId', async (request, response) => {
    await putGuestsBack(context, idOf(request, 'removalId'), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/guests/remind', async (request, response) => {
    const { selection } = guestActRequest.parse(request.body);
    response.json({ cueId: await prepareReminder(context, idOf(request), selection, actorOf(request)) });
  });
  routes.get('/:id/waitlist', async (request, response) => {
    response.json(await listWaiting(context, idOf(request), waitlistQuery.parse(request.query)));
  });
  routes.post('/:id/waitlist/give', async (request, response) => {
    const { personId, occurrence } = waitingPlace.parse(request.body);
    await giveByHand(context, { eventId: idOf(request), subscriberId: personId, occurrence }, actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/waitlist/leave', async (request, response) => {
    const { personId, occurrence } = waitingPlace.parse(request.body);
    await leaveWaitlist(context, { eventId: idOf(request), subscriberId: personId, occurrence }, actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/set-aside', async (request, response) => {
    response.json(await listSetAside(context, idOf(request)));
  });
  routes.post('/:id/set-aside/:replyId/count', async (request, response) => {
    await countReply(context, idOf(request), idOf(request, 'replyId'), actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/letters', async (request, response) => {
    response.json(await listLetters(context, idOf(request)));
  });
  routes.post('/:id/attendance', async (request, response) => {
    await markAttendance(context, idOf(request), markAttendanceRequest.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.get('/:id/proposals', async (request, response) => {
    response.json(await listProposals(context, idOf(request)));
  });
  routes.post('/:id/proposals/:proposalId', async (request, response) => {
    const answer = answerProposalRequest.parse(request.body);
    await answerProposal(context, idOf(request), idOf(request, 'proposalId'), answer, actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/personal', async (request, response) => {
    response.json(await takePersonal(context, idOf(request), ownRequest.parse(request.body), actorOf(request)));
  });
}

function invitationRoutes(routes: Router, context: Context): void {
  routes.get('/:id/wordings', async (_request, response) => {
    response.json(await allHouseWordings(context.store));
  });
  routes.put('/:id/to-invite', async (request, response) => {
    await chooseToInvite(context, idOf(request), changeToInvite.parse(request.body));
    response.status(204).end();
  });
  routes.post('/:id/to-invite/people', async (request, response) => {
    const pasted = pasteToInviteRequest.parse(request.body);
    response.json(await pasteToInvite(context, idOf(request), pasted, actorOf(request)));
  });
  routes.post('/:id/try-out', async (request, response) => {
    response.json(await tryOut(context, idOf(request), tryOutRequest.parse(request.body).wording));
  });
  routes.post('/:id/invitations', async (request, response) => {
    const gets = await sendInvitations(
      context,
      idOf(request),
      sendInvitationsRequest.parse(request.body),
      actorOf(request),
      requestKeyOf(request),
    );
    response.status(202).json({ gets });
  });
  routes.post('/:id/invitation-preview', async (request, response) => {
    const { personId, wording } = z
      .object({ personId: z.number().int().nullable(), wording: writtenWording.nullable() })
      .parse(request.body);
    response.json(await previewInvitation(context, idOf(request), personId, wording));
  });
  routes.post('/:id/test-link', async (request, response) => {
    response.json(await testLinkOf(context, idOf(request), testLinkRequest.parse(request.body)));
  });
  routes.get('/:id/changes', async (request, response) => {
    response.json(await describeChanges(context, idOf(request)));
  });
  routes.post('/:id/notice/preview', async (request, response) => {
    response.json(await previewNotice(context, idOf(request), noticePreviewRequest.parse(request.body)));
  });
  routes.post('/:id/notice', async (request, response) => {
    const { wording, confirmedCount } = sendNoticeRequest.parse(request.body);
    await sendNotice(context, idOf(request), wording, confirmedCount, actorOf(request), requestKeyOf(request));
    response.status(202).end();
  });
}

function cueRoutes(routes: Router, context: Context): void {
  routes.get('/:id/cues', async (request, response) => {
    response.json(await listCues(context, idOf(request)));
  });
  routes.put('/:id/grace', async (request, response) => {
    await setGrace(context, idOf(request), changeGrace.parse(request.body).minutes, actorOf(request));
    response.status(204).end();
  });
  routes.put('/:id/contact', async (request, response) => {
    await setContact(context, idOf(request), changeContact.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.post('/:id/hold', async (request, response) => {
    await holdEvent(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:id/hold', async (request, response) => {
    await letEventGoOn(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  // What it shows holds addresses by which one answers for its reader.
  routes.get('/:id/rehearsal', allow(['owner', 'marketer']), async (request, response) => {
    const { person, as } = rehearsalQuery.parse(request.query);
    const asked = { personId: person || null, archetype: as || null };
    response.json(await rehearse(context, idOf(request), asked));
  });
  routes.get('/:id/rehearsal/all', allow(['owner', 'marketer']), async (request, response) => {
    response.json(await rehearseForAll(context, idOf(request)));
  });
  routes.get('/:id/rail', async (request, response) => {
    response.json(await railAround(context, idOf(request)));
  });
  routes.get('/:id/plan', async (request, response) => {
    response.json(await fitPlan(context, idOf(request), planSource.parse(request.query)));
  });
  routes.post('/:id/plan', async (request, response) => {
    const asked = applyRequest.parse(request.body);
    response.status(201).json(await applyPlan(context, idOf(request), asked, actorOf(request)));
  });
  routes.post('/:id/write', async (request, response) => {
    const asked = writeToGuestsRequest.parse(request.body);
    const count = await writeToGuests(context, idOf(request), asked, actorOf(request), requestKeyOf(request));
    response.status(201).json({ count });
  });
  routes.post('/:id/cues', async (request, response) => {
    const id = await saveCue(context, idOf(request), null, writtenCue.parse(request.body), actorOf(request));
    response.status(201).json({ id });
  });
  routes.post('/:id/cues/preview', async (request, response) => {
    const { personId, ...fields } = cuePreviewRequest.parse(request.body);
    response.json(await previewCue(context, idOf(request), fields, optionalId(personId)));
  });
  routes.put('/:id/cues/:cueId', async (request, response) => {
    await saveCue(context, idOf(request), idOf(request, 'cueId'), cueChange.parse(request.body), actorOf(request));
    response.status(204).end();
  });
  routes.delete('/:id/cues/:cueId', async (request, response) => {
    await removeCue(context, idOf(request), idOf(request, 'cueId'), actorOf(request));
    response.status(204).end();
  });
}
