import { Router } from 'express';
import * as z from 'zod';
import {
  answerLetter as answerLetterRequest,
  boardQuery,
  channel,
  logQuery,
  scheduleQuery,
  settleLetter as settleLetterRequest,
  tableFormats,
} from '@convite/contract';
import { exportSchedule, readSchedule, scheduleHeading } from '../services/countdown/schedule';
import { actChoices, finishTask } from '../services/countdown/acts';
import { holdEverything } from '../services/countdown/hold';
import { readBoard, readStrip } from '../services/countdown/board';
import type { Context } from '../services/context';
import { previewByHand, sendFiringNow, setFiringAgain, stopFiring, tryAgain } from '../services/countdown/firings';
import { exportLog, logHeading, readLog } from '../services/log/read-log';
import { answerLetter, listLetters, settleLetter } from '../services/replies/letters';
import { linksOfFiring } from '../services/sending/follow-link';
import { resumeSending } from '../services/sending/note-refusal';
import { idOf, requestKeyOf } from './ids';
import type { LiveHub } from './live-hub';
import { sendTable } from './send-table';
import { actorOf, allow, memberOf, sessionIdOf } from './session';

export function boardRoutes(context: Context, hub: LiveHub): Router {
  const routes = Router();
  routes.get('/board', async (request, response) => {
    response.json(await readBoard(context, boardQuery.parse(request.query), memberOf(request).role === 'owner'));
  });
  routes.get('/strip', async (_request, response) => {
    response.json(await readStrip(context));
  });
  routes.get('/live', (request, response) => hub.add(response, sessionIdOf(request)));
  routes.post('/firings/:id/stop', async (request, response) => {
    await stopFiring(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/firings/:id/set-again', async (request, response) => {
    await setFiringAgain(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.post('/firings/:id/send-now', async (request, response) => {
    const { confirmedCount } = z.object({ confirmedCount: z.number().int().nullable() }).parse(request.body);
    await sendFiringNow(context, idOf(request), confirmedCount, actorOf(request), requestKeyOf(request));
    response.status(202).end();
  });
  routes.get('/firings/:id/by-hand', async (request, response) => {
    response.json(await previewByHand(context, idOf(request)));
  });
  routes.get('/firings/:id/links', async (request, response) => {
    response.json(await linksOfFiring(context, idOf(request)));
  });
  routes.get('/schedule', async (request, response) => {
    const { days } = scheduleQuery.parse(request.query);
    response.json(await readSchedule(context, days, actorOf(request)));
  });
  for (const format of tableFormats)
    routes.get(`/schedule.${format}`, allow(['owner', 'marketer']), async (request, response) => {
      const rows = await exportSchedule(context, scheduleQuery.parse(request.query).days, actorOf(request));
      await sendTable(response, { format, name: 'schedule', heading: scheduleHeading, rows });
    });
  routes.get('/log', async (request, response) => {
    response.json(await readLog(context, logQuery.parse(request.query)));
  });
  for (const format of tableFormats)
    routes.get(`/log.${format}`, allow(['owner', 'marketer']), async (request, response) => {
      const rows = await exportLog(context, logQuery.parse(request.query), actorOf(request));
      await sendTable(response, { format, name: 'delivery-log', heading: logHeading, rows });
    });
  routes.post('/firings/:id/try-again', async (request, response) => {
    await tryAgain(context, idOf(request), actorOf(request));
    response.status(202).end();
  });
  routes.get('/letters', async (_request, response) => {
    response.json(await listLetters(context, null));
  });
  routes.post('/letters/:id', async (request, response) => {
    const { isOpen } = settleLetterRequest.parse(request.body);
    await settleLetter(context, idOf(request), isOpen, actorOf(request));
    response.status(204).end();
  });
  routes.post('/tasks/:id/done', async (request, response) => {
    await finishTask(context, idOf(request), actorOf(request));
    response.status(204).end();
  });
  routes.get('/act-choices', async (_request, response) => {
    response.json(await actChoices(context));
  });
  routes.post('/letters/:id/answer', async (request, response) => {
    const { text } = answerLetterRequest.parse(request.body);
    await answerLetter(context, idOf(request), text, actorOf(request), requestKeyOf(request));
    response.status(202).end();
  });
  routes.post('/pauses', async (request, response) => {
    await holdEverything(context, actorOf(request));
    response.status(204).end();
  });
  routes.post('/pauses/:channel/resume', async (request, response) => {
    await resumeSending(context, channel.parse(request.params.channel), actorOf(request));
    response.status(204).end();
  });
  return routes;
}
