import { Router } from 'express';
import * as z from 'zod';
import {
  answer,
  calendarEntries,
  faults,
  mailboxes,
  mailMessage,
  mailSummaries,
  moveClock as moveClockRequest,
  phones,
  phoneTexts,
} from '@convite/contract';
import type { ShiftableClock } from '../clock';
import type { Context } from '../services/context';
import { Failure } from '../services/failure';
import { moveClock, readClock } from '../services/countdown/move-clock';

const phoneReply = z.object({ text: z.string().min(1).max(500) });

/** Backstage: hands the stand-ins' windows through, and moves the clock. Mounted only when their address is configured. */
export function backstageRoutes(context: Context, clock: ShiftableClock, standinsUrl: string): Router {
  const routes = Router();
  const ask = async <T>(shape: z.ZodType<T>, path: string, body?: unknown): Promise<T> => {
    let response: Response;
    try {
      response = await fetch(`${standinsUrl}${path}`, {
        method: body === undefined ? 'GET' : 'POST',
        ...(body !== undefined && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
        signal: AbortSignal.timeout(10_000),
      });
    } catch {
      throw new Failure(502, 'standins-away', 'The simulated outside world does not answer. Is it running?');
    }
    if (response.status === 404) throw new Failure(404, 'not-found', 'There is no such thing backstage.');
    if (!response.ok) throw new Failure(502, 'standins-failed', (await response.text()).slice(0, 300));
    return shape.parse(await response.json());
  };
  const part = (value: unknown): string => encodeURIComponent(z.string().parse(value));

  routes.get('/mailboxes', async (request, response) => {
    response.json(await ask(mailboxes, `/mailboxes?search=${part(request.query['search'] ?? '')}`));
  });
  routes.get('/latest', async (request, response) => {
    response.json(await ask(mailSummaries, `/latest?search=${part(request.query['search'] ?? '')}`));
  });
  routes.get('/mailboxes/:address', async (request, response) => {
    response.json(await ask(mailSummaries, `/mailboxes/${part(request.params['address'])}`));
  });
  routes.get('/mail/:id', async (request, response) => {
    response.json(await ask(mailMessage, `/mail/${part(request.params['id'])}`));
  });
  routes.post('/mail/:id/answer', async (request, response) => {
    // Replies are stamped with the shared clock, as everything else is.
    await ask(z.unknown(), `/mail/${part(request.params['id'])}/answer`, {
      ...answer.parse(request.body),
      now: clock.now(),
    });
    response.status(204).end();
  });
  routes.get('/calendars/:address', async (request, response) => {
    response.json(await ask(calendarEntries, `/calendars/${part(request.params['address'])}`));
  });
  routes.get('/phones', async (_request, response) => {
    response.json(await ask(phones, '/phones'));
  });
  routes.get('/phones/:number', async (request, response) => {
    response.json(await ask(phoneTexts, `/phones/${part(request.params['number'])}`));
  });
  routes.post('/phones/:number/reply', async (request, response) => {
    await ask(z.unknown(), `/phones/${part(request.params['number'])}/reply`, phoneReply.parse(request.body));
    response.status(204).end();
  });
  routes.get('/faults', async (_request, response) => {
    response.json(await ask(faults, '/faults'));
  });
  routes.put('/faults', async (request, response) => {
    response.json(await ask(faults, '/faults', faults.parse(request.body)));
  });
  routes.get('/clock', async (_request, response) => {
    response.json(await readClock(context, clock.offsetMs));
  });
  routes.post('/clock', async (request, response) => {
    response.json(await moveClock(context, clock, moveClockRequest.parse(request.body)));
  });
  return routes;
}
