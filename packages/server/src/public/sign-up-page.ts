import express, { type Request, type Response, type Router } from 'express';
import * as z from 'zod';
import {
  escapeHtml,
  holdsAddress,
  isEmail,
  isLanguage,
  languages,
  readZone,
  sayZone,
  zonesIn,
  type Language,
} from '@convite/core';
import { phoneReader } from '../files/read-phone';
import type { Context } from '../services/context';
import {
  askToJoin,
  confirmSignup,
  detailsOf,
  findSignup,
  languageOf,
  type Joining,
  type TypedDetail,
} from '../services/audience/sign-up';
import type { Signup, StoredSignupForm } from '../store/signups';
import { formLimit } from './form-limit';
import { ownWords, type OwnWords } from './own-words';
import { publicHouse, sendNotThere, writePage } from './page';
import { zoneList } from './preferences-page';

const given = z.object({
  name: z.string().max(200).default(''),
  email: z.string().trim().max(254).default(''),
  mobile: z.string().trim().max(40).default(''),
  zone: z.string().trim().max(64).default(''),
  topics: z
    .union([z.string().max(60), z.array(z.string().max(60)).max(100)])
    .default([])
    .transform((topics) => [topics].flat()),
  emailOk: z.string().max(5).default(''),
  textOk: z.string().max(5).default(''),
  /** People do not see this field; machines fill it in. */
  website: z.string().max(2000).default(''),
});
type Given = z.infer<typeof given>;
const blank: Given = { name: '', email: '', mobile: '', zone: '', topics: [], emailOk: '', textOk: '', website: '' };

/** Where people sign up by themselves, and say that it was they. No box is ticked for them, and no puzzle is asked. */
export function signUpPageRoutes(routes: Router, context: Context): void {
  const { store } = context;
  const look = async (request: Request) => {
    const settings = await store.house.settings();
    const accepted = request.acceptsLanguages();
    const language = languageOf(accepted, languages) ?? settings.language;
    return { house: await publicHouse(context), settings, accepted, language, words: ownWords[language] };
  };

  routes.get('/join/:key', async (request, response) => {
    const { house, settings, accepted, language, words } = await look(request);
    const form = await store.signups.formByKey(request.params.key);
    if (!form) return sendNotThere(response, house);
    const typed = { ...blank, zone: guessZone(accepted) ?? settings.zone };
    const body = form.isOpen ? writeForm(form, typed, '', words) : `<p class="notice">${escapeHtml(words.closed)}</p>`;
    response.send(writePage(form.name, house, body, language));
  });

  routes.post(
    '/join/:key',
    formLimit(),
    express.urlencoded({ extended: false, limit: '10kb' }),
    async (request, response) => {
      const { house, settings, language, words } = await look(request);
      const form = await store.signups.formByKey(String(request.params['key']));
      const typed = given.safeParse(request.body);
      if (!form || !typed.success) return sendNotThere(response, house);
      const say = (status: number, body: string): Response =>
        response.status(status).send(writePage(form.name, house, body, language));
      if (!form.isOpen) return void say(410, `<p class="notice">${escapeHtml(words.closed)}</p>`);
      const read = readJoining(form, typed.data, { words, region: settings.region, language });
      if (typeof read === 'string') return void say(422, writeForm(form, typed.data, read, words));
      // A machine reads the same answer as anybody, and nobody is written to.
      if (typed.data.website === '') await askToJoin(context, form, read, words);
      say(
        200,
        `<h1>${escapeHtml(form.name)}</h1><p class="thanks" role="status">${escapeHtml(words.oneStepMore(read.email))}</p>`,
      );
    },
  );

  routes.get('/j/:token', async (request, response) => {
    const house = await publicHouse(context);
    const found = await findSignup(context, request.params.token);
    if (!found) return sendNotThere(response, house);
    const language = isLanguage(found.language) ? found.language : (house.manner.language ?? 'en');
    const words = ownWords[language];
    const body = found.signup.isConfirmed
      ? `<p class="thanks">${escapeHtml(words.joined)}</p>`
      : `<h1>${escapeHtml(found.form.name)}</h1><p>${escapeHtml(words.joinQuestion)}</p>${writeStored(found.signup, await detailsOf(context, found.signup), words)}<form method="post"><p><button>${escapeHtml(words.joinYes)}</button></p></form><p class="small">${escapeHtml(words.elseNothing)}</p>`;
    response.send(writePage(found.form.name, house, body, language));
  });
  routes.post('/j/:token', express.urlencoded({ extended: false, limit: '1kb' }), async (request, response) => {
    const house = await publicHouse(context);
    const found = await findSignup(context, String(request.params['token']));
    if (!found) return sendNotThere(response, house);
    const details = await detailsOf(context, found.signup);
    const id = await confirmSignup(context, found);
    const person = await store.subscribers.find(id);
    const language = isLanguage(found.language) ? found.language : (house.manner.language ?? 'en');
    const words = ownWords[language];
    const link = person && context.links.preferences(id, person.feedNonce);
    const body = `<h1>${escapeHtml(found.form.name)}</h1><p class="thanks" role="status">${escapeHtml(words.joined)}</p>
<p class="description">${escapeHtml(found.form.thanks)}</p>${found.signup.textWords && details.some(({ part, isKept }) => part === 'mobile' && !isKept) ? `<p>${escapeHtml(words.startForTexts(found.signup.mobile))}</p>` : ''}${link ? `<p><a href="${escapeHtml(link)}">${escapeHtml(words.preferences)}</a></p>` : ''}`;
    response.send(writePage(found.form.name, house, body, language));
  });
}

/** What confirming stores, and what of it is known otherwise and stays. */
function writeStored(signup: Signup, details: readonly TypedDetail[], words: OwnWords): string {
  const row = (term: string, text: string): string =>
    text ? `<dt>${escapeHtml(term)}</dt><dd>${escapeHtml(text)}</dd>` : '';
  const rows = details.map(({ part, typed, isKept }) =>
    row(words[part], isKept ? words.staysAsKnown : part === 'zone' ? sayZone(typed) : typed),
  );
  return `<p>${escapeHtml(words.willBeStored)}</p><dl>${row(words.email, signup.email)}${rows.join('')}${row(words.topics, signup.topics.join(', '))}${row(
    words.agreesTo,
    [signup.emailWords, signup.textWords].filter(Boolean).join(' · '),
  )}</dl>`;
}

/**
 * By the country of the languages that a browser asks for: it is shown, and can be set right. English of the United States is
 * what browsers ask for wherever nobody chose a language (common practice), so it says nothing.
 */
function guessZone(accepted: readonly string[]): string | null {
  const [country] = accepted
    .filter((tag) => !/^en-us$/i.test(tag))
    .flatMap((tag) => /-([A-Z]{2})$/i.exec(tag)?.[1]?.toUpperCase() ?? []);
  return (country && zonesIn([country])[0]) ?? null;
}

/** @returns what is wrong, in words, or what somebody asks for */
function readJoining(
  form: StoredSignupForm,
  typed: Given,
  { words, region, language }: { readonly words: OwnWords; readonly region: string; readonly language: Language },
): Joining | string {
  const email = typed.email.normalize('NFC').toLowerCase();
  if (!isEmail(email)) return words.badAddress;
  if (holdsAddress(typed.name)) return words.nameIsAddress;
  const phone = form.asksMobile && typed.mobile ? phoneReader(region)(typed.mobile) : null;
  if (form.asksMobile && typed.mobile && !phone) return words.badMobile;
  const zone = typed.zone === '' ? '' : readZone(typed.zone);
  if (zone === null) return words.badZone;
  if (!typed.emailOk) return words.needsConsent;
  return {
    email,
    name: typed.name,
    mobile: phone && !phone.isLandline ? phone.number : '',
    zone,
    zoneFrom: '',
    language,
    topics: typed.topics.filter((topic) => form.topics.includes(topic)),
    emailWords: form.emailWords,
    textWords: typed.textOk ? form.textWords : '',
  };
}

function writeForm(form: StoredSignupForm, typed: Given, problem: string, words: OwnWords): string {
  const field = (name: 'name' | 'email' | 'mobile', label: string, more: string): string =>
    `<p><label>${escapeHtml(label)} <input name="${name}" value="${escapeHtml(typed[name])}" ${more}></label></p>`;
  const box = (name: string, value: string, isTicked: boolean, label: string): string =>
    `<label class="choice"><input type="checkbox" name="${name}" value="${escapeHtml(value)}"${isTicked ? ' checked' : ''}> <span>${escapeHtml(label)}</span></label>`;
  const zone = typed.zone && readZone(typed.zone) ? sayZone(readZone(typed.zone) ?? '') : typed.zone;
  return `<h1>${escapeHtml(form.name)}</h1><p class="description">${escapeHtml(form.intro)}</p>
${problem ? `<p class="notice" role="alert">${escapeHtml(problem)}</p>` : ''}
<form method="post">
${field('name', words.name, 'maxlength="200" autocomplete="name"')}
${field('email', words.email, 'type="email" required maxlength="254" autocomplete="email"')}
${form.asksMobile ? field('mobile', words.mobile, 'type="tel" maxlength="40" autocomplete="tel"') : ''}
<p><label>${escapeHtml(words.zone)} <input name="zone" list="zones" maxlength="64" value="${escapeHtml(zone)}" placeholder="${escapeHtml(words.zoneHint)}"></label></p>${zoneList()}
${form.topics.length ? `<h2>${escapeHtml(words.topics)}</h2><fieldset><legend>${escapeHtml(words.allTopics)}</legend>${form.topics.map((topic) => box('topics', topic, typed.topics.includes(topic), topic)).join('')}</fieldset>` : ''}
<fieldset class="agreeing">${box('emailOk', 'yes', typed.emailOk !== '', form.emailWords)}${form.asksMobile && form.textWords ? box('textOk', 'yes', typed.textOk !== '', form.textWords) : ''}</fieldset>
<p class="unseen" aria-hidden="true"><label>${escapeHtml(words.leaveEmpty)} <input name="website" tabindex="-1" autocomplete="off"></label></p>
<p><button>${escapeHtml(words.join)}</button></p>
</form>`;
}
