import type { Response, Router } from 'express';
import { prepareCalendar } from '@convite/core';
import { calendarSource, calendarWriter } from '../services/sending/compose-calendar';
import type { Context } from '../services/context';
import { eventFeed, personFeed, topicFeed, withoutJoinLink, type ServedFeed } from '../services/digests/feeds';
import { previewPerson } from '../services/sending/invite';
import { askTogether } from './ask-together';
import { isSeen } from './event-page';
import { keepRenderings } from './kept';
import { sendNotThere } from './page';

/** Calendar files of an event, for all and for one person, and the feeds that calendar programs follow. */
export function calendarFileRoutes(routes: Router, context: Context): void {
  const { store, links } = context;

  const kept = keepRenderings<ServedFeed | null>(60_000, 200);
  const files = keepRenderings<CalendarFile | null>(60_000, 500);
  const onDisplay = askTogether((keys) => store.onDisplay.eventsByKey(keys));
  const topics = askTogether((names) => store.onDisplay.topics(names));
  /** Every change of an event, of settings, and each answer is another state of the feeds. */
  const state = async (): Promise<string> => (await Promise.all([topics('events'), topics('settings')])).join(' ');

  routes.get('/e/:key/event.ics', async (request, response) => {
    const shown = await onDisplay(request.params.key);
    const file =
      shown && isSeen(shown) ? await files.of(shown.state, () => writeCalendarFile(context, shown.id)) : null;
    if (file) sendFile(response, file);
    else sendNotThere(response, (await store.house.settings()).organisation);
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
    sendFile(response, { text, title: event.version.facts.title, at: event.at });
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

interface CalendarFile {
  readonly text: string;
  readonly title: string;
  readonly at: Date;
}

async function writeCalendarFile(context: Context, eventId: number): Promise<CalendarFile | null> {
  const event = await context.store.events.find(eventId);
  if (!event || !isSeen(event)) return null;
  const settings = await context.store.house.settings();
  const source = calendarSource(context, settings, withoutJoinLink(event), event.at.getTime());
  return { text: prepareCalendar(source, 'PUBLISH')(), title: event.version.facts.title, at: event.at };
}

/** A file for people, and good for calendar programs that follow its address. */
function sendFile(response: Response, { text, title, at }: CalendarFile): void {
  const name = `${title.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 60) || 'event'}.ics`;
  // attachment() writes RFC 6266 with filename* for what ASCII cannot say.
  response
    .attachment(name)
    .set({ 'content-type': 'text/calendar; charset=utf-8; method=PUBLISH', 'last-modified': at.toUTCString() })
    .send(text);
}
