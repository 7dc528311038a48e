import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import {
  escapeHtml,
  findOccurrence,
  nextOccurrence,
  occurrencesBetween,
  personalFacts,
  replyStates,
  sayRepeats,
  sayWhen,
  withoutAddresses,
  type Manner,
  type Occurrence,
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
import { describeFacts, publicHouse, sendNotThere, writeActions, writePage } from './page';
import { refusedWords } from './registration-form';
import { mannerOf } from '../services/sending/manner';

const given = z.object({
  state: z.enum(replyStates),
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
  const taken = await takeAnswer(context, event, person, { ...answer, comment: withoutAddresses(answer.comment) });
  if (taken === 'stored') return `Thank you: your answer is “${words[answer.state]}”.`;
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
${calledOff || isByDate ? '' : answerForm('', `${person.name ? `${escapeHtml(person.name)}, are` : 'Are'} you coming?`, reply, facts.series ? 'Your answer for all dates' : 'Your answer', meant)}
${doubted.length ? sayDoubted(doubted, manner) : ''}
${calledOff || !facts.series ? '' : dateForms(event, { dates, reply, isByDate }, clock.now(), manner)}
${writeActions(actions)}
<p class="description">${escapeHtml(shown.description)}</p>`;
  response.send(writePage(facts.title, await publicHouse(context), body));
}

/** What was answered for one date counts for that date, until it is answered anew. */
const sayDoubted = (dates: readonly Occurrence[], manner: Manner): string =>
  `<div class="notice"><p>You said no to the whole, and yes to single dates before. We count you as coming on these, until you say no to them too:</p>
<ul class="dates">${dates.map(({ facts }) => `<li>${escapeHtml(sayWhen(facts, '', manner))}</li>`).join('')}</ul></div>`;

function answerForm(
  occurrence: string,
  question: string,
  reply: ReplyState | null,
  label: string,
  meant: ReplyState | null,
): string {
  const button = (state: ReplyState, text: string): string =>
    `<button name="state" value="${state}"${reply === state ? ' aria-pressed="true"' : ''}${meant === state ? ' autofocus' : ''}>${text}</button>`;
  const once =
    meant === null || meant === reply
      ? ''
      : `<p class="notice">You pressed “${words[meant]}” in the message. Press it once more here, and we know that it was you.</p>`;
  return `<form method="post" class="answer"><h2>${question}</h2>
${once}<p>${label}: <strong>${words[reply ?? 'needs-action']}</strong></p>
<input type="hidden" name="occurrence" value="${escapeHtml(occurrence)}">
<p>${button('accepted', 'Yes')} ${button('tentative', 'Perhaps')} ${button('declined', 'No')}</p>
<p><label>A word to us <input name="comment" maxlength="500"></label></p></form>`;
}

/** A form for each of the next dates, since one may come to some of them. */
function dateForms(
  { version: { facts } }: StoredEvent,
  {
    dates,
    reply: whole,
    isByDate,
  }: {
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
      return `<form method="post" class="date"><span>${escapeHtml(sayWhen(own, '', manner))}: <strong>${words[reply ?? 'needs-action']}</strong></span>
<input type="hidden" name="occurrence" value="${escapeHtml(key)}"><span>${button('accepted', 'Yes')} ${button('declined', 'No')}</span></form>`;
    });
  const heading = isByDate ? 'Are you coming?' : 'Or date by date';
  return forms.length ? `<h2>${heading}</h2>${forms.join('')}` : '';
}
