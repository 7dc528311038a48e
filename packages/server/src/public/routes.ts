import express, { Router } from 'express';
import rateLimit from 'express-rate-limit';
import { instantsOf, prepareCalendar, sayWhen, writeIso } from '@convite/core';
import { escapeHtml } from '../mail/html';
import { calendarSource } from '../services/compose-firing';
import { nowOf, type Context } from '../services/context';
import { webCalendarLinks } from '../services/write-message';
import type { StoredEvent } from '../store/events';
import { publicStyles, writePage } from './page';

/** What invitees and subscribers see: the event page, its calendar file, and the way out. */
export function publicRoutes(context: Context): Router {
  const routes = Router();
  const { store, links } = context;
  const notThere = (organisation: string): string =>
    writePage(
      'Not found',
      organisation,
      '<h1>There is no such page</h1><p>The address may be cut off: copy all of it.</p>',
    );

  routes.use(
    ['/e', '/opt-out'],
    rateLimit({ windowMs: 60_000, limit: 600, standardHeaders: 'draft-8', legacyHeaders: false }),
  );
  routes.get('/public.css', (_request, response) => {
    response.type('css').set('cache-control', 'public, max-age=3600').send(publicStyles);
  });

  routes.get('/e/:key', async (request, response) => {
    const settings = await store.house.settings();
    const event = await store.events.findByPublicKey(request.params.key);
    if (!event || event.status === 'draft') {
      response.status(404).send(notThere(settings.organisation));
      return;
    }
    const { facts } = event.version;
    const calendars = webCalendarLinks(
      settings,
      { facts, publicKey: event.publicKey, uid: event.uid },
      links.page(event.publicKey),
    );
    response.send(
      writePage(
        facts.title,
        settings.organisation,
        eventBody(event, links.ics(event.publicKey), calendars) +
          jsonLd(event, settings.organisation, links.page(event.publicKey)),
      ),
    );
  });

  routes.get('/e/:key/event.ics', async (request, response) => {
    const settings = await store.house.settings();
    const event = await store.events.findByPublicKey(request.params.key);
    if (!event || event.status === 'draft') {
      response.status(404).send(notThere(settings.organisation));
      return;
    }
    const text = prepareCalendar(calendarSource(context, settings, event, context.clock.now()), 'PUBLISH')();
    const name = `${event.version.facts.title.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 60) || 'event'}.ics`;
    // attachment() writes RFC 6266 with filename* for what ASCII cannot say.
    response.attachment(name).set('content-type', 'text/calendar; charset=utf-8; method=PUBLISH').send(text);
  });

  routes.get('/opt-out/:token', async (request, response) => {
    const { organisation } = await store.house.settings();
    const id = links.readOptOut(request.params.token);
    // Looking changes nothing: link scanners fetch every address they see.
    if (id === null) response.status(404).send(notThere(organisation));
    else
      response.send(
        writePage(
          'Opt out',
          organisation,
          '<h1>Opt out</h1><p>You will get no more event news from us, by email or text.</p><form method="post"><button>Opt out</button></form>',
        ),
      );
  });
  routes.post('/opt-out/:token', express.urlencoded({ extended: false }), async (request, response) => {
    const { organisation } = await store.house.settings();
    const id = links.readOptOut(request.params.token);
    if (id === null) {
      response.status(404).send(notThere(organisation));
      return;
    }
    await store.subscribers.optOut(id, nowOf(context));
    await store.live.touch('subscribers');
    response.send(
      writePage('You are out', organisation, '<h1>You are out</h1><p>We will send you no more event news.</p>'),
    );
  });
  return routes;
}

function eventBody(event: StoredEvent, icsUrl: string, calendars: readonly { name: string; url: string }[]): string {
  const { facts, calledOff } = event.version;
  const row = (term: string, html: string): string => (html ? `<dt>${term}</dt><dd>${html}</dd>` : '');
  const join = facts.joinLink && `<a href="${escapeHtml(facts.joinLink)}">${escapeHtml(facts.joinLink)}</a>`;
  const actions = [{ name: 'Calendar file', url: icsUrl }, ...calendars].map(
    ({ name, url }) => `<li><a href="${escapeHtml(url)}">Add to calendar: ${escapeHtml(name)}</a></li>`,
  );
  return `${calledOff ? '<p class="notice"><strong>Called off.</strong> This event does not take place.</p>' : ''}
<h1>${escapeHtml(facts.title)}</h1>
<dl>${row('When', escapeHtml(sayWhen(facts, '')))}${row('Where', escapeHtml(facts.venue))}${row('Join', join)}</dl>
${calledOff ? '' : `<ul class="actions">${actions.join('')}</ul>`}
<p class="description">${escapeHtml(facts.description)}</p>`;
}

/** schema.org Event, for search engines. `<` is escaped so that no title can end the script element. */
function jsonLd(event: StoredEvent, organisation: string, url: string): string {
  const { facts, calledOff } = event.version;
  const { startMs, endMs } = instantsOf(facts);
  const { span } = facts;
  const [startDate, endDate] =
    span.kind === 'all-day'
      ? [span.firstDay, span.lastDay]
      : [writeIso(startMs, facts.zone), writeIso(endMs, facts.zone)];
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
