import type { Response, Router } from 'express';
import { prepareCalendar } from '@convite/core';
import { calendarSource, calendarWriter } from '../services/sending/compose-calendar';
import type { Context } from '../services/context';
import { eventFeed, personFeed, topicFeed, withoutJoinLink, type ServedFeed } from '../services/digests/feeds';
import { previewPerson } from '../services/sending/invite';
import { isSeen } from './event-page';
import { keepRenderings } from './kept';
import { sendNotThere } from './page';

/** Calendar files of an event, for all and for one person, and the feeds that calendar programs follow. */
export function calendarFileRoutes(routes: Router, context: Context): void {
  const { store, links } = context;

  const kept = keepRenderings<ServedFeed | null>(60_000, 200);
  /** Every change of an event, of settings, and each answer is another state of the feeds. */
  const state = async (): Promise<string> =>
    `${await store.live.versionOf('events')} ${await store.live.versionOf('settings')}`;

  routes.get('/e/:key/event.ics', async (request, response) => {
    const settings = await store.house.settings();
    const event = await store.events.findByPublicKey(request.params.key);
    if (!event || !isSeen(event)) sendNotThere(response, settings.organisation);
    else {
      const source = calendarSource(context, settings, withoutJoinLink(event), event.at.getTime());
      const text = prepareCalendar(source, 'PUBLISH')();
      sendFile(response, text, event.version.facts.title, event.at);
    }
  });

  routes.get('/i/:token/event.ics', async (request, response) => {
    const settings = await store.house.settings();
    const named = links.readPersonEvent('ics', request.params.token);
    const event = named && (await store.events.find(named.eventId));
    if (!event || event.status === 'draft') {
      sendNotThere(response, settings.organisation);
      return;
    }
    const person = await previewPerson(context, event.id, named.subscriberId);
    const { text } = calendarWriter(
      calendarSource(context, settings, event, event.at.getTime()),
      'PUBLISH',
      '',
    )(person);
    sendFile(response, text, event.version.facts.title, event.at);
  });

  const sendFeed = async (response: Response, feed: ServedFeed | null, isPrivate: boolean): Promise<void> => {
    if (!feed) {
      sendNotThere(response, (await store.house.settings()).organisation);
      return;
    }
    // `send` compares the ETag with what the reader holds and answers 304 by itself (RFC 9110 §13.2.2). There is no
    // date: an answer, or an event that leaves the topic, changes a feed without changing any event.
    response
      .set({
        'content-type': 'text/calendar; charset=utf-8',
        'cache-control': `${isPrivate ? 'private' : 'public'}, max-age=300`,
        etag: feed.etag,
      })
      .send(feed.text);
  };
  routes.get('/feed/topic/:name.ics', async (request, response) => {
    const { name } = request.params;
    await sendFeed(response, await kept.of(`topic ${name} ${await state()}`, () => topicFeed(context, name)), false);
  });
  routes.get('/feed/event/:key.ics', async (request, response) => {
    const { key } = request.params;
    await sendFeed(response, await kept.of(`event ${key} ${await state()}`, () => eventFeed(context, key)), false);
  });
  routes.get('/feed/person/:token.ics', async (request, response) => {
    await sendFeed(response, await personFeed(context, request.params.token), true);
  });
}

/** A file for people, and good for calendar programs that follow its address. */
function sendFile(response: Response, text: string, title: string, at: Date): void {
  const name = `${title.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 60) || 'event'}.ics`;
  // attachment() writes RFC 6266 with filename* for what ASCII cannot say.
  response
    .attachment(name)
    .set({ 'content-type': 'text/calendar; charset=utf-8; method=PUBLISH', 'last-modified': at.toUTCString() })
    .send(text);
}
