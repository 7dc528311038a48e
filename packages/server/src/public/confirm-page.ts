import express, { type Router } from 'express';
import * as z from 'zod';
import {
  escapeHtml,
  findOccurrence,
  holdsAddress,
  isHybrid,
  plainLine,
  presences,
  sayInstant,
  sayWhen,
  type Presence,
} from '@convite/core';
import type { Context } from '../services/context';
import { confirmRequests, findConfirmation, type Confirmation } from '../services/registration/confirm';
import type { Registered } from '../services/registration/register';
import type { RegistrationRequest } from '../store/registration-requests';
import { publicHouse, sendNotThere, writePage, type PublicHouse } from './page';
import { howForm, refusedWords } from './registration-form';

const given = z.object({
  /** The requests that are confirmed. */
  take: z
    .union([z.string().max(20), z.array(z.string().max(20)).max(20)])
    .default([])
    .transform((ids) => [ids].flat().map(Number)),
  name: z
    .string()
    .max(200)
    .optional()
    .transform((name) => name && plainLine(name)),
  presence: z.enum(presences).optional().catch(undefined),
});

/** Where the owner of an address confirms that they registered. Looking confirms nothing: scanners fetch every link. */
export function confirmPageRoutes(routes: Router, context: Context): void {
  const { links } = context;
  const find = async (token: string) => {
    const id = links.readHold(token);
    return id === null ? null : findConfirmation(context, id);
  };

  routes.get('/c/:token', async (request, response) => {
    const house = await publicHouse(context);
    const found = await find(request.params.token);
    if (!found) return sendNotThere(response, house);
    response.send(writeConfirmation(context, house, found));
  });

  routes.post('/c/:token', express.urlencoded({ extended: false, limit: '10kb' }), async (request, response) => {
    const house = await publicHouse(context);
    const found = await find(String(request.params['token']));
    const typed = given.safeParse(request.body ?? {});
    if (!found || !typed.success) return sendNotThere(response, house);
    const { take, name, presence } = typed.data;
    // Pressed once more, it says what it said.
    const open = found.open.length ? found.open : [found.request];
    const chosen = open.filter(({ id }) => take.includes(id));
    const problem =
      chosen.length === 0
        ? 'Choose what you want to register for.'
        : name && holdsAddress(name)
          ? 'A name holds no web or mail address.'
          : '';
    if (problem) {
      response.status(422).send(writeConfirmation(context, house, found, { problem, name, presence }));
      return;
    }
    const done = await confirmRequests(context, chosen, { name, presence });
    const isDown = done.every(({ done: one }) => one?.kind === 'down' || one?.kind === 'waiting');
    response
      .status(isDown ? 200 : 409)
      .send(
        writePage(
          found.event.version.facts.title,
          house,
          `<h1>${escapeHtml(found.event.version.facts.title)}</h1>${done.map((one) => sayDone(found, house, one)).join('')}`,
        ),
      );
  });
}

interface Typed {
  readonly problem: string;
  readonly name: string | undefined;
  readonly presence: Presence | undefined;
}

/** All that was asked for the address, to choose from and to correct. */
function writeConfirmation(context: Context, house: PublicHouse, found: Confirmation, typed?: Typed): string {
  const { event, request, open, elsewhere } = found;
  const { facts } = event.version;
  const others = elsewhere.length
    ? `<h2>Also asked for this address</h2><ul>${elsewhere.map((one) => `<li><a href="${escapeHtml(context.links.confirmHold(one.requestId))}">${escapeHtml(one.event.version.facts.title)}</a></li>`).join('')}</ul>`
    : '';
  const body = open.length
    ? writeForm(house, found, typed)
    : `<p class="thanks">${request.isConfirmed ? (request.waits ? 'You are on the waitlist.' : 'You are registered.') : 'This request has expired. Register again on the event’s page.'}</p>`;
  return writePage(facts.title, house, `<h1>${escapeHtml(facts.title)}</h1>${body}${others}`);
}

function writeForm(house: PublicHouse, { event, request, open }: Confirmation, typed?: Typed): string {
  const { facts } = event.version;
  const wanted = open.find(({ id }) => id === request.id) ?? open[0] ?? request;
  const problem = typed?.problem ? `<p class="notice" role="alert">${escapeHtml(typed.problem)}</p>` : '';
  const expires = sayInstant(Math.max(...open.map(({ expiresAt }) => expiresAt.getTime())), facts.zone, house.manner);
  const isOne = open.length === 1;
  const legend = isOne ? '' : '<legend>What was asked for this address</legend>';
  const waits = open.every((one) => one.waits);
  const first = facts.registration?.waitlist
    ? 'Places go to whoever confirms first. If it is full by then, you are at the front of the waitlist.'
    : 'Places go to whoever confirms first.';
  return `${problem}<form method="post"><fieldset>${legend}${open.map((one) => writeRequest(house, event.version.facts, one, isOne ? 'only' : one.id === wanted.id ? 'chosen' : 'other')).join('')}</fieldset>
<p><label>Your name <input name="name" maxlength="200" autocomplete="name" value="${escapeHtml(typed?.name ?? wanted.name)}"></label></p>
${isHybrid(facts) ? howForm(typed?.presence ?? wanted.presence ?? 'in-person') : ''}
<p>${waits ? 'We write as soon as a place is free.' : first}</p>
<p><button>${waits ? 'Join the waitlist' : 'Confirm registration'}</button></p></form>
<p class="small">Was it not you? Then do nothing: the request ends on ${escapeHtml(expires)}.</p>`;
}

/** One request: of a series several can be chosen, of a one-off one. */
function writeRequest(
  house: PublicHouse,
  facts: Confirmation['event']['version']['facts'],
  { id, occurrence, name, askedAt }: RegistrationRequest,
  how: 'only' | 'chosen' | 'other',
): string {
  const date = findOccurrence(facts, occurrence);
  const when = escapeHtml(sayWhen((date ?? { facts }).facts, '', house.manner));
  if (how === 'only') return `<p>${when}</p><input type="hidden" name="take" value="${id}">`;
  const asked = `${name ? `${name}, ` : ''}asked ${sayInstant(askedAt.getTime(), facts.zone, house.manner)}`;
  const kind = facts.series ? 'checkbox' : 'radio';
  return `<label class="choice"><input type="${kind}" name="take" value="${id}"${how === 'chosen' ? ' checked' : ''}> <span>${when}<br><span class="small">${escapeHtml(asked)}</span></span></label>`;
}

function sayDone(
  { event, open }: Confirmation,
  house: PublicHouse,
  { request, done }: { readonly request: RegistrationRequest; readonly done: Registered | null },
): string {
  const date = findOccurrence(event.version.facts, request.occurrence);
  const of = open.length > 1 && date ? `${escapeHtml(sayWhen(date.facts, '', house.manner))}: ` : '';
  const isDown = done?.kind === 'down' || done?.kind === 'waiting';
  if (!isDown)
    return `<p class="notice" role="alert">${of}${refusedWords(done?.kind === 'refused' ? done.state : null)}</p>`;
  const late =
    !request.waits && done.kind === 'waiting'
      ? 'It was full already: you are at the front of the waitlist.'
      : 'You are on the waitlist.';
  return `<p class="thanks" role="status">${of}${done.kind === 'down' ? 'You are registered. The calendar entry is sent to you by mail.' : `${late} We write as soon as a place is free.`}</p>`;
}
