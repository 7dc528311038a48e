import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import {
  presences,
  escapeHtml,
  holdsAddress,
  instantsOf,
  isEmail,
  nextOccurrence,
  occurrencesBetween,
  plainLine,
  sayInstant,
  sayRepeats,
  sayWhen,
  writeIso,
  type Manner,
} from '@convite/core';
import type { Context } from '../services/context';
import { register, registrationDates, type Registered } from '../services/registration/register';
import { withoutJoinLink } from '../services/digests/feeds';
import { webCalendarLinks } from '../services/sending/write-message';
import type { StoredEvent } from '../store/events';
import { askTogether } from './ask-together';
import { describeFacts, publicHouse, sendNotThere, writeActions, writePage } from './page';
import { formLimit } from './form-limit';
import { keepRenderings } from './kept';
import { sendServed, serve, type Served } from './served';
import { refusedWords, registrationForm, type TypedRegistration } from './registration-form';
import { houseManner } from '../services/sending/manner';

const yearMs = 366 * 86_400_000;

const given = z.object({
  name: z.string().max(200).default('').transform(plainLine),
  email: z.string().trim().toLowerCase().max(254).default(''),
  occurrence: z.string().max(20).default(''),
  presence: z.enum(presences).nullable().default(null),
  /** When the form was given out. */
  stamp: z.string().max(60).default(''),
  /** People do not see this field; machines fill it in. */
  website: z.string().max(2000).default(''),
});

/** People take longer than this to fill a form in, and less than that. */
const leastMs = 2000;
const longestMs = 24 * 3_600_000;

/** The event as everybody may see it, and put themselves down for it. */
export function eventPageRoutes(routes: Router, context: Context): void {
  const { store } = context;
  const kept = keepRenderings<RenderedPage | null>(20_000, 500);
  const onDisplay = askTogether((keys) => store.onDisplay.eventsByKey(keys));
  const rendered = async (key: string): Promise<RenderedPage | null> => {
    const shown = await onDisplay(key);
    if (!shown || !isSeen(shown)) return null;
    return kept.of(shown.state, async () => {
      const event = await store.events.find(shown.id);
      return event && isSeen(event) ? readyToServe(await render(context, event, null)) : null;
    });
  };
  routes.get('/e/:key', async (request, response) => {
    const page = await rendered(request.params.key);
    if (page?.kind === 'same') sendServed(response, page.served);
    else if (page) {
      const html = page.html.replaceAll(stampPlace, context.links.formStamp(context.clock.now()));
      sendServed(
        response,
        serve(html, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-cache' }, true),
      );
    } else sendNotThere(response, await publicHouse(context));
  });

  routes.post(
    '/e/:key/register',
    formLimit(),
    express.urlencoded({ extended: false, limit: '10kb' }),
    async (request, response) => {
      const event = await store.events.findByPublicKey(String(request.params['key']));
      const typed = given.safeParse(request.body);
      if (!event || !isSeen(event) || !typed.success) {
        sendNotThere(response, await publicHouse(context));
        return;
      }
      const { email } = typed.data;
      if (!isEmail(email)) {
        const problem = email ? `“${email}” is not an email address.` : 'Type the address that we may write to.';
        await show(context, response.status(422), event, { ...typed.data, problem });
        return;
      }
      if (holdsAddress(typed.data.name)) {
        const problem = 'A name holds no web or mail address.';
        await show(context, response.status(422), event, { ...typed.data, problem });
        return;
      }
      const done = await register(context, event.id, typed.data, isHasty(context, typed.data));
      if (done && done.kind !== 'refused') await confirm(context, response, event, done, email);
      else
        await show(context, response.status(409), event, { ...typed.data, problem: refusedWords(done?.state ?? null) });
    },
  );
}

/** The same for everybody; or with a form, which says when it was given out. */
type RenderedPage =
  { readonly kind: 'same'; readonly served: Served } | { readonly kind: 'stamped'; readonly html: string };

const readyToServe = (html: string): RenderedPage =>
  html.includes(stampPlace)
    ? { kind: 'stamped', html }
    : { kind: 'same', served: serve(html, { 'content-type': 'text/html; charset=utf-8' }, true) };

/** Has a page for all, or for whoever has its address. */
export const isSeen = ({ status, reach }: Pick<StoredEvent, 'status' | 'reach'>): boolean =>
  status !== 'draft' && reach !== 'invited';

/** Filled in within a moment, or where people see no field, or with a form that was never given out. */
function isHasty({ links, clock }: Context, { stamp, website }: z.infer<typeof given>): boolean {
  const givenOut = links.readFormStamp(stamp);
  const tookMs = givenOut === null ? 0 : clock.now() - givenOut;
  return website !== '' || tookMs < leastMs || tookMs > longestMs;
}

/** What somebody reads who registered. Nothing here is theirs alone: whoever typed the address may not be them. */
async function confirm(
  context: Context,
  response: Response,
  event: StoredEvent,
  done: Exclude<Registered, { kind: 'refused' }>,
  email: string,
): Promise<void> {
  const house = await publicHouse(context);
  const { date } = done;
  const facts = { ...date.facts, joinLink: '' };
  const body = `<p class="thanks" role="status">${sayDone(done, `<strong>${escapeHtml(email)}</strong>`, facts.zone, house.manner)}</p>
<h1>${escapeHtml(date.facts.title)}</h1>
${describeFacts(facts, sayWhen(facts, '', house.manner))}
${writeActions([{ name: 'Back to the event', url: context.links.page(event.publicKey) }])}`;
  response.send(writePage(date.facts.title, house, body));
}

/** What became of it, so far. @param to the address, as the page shows it */
function sayDone(done: Exclude<Registered, { kind: 'refused' }>, to: string, zone: string, manner: Manner): string {
  if (done.kind === 'down') return `You are registered. The confirmation, with the calendar entry, is sent to ${to}.`;
  if (done.kind === 'waiting')
    return `It is full, and you are on the waitlist. As soon as a place is free, whoever has waited longest is asked first, by mail to ${to}.`;
  const at = (instant: Date): string => escapeHtml(sayInstant(instant.getTime(), zone, manner));
  const late = done.hasWaitlist ? ' If it is full by then, you are at the front of the waitlist.' : '';
  return `One step more: we wrote to ${to} on ${at(done.mailedAt)}. Press the button in that mail until ${at(done.expiresAt)}. Places go to whoever confirms first.${late} If it does not arrive, look among unwanted mail; ten minutes later you can ask again.`;
}

/** The page with what somebody typed, who could not be put down. */
async function show(
  context: Context,
  response: Response,
  event: StoredEvent,
  typed: TypedRegistration | null,
): Promise<void> {
  const page = await render(context, event, typed);
  response.send(page.replaceAll(stampPlace, context.links.formStamp(context.clock.now())));
}

/** Stands where each visitor's form says when it was given out. */
const stampPlace = '@@stamp@@';

async function render(context: Context, asStored: StoredEvent, typed: TypedRegistration | null): Promise<string> {
  const { store, links, clock } = context;
  const event = withoutJoinLink(asStored);
  const settings = await store.house.settings();
  const { facts, calledOff } = event.version;
  const shown = nextOccurrence(facts, clock.now())?.facts ?? facts;
  const page = links.page(event.publicKey);
  const about = { ...event, facts: shown };
  const actions = [
    { name: 'Add to calendar: Calendar file', url: links.ics(event.publicKey) },
    ...webCalendarLinks(context, settings, about, null).map(({ name, url }) => ({
      name: `Add to calendar: ${name}`,
      url,
    })),
    ...(facts.series && event.reach === 'public'
      ? [{ name: 'Follow all dates', url: links.eventFeed(event.publicKey).replace(/^https?:/, 'webcal:') }]
      : []),
  ];
  // How one can come is said by where it is, and by whether there is a way to join.
  const dates = await registrationDates(context, asStored);
  // Where one can choose among the dates they need not be listed once more.
  const isListed = !facts.series || calledOff || dates.some(({ state }) => state === 'open' || state === 'waitlist');
  const body = `${calledOff ? '<p class="notice"><strong>Called off.</strong> This event does not take place.</p>' : ''}
<h1>${escapeHtml(facts.title)}</h1>
${describeFacts(shown, [sayWhen(shown, '', houseManner(settings)), sayRepeats(facts)].filter(Boolean).join(' · '), settings.page.mapPattern)}
${asStored.version.facts.joinLink && !calledOff ? '<p class="small">Where to join online is sent to everybody who is invited or registered.</p>' : ''}
${calledOff ? '' : writeActions(actions)}
<p class="description">${escapeHtml(shown.description)}</p>
${registrationForm(`/e/${event.publicKey}/register`, dates, typed, stampPlace, houseManner(settings))}
${isListed ? '' : nextDates(event, clock.now(), houseManner(settings))}`;
  return writePage(facts.title, await publicHouse(context), body + jsonLd(event, shown, settings.organisation, page));
}

/** The dates to come, those called off struck out. */
function nextDates({ version: { facts } }: StoredEvent, nowMs: number, manner: Manner): string {
  const fromMs = Math.max(nowMs, instantsOf(facts).startMs);
  const dates = occurrencesBetween(facts, fromMs, fromMs + yearMs, 10);
  const items = dates.map(({ facts: own, calledOff, isChanged }) => {
    const when = escapeHtml(sayWhen(own, '', manner));
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
      : { '@type': 'VirtualLocation', url },
    organizer: { '@type': 'Organization', name: organisation },
  };
  return `<script type="application/ld+json">${JSON.stringify(data).replaceAll('<', '\\u003c')}</script>`;
}
