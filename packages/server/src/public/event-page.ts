import type { Router } from 'express';
import { instantsOf, nextOccurrence, occurrencesBetween, sayRepeats, sayWhen, writeIso } from '@convite/core';
import { escapeHtml } from '../mail/html';
import type { Context } from '../services/context';
import { webCalendarLinks } from '../services/write-message';
import type { StoredEvent } from '../store/events';
import { describeFacts, sendNotThere, writeActions, writePage } from './page';

const yearMs = 366 * 86_400_000;

/** The event as everybody may see it. */
export function eventPageRoutes(routes: Router, context: Context): void {
  const { store, links, clock } = context;
  routes.get('/e/:key', async (request, response) => {
    const settings = await store.house.settings();
    const event = await store.events.findByPublicKey(request.params.key);
    if (!event || event.status === 'draft') {
      sendNotThere(response, settings.organisation);
      return;
    }
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
    const body = `${calledOff ? '<p class="notice"><strong>Called off.</strong> This event does not take place.</p>' : ''}
<h1>${escapeHtml(facts.title)}</h1>
${describeFacts(shown, [sayWhen(shown, ''), sayRepeats(facts)].filter(Boolean).join(' · '))}
${calledOff ? '' : writeActions(actions)}
<p class="description">${escapeHtml(shown.description)}</p>
${facts.series && !calledOff ? nextDates(event, clock.now()) : ''}`;
    response.send(
      writePage(facts.title, settings.organisation, body + jsonLd(event, shown, settings.organisation, page)),
    );
  });
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
