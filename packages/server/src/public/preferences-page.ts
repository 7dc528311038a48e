import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import {
  escapeHtml,
  isLanguage,
  languages,
  readZone,
  sayZone,
  timeWords,
  zoneNames,
  type Language,
} from '@convite/core';
import type { Context } from '../services/context';
import { noteOpened } from '../services/audience/note-opened';
import { heldAbout } from '../services/audience/held-about';
import { erasePerson } from '../services/audience/erase-person';
import {
  addressOf,
  agreeAddressChange,
  askAddressChange,
  findAddressChange,
  findOwn,
  saveOwn,
  sendNewLink,
  type Own,
  type OwnEdit,
} from '../services/audience/own-side';
import { Failure } from '../services/failure';
import { nowOf } from '../services/context';
import { formLimit } from './form-limit';
import { newLinkWords, ownWords, type OwnWords } from './own-words';
import { askForNewLink, noticesOf } from './stale-link';
import { publicHouse, sendNotThere, writePage, type PublicHouse } from './page';

const given = z.object({
  name: z.string().max(200).default(''),
  language: z.string().max(8).default(''),
  zone: z.string().max(64).default(''),
  topics: z
    .union([z.string().max(60), z.array(z.string().max(60)).max(100)])
    .default([])
    .transform((topics) => [topics].flat()),
  byEmail: z.string().max(5).default(''),
  byText: z.string().max(5).default(''),
  quietUntil: z.string().max(10).default(''),
  mindsNoting: z.string().max(5).default(''),
  mostPerWeek: z
    .string()
    .regex(/^[1-9]?$/)
    .default('')
    .transform((most) => (most === '' ? null : Number(most))),
});
const form = express.urlencoded({ extended: false, limit: '20kb' });

/** What somebody gets, in their own hands: plain HTML without script, in their language. Looking changes nothing. */
export function preferencesPageRoutes(routes: Router, context: Context): void {
  const { links } = context;
  const open = async (
    token: string,
    response: Response,
    act: (own: Own, words: OwnWords, house: PublicHouse, language: Language) => Promise<void>,
  ): Promise<void> => {
    const house = await publicHouse(context);
    const own = await findOwn(context, token);
    if (!own) return links.readPreferences(token) === null ? sendNotThere(response, house) : showStale(response, house);
    const language = await languageFor(context, own);
    await act(own, ownWords[language], house, language);
  };
  /** A link that was made here and is good no more: another is mailed to whoever it was for. */
  const showStale = async (
    response: Response,
    house: PublicHouse,
    said: { readonly thanks?: string; readonly problem?: string; readonly status?: number } = {},
  ): Promise<void> => {
    const { language } = await context.store.house.settings();
    askForNewLink(response, house, { words: ownWords[language], language, ...said });
  };
  const show = (
    response: Response,
    token: string,
    own: Own,
    house: PublicHouse,
    said: { thanks?: string; problem?: string; status?: number } = {},
    language: Language = 'en',
  ): void => {
    const words = ownWords[language];
    response
      .status(said.status ?? 200)
      .send(
        writePage(
          words.preferences,
          house,
          writePreferences(links.personPage(own.person.id, own.feedNonce), `/p/${token}`, own, words, said),
          language,
        ),
      );
  };

  routes.post('/p/again', formLimit(), form, async (request, response) => {
    const house = await publicHouse(context);
    const email = z.object({ email: z.string().max(254) }).safeParse(request.body).data?.email ?? '';
    const { language } = await context.store.house.settings();
    // Not waited for: neither the answer nor its time says whether the address is known. What was not mailed is asked for again.
    sendNewLink(context, email, newLinkWords).catch(() => undefined);
    const said =
      addressOf(email) === null
        ? { problem: ownWords[language].badAddress, status: 422 }
        : { thanks: ownWords[language].linkSent, status: 200 };
    await showStale(response, house, said);
  });
  routes.get('/p/:token', async (request, response) => {
    const { token } = request.params;
    await open(token, response, (own, _words, house, language) => {
      void noteOpened(context, own.person.id, 'preferences');
      show(response, token, own, house, {}, language);
      return Promise.resolve();
    });
  });
  routes.post('/p/:token', form, async (request, response) => {
    const token = String(request.params['token']);
    await open(token, response, async (own, words, house, language) => {
      const typed = given.safeParse(request.body);
      if (!typed.success) return sendNotThere(response, house);
      const { byEmail, byText, mindsNoting, ...edit } = typed.data;
      const said = { ...edit, byEmail: byEmail !== '', byText: byText !== '', mindsNoting: mindsNoting !== '' };
      const problem = await saveOwn(context, own, said);
      const refused = { problem: words.badZone, status: 422 };
      if (problem) return show(response, token, asTyped(own, said), house, refused, language);
      const after = (await findOwn(context, token)) ?? own;
      const now = await languageFor(context, after);
      show(response, token, after, house, { thanks: ownWords[now].saved }, now);
    });
  });
  routes.post('/p/:token/address', form, async (request, response) => {
    const token = String(request.params['token']);
    await open(token, response, async (own, words, house, language) => {
      const email = z.object({ email: z.string().max(254) }).safeParse(request.body).data?.email ?? '';
      const about = { subject: words.anotherAddress, yes: words.addressYes, question: words.addressQuestion };
      const said = {
        asked: { thanks: words.askedBoth },
        'no-address': { problem: words.badAddress, status: 422 },
        'too-soon': { problem: words.askedAlready, status: 429 },
      }[await askAddressChange(context, own, email, about)];
      show(response, token, own, house, said, language);
    });
  });
  routes.get('/p/:token/held.json', async (request, response) => {
    await open(request.params.token, response, async (own) => {
      const held = await heldAbout(context, own.person.id);
      await context.store.house.audit(nowOf(context), `person ${own.person.id}`, 'held: taken by themselves', '');
      response.set('cache-control', 'no-store').attachment('held.json').json(held);
    });
  });
  routes.get('/p/:token/forget', async (request, response) => {
    const { token } = request.params;
    await open(token, response, (_own, words, house, language) => {
      const body = `<h1>${escapeHtml(words.forget)}</h1><p>${escapeHtml(words.forgetAbout)}</p>
<form method="post"><p><button>${escapeHtml(words.forgetYes)}</button></p></form>
<p><a href="/p/${escapeHtml(token)}">${escapeHtml(words.preferences)}</a></p>`;
      response.send(writePage(words.forget, house, body, language));
      return Promise.resolve();
    });
  });
  routes.post('/p/:token/forget', form, async (request, response) => {
    await open(String(request.params['token']), response, async (own, words, house, language) => {
      await erasePerson(context, own.person.id, { name: 'themselves', address: request.ip ?? '' });
      response.send(
        writePage(words.forget, house, `<p class="thanks" role="status">${escapeHtml(words.forgotten)}</p>`, language),
      );
    });
  });

  routes.get('/a/:token', async (request, response) => {
    const house = await publicHouse(context);
    const found = await findAddressChange(context, request.params.token);
    if (!found) return sendNotThere(response, house);
    const language = languageOr(found.person.language, (await context.store.house.settings()).language);
    const words = ownWords[language];
    const body = `<h1>${escapeHtml(words.anotherAddress)}</h1><p>${escapeHtml(words.addressQuestion(found.change.email))}</p>
<form method="post"><p><button>${escapeHtml(words.addressYes)}</button></p></form>`;
    response.send(writePage(words.anotherAddress, house, body, language));
  });
  routes.post('/a/:token', form, async (request, response) => {
    const house = await publicHouse(context);
    const found = await findAddressChange(context, String(request.params['token']));
    if (!found) return sendNotThere(response, house);
    const language = languageOr(found.person.language, (await context.store.house.settings()).language);
    const words = ownWords[language];
    const say = (kind: 'thanks' | 'notice', text: string, status = 200): void =>
      void response
        .status(status)
        .send(
          writePage(words.anotherAddress, house, `<p class="${kind}" role="status">${escapeHtml(text)}</p>`, language),
        );
    try {
      const done = await agreeAddressChange(context, found);
      say('thanks', done === 'done' ? words.addressDone : words.addressOneEnd);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      say('notice', error.message, error.status);
    }
  });
}

const languageOr = (own: string, house: Language): Language => (isLanguage(own) ? own : house);
const languageFor = async ({ store }: Context, { person }: Own): Promise<Language> =>
  languageOr(person.language, (await store.house.settings()).language);

/** Zones for choosing one by typing a city, where the browser offers them. */
/** What was typed and not saved: nothing of it is lost. */
const asTyped = (
  own: Own,
  { name, zone, language, byEmail, byText, topics, quietUntil, mostPerWeek, mindsNoting }: OwnEdit,
): Own => ({
  ...own,
  topics,
  quietUntil,
  person: {
    ...own.person,
    name,
    zone,
    language: isLanguage(language) ? language : '',
    emailConsent: byEmail,
    textConsent: byText,
    mostPerWeek,
    mindsNoting,
  },
});

export const zoneList = (): string =>
  `<datalist id="zones">${zoneNames()
    .map((zone) => `<option value="${zone}">`)
    .join('')}</datalist>`;

/** What is offered, and what was chosen elsewhere. */
const mostOffered = (chosen: number | null): number[] =>
  [...new Set([1, 2, 3, 5, ...(chosen === null ? [] : [chosen])])].sort((a, b) => b - a);

function writePreferences(
  calendarUrl: string,
  at: string,
  { person, topics, offered, quietUntil, notesPages }: Own,
  words: OwnWords,
  said: { readonly thanks?: string; readonly problem?: string },
): string {
  const tick = (name: string, value: string, isTicked: boolean, label: string): string =>
    `<label class="choice"><input type="checkbox" name="${name}" value="${escapeHtml(value)}"${isTicked ? ' checked' : ''}> <span>${escapeHtml(label)}</span></label>`;
  const option = (value: string, label: string): string =>
    `<option value="${value}"${value === person.language ? ' selected' : ''}>${escapeHtml(label)}</option>`;
  const notices = noticesOf(said);
  const byText = person.mobile ? tick('byText', 'yes', person.textConsent, words.byText(person.mobile)) : '';
  const asks = offered.length
    ? `<h2>${escapeHtml(words.topics)}</h2><fieldset><legend>${escapeHtml(words.allTopics)}</legend>${offered.map((topic) => tick('topics', topic, topics.includes(topic), topic)).join('')}</fieldset>`
    : '';
  const known = readZone(person.zone);
  const zone = known === null ? person.zone : sayZone(known);
  return `<h1>${escapeHtml(words.preferences)}</h1>${notices}
<form method="post" action="${at}">
<fieldset><legend>${escapeHtml(words.channels)}</legend>${tick('byEmail', 'yes', person.emailConsent, words.byEmail)}${byText}</fieldset>
${asks}
<p><label>${escapeHtml(words.howOften)} <select name="mostPerWeek"><option value="">${escapeHtml(words.asItComes)}</option>${mostOffered(
    person.mostPerWeek,
  )
    .map(
      (most) =>
        `<option value="${most}"${most === person.mostPerWeek ? ' selected' : ''}>${escapeHtml(words.aWeek(most))}</option>`,
    )
    .join('')}</select></label><br><span class="small">${escapeHtml(words.howOftenHint)}</span></p>
<p><label>${escapeHtml(words.pause)} <input type="date" name="quietUntil" value="${quietUntil}"></label><br><span class="small">${escapeHtml(words.pauseHint)}</span></p>
<p><label>${escapeHtml(words.name)} <input name="name" maxlength="200" autocomplete="name" value="${escapeHtml(person.name)}"></label></p>
<p><label>${escapeHtml(words.language)} <select name="language"><option value="">${escapeHtml(words.asWeWrite)}</option>${languages.map((one) => option(one, timeWords[one].name)).join('')}</select></label></p>
<p><label>${escapeHtml(words.zone)} <input name="zone" list="zones" maxlength="64" placeholder="${escapeHtml(words.zoneHint)}" value="${escapeHtml(zone)}"></label></p>${zoneList()}
${notesPages || person.mindsNoting ? `<p>${tick('mindsNoting', 'yes', person.mindsNoting, words.mindsNoting)}<span class="small">${escapeHtml(words.mindsNotingHint)}</span></p>` : ''}
<p><button>${escapeHtml(words.save)}</button></p>
</form>
<h2>${escapeHtml(words.anotherAddress)}</h2>
<p>${escapeHtml(person.email)}</p>
<form method="post" action="${at}/address"><p><label>${escapeHtml(words.newAddress)} <input name="email" type="email" required maxlength="254" autocomplete="email"></label></p>
<p><button>${escapeHtml(words.ask)}</button></p></form>
<ul class="dates"><li><a href="${escapeHtml(calendarUrl)}">${escapeHtml(words.yourCalendar)}</a></li>
<li><a href="${at}/held.json" download>${escapeHtml(words.held)}</a></li>
<li><a href="${at}/forget">${escapeHtml(words.forget)}</a></li></ul>`;
}
