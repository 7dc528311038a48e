import express, { type Router } from 'express';
import { escapeHtml, findOccurrence, sayWhen } from '@convite/core';
import type { Context } from '../services/context';
import { confirmRegistration, findHold } from '../services/registration/register';
import { publicHouse, sendNotThere, writePage } from './page';
import { refusedWords } from './registration-form';

/** Where the owner of an address confirms that they registered. Looking confirms nothing: scanners fetch every link. */
export function confirmPageRoutes(routes: Router, context: Context): void {
  const { links } = context;
  const find = async (token: string) => {
    const id = links.readHold(token);
    return id === null ? null : findHold(context, id);
  };

  routes.get('/c/:token', async (request, response) => {
    const house = await publicHouse(context);
    const found = await find(request.params.token);
    if (!found) return sendNotThere(response, house);
    const { event, hold, others } = found;
    const { facts } = event.version;
    const dates = [hold, ...others].flatMap(({ occurrence }) => findOccurrence(facts, occurrence) ?? []);
    const when = `<ul class="dates">${dates.map((date) => `<li>${escapeHtml(sayWhen(date.facts, '', house.manner))}</li>`).join('')}</ul>`;
    const body =
      hold.isConfirmed && others.length === 0
        ? `<p class="thanks">${hold.waits ? 'You are on the waitlist already.' : 'You are down for it already.'}</p>`
        : `<form method="post"><p><button>${hold.waits ? 'Yes, I wait for a place' : 'Yes, put me down'}</button></p></form>`;
    response.send(writePage(facts.title, house, `<h1>${escapeHtml(facts.title)}</h1>${when}${body}`));
  });

  routes.post('/c/:token', express.urlencoded({ extended: false, limit: '1kb' }), async (request, response) => {
    const house = await publicHouse(context);
    const found = await find(request.params.token);
    if (!found) return sendNotThere(response, house);
    const { title } = found.event.version.facts;
    const done = await confirmRegistration(context, found);
    const isDown = done?.kind === 'down' || done?.kind === 'waiting';
    const said = isDown
      ? `<p class="thanks" role="status">${done.kind === 'down' ? 'You are down for it. The entry for your calendar comes by mail.' : 'You are on the waitlist. We write as soon as a place is free.'}</p>`
      : `<p class="notice" role="alert">${refusedWords(done?.kind === 'refused' ? done.state : null)}</p>`;
    response.status(isDown ? 200 : 409).send(writePage(title, house, `<h1>${escapeHtml(title)}</h1>${said}`));
  });
}
