import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import {
  escapeHtml,
  findOccurrence,
  isHybrid,
  nextOccurrence,
  occurrencesBetween,
  presences,
  personalFacts,
  replyStates,
  sayRepeats,
  sayUntil,
  sayWhen,
  withoutAddresses,
  type Manner,
  type Occurrence,
  type Presence,
  type ReplyState,
} from '@convite/core';
import type { Context } from '../services/context';
import { noteOpened } from '../services/audience/note-opened';
import { datesInDoubt } from '../services/replies/ask-about-dates';
import { previewPerson } from '../services/sending/invite';
import { takeAnswer } from '../services/replies/take-answer';
import { webCalendarLinks } from '../services/sending/write-message';
import type { StoredEvent } from '../store/events';
import type { Recipient } from '../store/subscribers';
import type { Waiting } from '../store/waitlist';
import { describeFacts, publicHouse, sendNotThere, writeActions, writePage } from './page';
import { refusedWords } from './registration-form';
import { mannerOf } from '../services/sending/manner';

/** A yes may say how they come. */
const pressed = z
  .enum([...replyStates, 'in-person', 'online'])
  .transform((said): { state: ReplyState; presence?: Presence } =>
    said === 'in-person' || said === 'online' ? { state: 'accepted', presence: said } : { state: said },
  );
const given = z.object({
  state: pressed,
  occurrence: z.string().max(20).default(''),
  comment: z.string().max(500).default(''),
});

const words: Readonly<Record<ReplyState, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'not answered yet',
};

/** A person's own page of an event, where they answer. Looking answers nothing: link scanners fetch every address. */
export function replyPageRoutes(routes: Router, context: Context): void {
  const { store, links } = context;
  const read = async (token: string): Promise<{ event: StoredEvent; person: Recipient } | null> => {
    const named = links.readPersonEvent('reply', token);
    const event = named && (await store.events.find(named.eventId));
    if (!event || event.status === 'draft') return null;
    const id = await store.subscribers.whoIs(named.subscriberId);
    const person = await previewPerson(context, event.id, id);
    return person.id === id ? { event, person } : null;
  };

  routes.get('/r/:token', async (request, response) => {
    const found = await read(request.params.token);
    if (found) {
      void noteOpened(context, found.person.id, 'reply', found.event.id);
      const meant = replyStates.find((state) => state === request.query['say']) ?? null;
      await show(context, response, found.event, found.person, '', meant);
    } else sendNotThere(response, await publicHouse(context));
  });
  routes.post('/r/:token', express.urlencoded({ extended: false, limit: '10kb' }), async (request, response) => {
    const found = await read(request.params.token);
    const answer = given.safeParse(request.body);
    if (!found || !answer.success) {
      sendNotThere(response, await publicHouse(context));
      return;
    }
    await show(context, response, found.event, found.person, await sayTaken(context, found, answer.data));
  });
}

/** Stores the answer. @returns what to say of it */
async function sayTaken(
  context: Context,
  { event, person }: { event: StoredEvent; person: Recipient },
  answer: z.infer<typeof given>,
): Promise<string> {
  const { occurrence, comment, state } = answer;
  const said = { occurrence, ...state, comment: withoutAddresses(comment) };
  const taken = await takeAnswer(context, event, person, said);
  if (taken === 'stored') return `Thank you: your answer is “${words[said.state]}”.`;
  if (taken === 'waiting') return 'It is full: you are on the waitlist, and we write as soon as a place is free.';
  if (taken === 'left') return 'You wait for it no longer.';
  return taken === 'older' ? 'A newer answer of yours stands; it is shown below.' : refusedWords(taken.refused);
}

async function show(
  context: Context,
  response: Response,
  event: StoredEvent,
  person: Recipient,
  thanks: string,
  /** The answer whose button brought them here; nothing is answered by looking. */
  meant: ReplyState | null = null,
): Promise<void> {
  const { store, links, clock } = context;
  const settings = await store.house.settings();
  const { facts, calledOff } = event.version;
  const manner = mannerOf(settings, person);
  const shown = personalFacts(nextOccurrence(facts, clock.now())?.facts ?? facts, person.own);
  const { reply, dates, isByDate } = await store.dates.answersOf(event.id, person.id);
  const waits = calledOff ? [] : await store.waitlist.of(event.id, person.id);
  // Who only waits has no part in it yet.
  const hasPart = person.isGuest || waits.length === 0;
  const waitsForAll = waits.some(({ occurrence }) => occurrence === '');
  const presenceAt = (key: string): string => person.places?.find((place) => place.occurrence === key)?.presence ?? '';
  const how = isHybrid(facts) ? presenceAt('') : null;
  const doubted = calledOff ? [] : datesInDoubt(event, { reply, dates }, clock.now());
  const about = { ...event, facts: shown };
  const actions = [
    { name: 'Your calendar file', url: links.personIcs(event.id, person.id) },
    ...webCalendarLinks(context, settings, about, person).map(({ name, url }) => ({ name: `Add to ${name}`, url })),
    { name: 'Your calendar with everything you said yes to', url: links.personPage(person.id, person.feedNonce) },
  ];
  const body = `${thanks ? `<p class="thanks" role="status">${escapeHtml(thanks)}</p>` : ''}
${calledOff ? '<p class="notice"><strong>Called off.</strong> This event does not take place.</p>' : ''}
<h1>${escapeHtml(facts.title)}</h1>
${describeFacts(shown, [sayWhen(shown, person.zone, manner), sayRepeats(facts)].filter(Boolean).join(' · '))}
${waits.map((one) => waitForm(event, one, clock.now(), manner)).join('')}
${calledOff || isByDate || !hasPart || waitsForAll ? '' : answerForm('', `${person.name ? `${escapeHtml(person.name)}, are` : 'Are'} you coming?`, reply, facts.series ? 'Your answer for all dates' : 'Your answer', meant, how)}
${doubted.length ? sayDoubted(doubted, manner) : ''}
${calledOff || !facts.series || !hasPart ? '' : dateForms(event, { dates, reply, isByDate, presenceAt }, clock.now(), manner)}
${writeActions(actions)}
<p class="description">${escapeHtml(shown.description)}</p>`;
  response.send(writePage(facts.title, await publicHouse(context), body));
}

/** What was answered for one date counts for that date, until it is answered anew. */
const sayDoubted = (dates: readonly Occurrence[], manner: Manner): string =>
  `<div class="notice"><p>You said no to the whole, and yes to single dates before. We count you as coming on these, until you say no to them too:</p>
<ul class="dates">${dates.map(({ facts }) => `<li>${escapeHtml(sayWhen(facts, '', manner))}</li>`).join('')}</ul></div>`;

/** A date that somebody waits for: a place that is kept for them is theirs by a yes; otherwise they may stop waiting. */
function waitForm(
  { version: { facts } }: StoredEvent,
  { occurrence, keptUntilMs }: Waiting,
  nowMs: number,
  manner: Manner,
): string {
  const date = facts.series ? findOccurrence(facts, occurrence)?.facts : facts;
  if (!date) return '';
  const when = escapeHtml(sayWhen(date, '', manner));
  const isKept = keptUntilMs !== null && keptUntilMs > nowMs;
  const yes = isHybrid(date)
    ? `<button name="state" value="in-person">Yes, in person</button> <button name="state" value="online">Yes, online</button>`
    : `<button name="state" value="accepted">Yes</button>`;
  const asks = isKept
    ? `<h2>A place is free for you</h2><p>${when}. It is kept for you until <strong>${escapeHtml(sayUntil(keptUntilMs, date.zone, manner))}</strong>.</p>
<p>${yes} <button name="state" value="declined">No</button></p>`
    : `<h2>You are on the waitlist</h2><p>${when}. We write as soon as a place is free.</p>
<p><button name="state" value="declined">I wait no longer</button></p>`;
  return `<form method="post" class="answer">${asks}<input type="hidden" name="occurrence" value="${escapeHtml(occurrence)}"></form>`;
}

function answerForm(
  occurrence: string,
  question: string,
  reply: ReplyState | null,
  label: string,
  meant: ReplyState | null,
  /** How they come, as far as they said; null where they are not asked. */
  how: string | null,
): string {
  const button = (state: ReplyState, text: string): string =>
    `<button name="state" value="${state}"${reply === state ? ' aria-pressed="true"' : ''}${meant === state ? ' autofocus' : ''}>${text}</button>`;
  const once =
    meant === null || meant === reply
      ? ''
      : `<p class="notice">You pressed “${words[meant]}” in the message. Press it once more here, and we know that it was you.</p>`;
  return `<form method="post" class="answer"><h2>${question}</h2>
${once}<p>${label}: <strong>${words[reply ?? 'needs-action']}${reply === 'accepted' && how ? `, ${howWords[how] ?? ''}` : ''}</strong></p>
<input type="hidden" name="occurrence" value="${escapeHtml(occurrence)}">
<p>${how === null ? button('accepted', 'Yes') : yesHow(reply, how)} ${button('tentative', 'Perhaps')} ${button('declined', 'No')}</p>
<p><label>A word to us <input name="comment" maxlength="500"></label></p></form>`;
}

const howWords: Readonly<Record<string, string>> = { 'in-person': 'in person', online: 'online' };

/** A yes in two ways. */
const yesHow = (reply: ReplyState | null, how: string): string =>
  presences
    .map(
      (one) =>
        `<button name="state" value="${one}"${reply === 'accepted' && how === one ? ' aria-pressed="true"' : ''}>Yes, ${howWords[one]}</button>`,
    )
    .join(' ');

/** A form for each of the next dates, since one may come to some of them. */
function dateForms(
  { version: { facts } }: StoredEvent,
  {
    dates,
    reply: whole,
    isByDate,
    presenceAt,
  }: {
    readonly presenceAt: (key: string) => string;
    readonly dates: ReadonlyMap<string, ReplyState>;
    readonly reply: ReplyState | null;
    readonly isByDate: boolean;
  },
  nowMs: number,
  manner: Manner,
): string {
  const fromMs = nextOccurrence(facts, nowMs)?.startMs ?? nowMs;
  const next = occurrencesBetween(facts, fromMs, fromMs + 200 * 86_400_000, 8);
  // What was answered can be answered anew, however far away it is.
  const answered = [...dates.keys()]
    .flatMap((key) => findOccurrence(facts, key) ?? [])
    .filter(({ endMs }) => endMs > nowMs);
  const forms = [...new Map([...next, ...answered].map((date) => [date.key, date])).values()]
    .sort((a, b) => a.startMs - b.startMs)
    // Who came by date may not take a place by the back door: other dates are taken on the event's page.
    .filter(({ calledOff, key }) => !calledOff && (!isByDate || dates.has(key)))
    .map(({ key, facts: own }) => {
      const reply = dates.get(key) ?? whole;
      const button = (state: ReplyState, text: string): string =>
        `<button name="state" value="${state}"${reply === state ? ' aria-pressed="true"' : ''}>${text}</button>`;
      const how = isHybrid(own) ? presenceAt(key) : null;
      const saysHow = reply === 'accepted' && how ? `, ${howWords[how] ?? ''}` : '';
      return `<form method="post" class="date"><span>${escapeHtml(sayWhen(own, '', manner))}: <strong>${words[reply ?? 'needs-action']}${saysHow}</strong></span>
<input type="hidden" name="occurrence" value="${escapeHtml(key)}"><span>${how === null ? button('accepted', 'Yes') : yesHow(reply, how)} ${button('declined', 'No')}</span></form>`;
    });
  const heading = isByDate ? 'Are you coming?' : 'Or date by date';
  return forms.length ? `<h2>${heading}</h2>${forms.join('')}` : '';
}
