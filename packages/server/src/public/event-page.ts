import express, { type Response, type Router } from 'express';
import rateLimit from 'express-rate-limit';
import * as z from 'zod';
import {
  instantsOf,
  isEmail,
  nextOccurrence,
  occurrencesBetween,
  sayRepeats,
  sayWhen,
  writeIso,
  type Occurrence,
} from '@convite/core';
import { escapeHtml } from '../mail/html';
import type { Context } from '../services/context';
import { register, registrationDates } from '../services/register';
import { webCalendarLinks } from '../services/write-message';
import type { StoredEvent } from '../store/events';
import { describeFacts, sendNotThere, writeActions, writePage } from './page';
import { refusedWords, registrationForm, type TypedRegistration } from './registration-form';

const yearMs = 366 * 86_400_000;

const given = z.object({
  name: z.string().trim().max(200).default(''),
  email: z.string().trim().toLowerCase().max(254).default(''),
  occurrence: z.string().max(20).default(''),
});

/** The event as everybody may see it, and put themselves down for it. */
export function eventPageRoutes(routes: Router, context: Context): void {
  const { store } = context;
  routes.get('/e/:key', async (request, response) => {
    const event = await store.events.findByPublicKey(request.params.key);
    if (event && event.status !== 'draft') await show(context, response, event, null);
    else sendNotThere(response, (await store.house.settings()).organisation);
  });

  routes.post(
    '/e/:key/register',
    // A message goes to whatever address is typed: nobody may have it write to many.
    rateLimit({ windowMs: 60_000, limit: 20, standardHeaders: 'draft-8', legacyHeaders: false }),
    express.urlencoded({ extended: false, limit: '10kb' }),
    async (request, response) => {
      const event = await store.events.findByPublicKey(String(request.params['key']));
      const typed = given.safeParse(request.body);
      if (!event || event.status === 'draft' || !typed.success) {
        sendNotThere(response, (await store.house.settings()).organisation);
        return;
      }
      const { email } = typed.data;
      if (!isEmail(email)) {
        const problem = email ? `“${email}” is not an email address.` : 'Type the address that we may write to.';
        await show(context, response.status(422), event, { ...typed.data, problem });
        return;
      }
      const done = await register(context, event.id, typed.data);
      if (done?.kind === 'down') await confirm(context, response, event, done.date, email);
      else
        await show(context, response.status(409), event, { ...typed.data, problem: refusedWords(done?.state ?? null) });
    },
  );
}

/** What somebody reads who put themselves down. Nothing here is theirs alone: whoever typed the address may not be them. */
async function confirm(
  { store, links }: Context,
  response: Response,
  event: StoredEvent,
  date: Occurrence,
  email: string,
): Promise<void> {
  const { organisation } = await store.house.settings();
  const body = `<p class="thanks" role="status">You are down for it. The confirmation, with the entry for your calendar, goes to <strong>${escapeHtml(email)}</strong>.</p>
<h1>${escapeHtml(date.facts.title)}</h1>
${describeFacts(date.facts, sayWhen(date.facts, ''))}
${writeActions([{ name: 'Back to the event', url: links.page(event.publicKey) }])}`;
  response.send(writePage(date.facts.title, organisation, body));
}

async function show(
  context: Context,
  response: Response,
  event: StoredEvent,
  typed: TypedRegistration | null,
): Promise<void> {
  const { store, links, clock } = context;
  const settings = await store.house.settings();
  const { facts, calledOff } = event.version;
  const shown = nextOccurrence(facts, clock.now())?.facts ?? facts;
  const page = links.page(event.publicKey);
  const about = { id: event.id, publicKey: event.publicKey, uid: event.uid, facts: shown };
  const actions = [
    { name: 'Add to calendar: Calendar file', url: links.ics(event.publicKey) },
    ...webCalendarLinks(context, settings, about, null).map(({ name, url }) => ({
      name: `Add to calendar: ${name}`,
      url,
    })),
    ...(facts.series
      ? [{ name: 'Follow all dates', url: links.eventFeed(event.publicKey).replace(/^https?:/, 'webcal:') }]
      : []),
  ];
  const dates = await registrationDates(context, event);
  // Where one can choose among the dates they need not be listed once more.
  const isListed = !facts.series || calledOff || dates.some(({ state }) => state === 'open');
  const body = `${calledOff ? '<p class="notice"><strong>Called off.</strong> This event does not take place.</p>' : ''}
<h1>${escapeHtml(facts.title)}</h1>
${describeFacts(shown, [sayWhen(shown, ''), sayRepeats(facts)].filter(Boolean).join(' · '))}
${calledOff ? '' : writeActions(actions)}
<p class="description">${escapeHtml(shown.description)}</p>
${registrationForm(`/e/${event.publicKey}/register`, dates, typed)}
${isListed ? '' : nextDates(event, clock.now())}`;
  response.send(
    writePage(facts.title, settings.organisation, body + jsonLd(event, shown, settings.organisation, page)),
  );
}

/** The dates to come, those called off struck out. */
function nextDates({ version: { facts } }: StoredEvent, nowMs: number): string {
  const fromMs = Math.max(nowMs, instantsOf(facts).startMs);
  const dates = occurrencesBetween(facts, fromMs, fromMs + yearMs, 10);
  const items = dates.map(({ facts: own, calledOff, isChanged }) => {
    const when = escapeHtml(sayWhen(own, ''));
    const place = own.venue !== facts.venue && own.venue ? `, ${escapeHtml(own.venue)}` : '';
    return `<li>${calledOff ? `<s>${when}</s> called off` : `${when}${place}${isChanged && !place ? ' <em>changed</em>' : ''}`}</li>`;
  });
  return items.length ? `<h2>Next dates</h2><ul class="dates">${items.join('')}</ul>` : '';
}

/** schema.org Event, for search engines. `<` is escaped so that no title can end the script element. */
function jsonLd(event: StoredEvent, facts: StoredEvent['version']['facts'], organisation: string, url: string): string {
  const { calledOff } = event.version;
  const { startMs, endMs } = instantsOf(facts);
  const { span } = facts;
  const [startDate, endDate] =
    span.kind === 'all-day'
      ? [span.firstDay, span.lastDay]
      : [writeIso(startMs, facts.zone), writeIso(endMs, facts.endZone || facts.zone)];
  const data = {
    '@context': 'https://schema.org',
    '@type': 'Event',
    name: facts.title,
    url,
    startDate,
    endDate,
    description: facts.description,
    eventStatus: calledOff ? 'https://schema.org/EventCancelled' : 'https://schema.org/EventScheduled',
    location: facts.venue
      ? { '@type': 'Place', name: facts.venue, address: facts.venue }
      : { '@type': 'VirtualLocation', url: facts.joinLink || url },
    organizer: { '@type': 'Organization', name: organisation },
  };
  return `<script type="application/ld+json">${JSON.stringify(data).replaceAll('<', '\\u003c')}</script>`;
}
