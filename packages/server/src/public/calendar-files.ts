import type { Response, Router } from 'express';
import { prepareCalendar } from '@convite/core';
import { calendarSource, calendarWriter } from '../services/sending/compose-calendar';
import type { Context } from '../services/context';
import { eventFeed, personFeed, topicFeed, withoutJoinLink } from '../services/digests/feeds';
import { writeTeamFeed } from '../services/countdown/schedule';
import { previewPerson } from '../services/sending/invite';
import type { StoredEvent } from '../store/events';
import { askTogether } from './ask-together';
import { isSeen } from './event-page';
import { keepRenderings } from './kept';
import { publicHouse, sendNotThere } from './page';
import { sendServed, serve, type Served } from './served';

/** Calendar files of an event, for all and for one person, and the feeds that calendar programs follow. */
export function calendarFileRoutes(routes: Router, context: Context): void {
  const { store, links } = context;

  const kept = keepRenderings<Served | null>(60_000, 200);
  const files = keepRenderings<Served | null>(60_000, 500);
  const onDisplay = askTogether((keys) => store.onDisplay.eventsByKey(keys));
  const topics = askTogether((names) => store.onDisplay.topics(names));
  /** Every change of an event, of settings, and each answer is another state of the feeds. */
  const state = async (): Promise<string> => (await Promise.all([topics('events'), topics('settings')])).join(' ');

  routes.get('/e/:key/event.ics', async (request, response) => {
    const shown = await onDisplay(request.params.key);
    const file =
      shown && isSeen(shown) ? await files.of(shown.state, () => writeCalendarFile(context, shown.id)) : null;
    if (file) sendServed(response, file);
    else sendNotThere(response, await publicHouse(context));
  });

  routes.get('/i/:token/event.ics', async (request, response) => {
    const settings = await store.house.settings();
    const named = links.readPersonEvent('ics', request.params.token);
    const event = named && (await store.events.find(named.eventId));
    if (!event || event.status === 'draft') {
      sendNotThere(response, await publicHouse(context));
      return;
    }
    const person = await previewPerson(context, event.id, await store.subscribers.whoIs(named.subscriberId));
    const { text } = calendarWriter(
      calendarSource(context, settings, event, event.at.getTime()),
      'PUBLISH',
      '',
    )(person);
    sendServed(response, fileOf(text, event));
  });

  const sendFeed = async (response: Response, feed: Served | null): Promise<void> => {
    if (feed) sendServed(response, feed);
    else sendNotThere(response, await publicHouse(context));
  };
  routes.get('/feed/topic/:name.ics', async (request, response) => {
    const { name } = request.params;
    const feed = await kept.of(`topic ${name} ${await state()}`, async () =>
      feedOf(await topicFeed(context, name), 'public'),
    );
    await sendFeed(response, feed);
  });
  routes.get('/feed/event/:key.ics', async (request, response) => {
    const { key } = request.params;
    const feed = await kept.of(`event ${key} ${await state()}`, async () =>
      feedOf(await eventFeed(context, key), 'public'),
    );
    await sendFeed(response, feed);
  });
  routes.get('/feed/team/:token.ics', async (request, response) => {
    response.set('cache-control', 'private, max-age=300').set('referrer-policy', 'no-referrer');
    const id = links.readTeamFeed(request.params.token);
    // Who left the team sees nothing any more.
    if (id === null || !(await store.members.find(id))) return sendNotThere(response, await publicHouse(context));
    response.type('text/calendar').send(await writeTeamFeed(context));
  });

  routes.get('/feed/person/:token.ics', async (request, response) => {
    await sendFeed(response, feedOf(await personFeed(context, request.params.token), 'private'));
  });
}

async function writeCalendarFile(context: Context, eventId: number): Promise<Served | null> {
  const event = await context.store.events.find(eventId);
  if (!event || !isSeen(event)) return null;
  const settings = await context.store.house.settings();
  const source = calendarSource(context, settings, withoutJoinLink(event), event.at.getTime());
  return fileOf(prepareCalendar(source, 'PUBLISH')(), event);
}

/** A file for people, and good for calendar programs that follow its address. */
function fileOf(text: string, { version: { facts }, at }: StoredEvent): Served {
  const name = `${facts.title.replace(/[^\p{L}\p{N}]+/gu, '-').slice(0, 60) || 'event'}.ics`;
  return serve(text, {
    'content-type': 'text/calendar; charset=utf-8; method=PUBLISH',
    'content-disposition': attachment(name),
    'last-modified': at.toUTCString(),
  });
}

/** RFC 6266 §4.3, with filename* (RFC 8187) for what ASCII cannot say. @param name of letters, digits, `-` and `.` */
const attachment = (name: string): string =>
  /^[ -~]*$/.test(name)
    ? `attachment; filename="${name}"`
    : `attachment; filename="${name.replace(/[^ -~]/g, '-')}"; filename*=UTF-8''${encodeURIComponent(name)}`;

/**
 * A feed for calendar programs. It has no date: an answer, or an event that leaves the topic, changes a feed without
 * changing any event.
 */
const feedOf = (text: string | null, whose: 'public' | 'private'): Served | null =>
  text === null
    ? null
    : serve(
        text,
        { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': `${whose}, max-age=300` },
        whose === 'public',
      );
