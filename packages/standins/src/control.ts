import { Router } from 'express';
import { simpleParser, type ParsedMail } from 'mailparser';
import { calendarTextOf, readCalendar } from './calendars';
import { setFaults, type Faults } from './faults';
import type { MailStore } from './mail-store';
import type { Outgoing } from './outgoing';
import { writeAnswer, type PersonAnswer } from './person-answer';

/** What Backstage asks: look into mailboxes and calendars, answer as a person would, switch faults. */
export function controlRoutes(store: MailStore, faults: Faults, outgoing: Outgoing): Router {
  const routes = Router();
  routes.get('/mailboxes', (request, response) => {
    response.json(store.mailboxes(typeof request.query['search'] === 'string' ? request.query['search'] : ''));
  });
  routes.get('/latest', (request, response) => {
    response.json(store.latest(typeof request.query['search'] === 'string' ? request.query['search'] : ''));
  });
  routes.get('/mailboxes/:address', (request, response) => {
    response.json(store.messages(request.params.address).reverse());
  });
  routes.get('/mail/:id', async (request, response) => {
    const summary = store.find(request.params.id);
    if (!summary) {
      response.status(404).end();
      return;
    }
    const raw = await store.raw(summary.id);
    const mail = await simpleParser(raw, { skipHtmlToText: true, skipTextToHtml: true });
    response.json({
      ...summary,
      html: mail.html || '',
      text: mail.text ?? '',
      headers: mail.headerLines.map(({ line }) => nameAndValue(line)),
      raw: raw.toString('utf8').slice(0, 200_000),
      calendar: calendarTextOf(mail),
      attachments: fileNames(mail),
    });
  });
  routes.post('/mail/:id/answer', async (request, response) => {
    const summary = store.find(request.params.id);
    const body = request.body as Partial<Omit<PersonAnswer, 'now'>> & { now?: number };
    const request5546 = summary && calendarTextOf(await simpleParser(await store.raw(summary.id)));
    const reply =
      summary && request5546
        ? writeAnswer(request5546, summary.to, {
            state: body.state ?? 'accepted',
            comment: body.comment ?? '',
            recurrence: body.recurrence ?? '',
            shiftMinutes: body.shiftMinutes ?? 0,
            to: body.to ?? '',
            now: new Date(body.now ?? Date.now()),
          })
        : null;
    if (!summary || !reply) {
      response.status(404).end();
      return;
    }
    await outgoing.sendAnswer(summary.to, reply);
    response.json({});
  });
  routes.get('/calendars/:address', async (request, response) => {
    response.json(await readCalendar(store, request.params.address));
  });
  routes.get('/faults', (_request, response) => {
    response.json(faults);
  });
  routes.post('/faults', (request, response) => {
    setFaults(faults, request.body);
    response.json(faults);
  });
  return routes;
}

const nameAndValue = (line: string): { name: string; value: string } => {
  const colon = line.indexOf(':');
  return { name: line.slice(0, colon), value: line.slice(colon + 1).trim() };
};

const fileNames = (mail: ParsedMail): string[] =>
  mail.attachments.flatMap(({ filename }) => (filename ? [filename] : []));
