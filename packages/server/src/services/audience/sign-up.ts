import { randomBytes } from 'node:crypto';
import { cut, escapeHtml, plainLine, type Language } from '@convite/core';
import { signupFields, type SignupChange, type SignupForm } from '@convite/contract';
import type { AskedSignup, Signup, StoredSignupForm } from '../../store/signups';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseStale } from '../failure';
import { mailAsked } from '../sending/mail-asked';
import { pressDocument, writeHouseEmail } from '../sending/write-message';

/** Every form, with where it is and how it is put into another page. */
export async function allForms(context: Context): Promise<SignupForm[]> {
  return (await context.store.signups.forms()).map(({ publicKey, ...fields }) => ({
    ...fields,
    url: context.links.join(publicKey),
    html: blockOf(context, { publicKey, ...fields }),
  }));
}

/** Plain HTML that another page takes as it is: it needs no script, and looks as that page looks. */
function blockOf({ links }: Pick<Context, 'links'>, form: StoredSignupForm): string {
  const box = (name: string, value: string, words: string): string =>
    `  <p><label><input type="checkbox" name="${name}" value="${escapeHtml(value)}"> ${escapeHtml(words)}</label></p>`;
  return [
    `<form method="post" action="${escapeHtml(links.join(form.publicKey))}">`,
    '  <p><label>Name <input name="name" maxlength="200"></label></p>',
    '  <p><label>Email <input name="email" type="email" required maxlength="254"></label></p>',
    ...(form.asksMobile ? ['  <p><label>Mobile <input name="mobile" type="tel" maxlength="40"></label></p>'] : []),
    ...form.topics.map((topic) => box('topics', topic, topic)),
    box('emailOk', 'yes', form.emailWords),
    ...(form.asksMobile && form.textWords ? [box('textOk', 'yes', form.textWords)] : []),
    '  <p><button>Sign up</button></p>',
    '</form>',
  ].join('\n');
}

/** Keeps a form. @throws Failure 404, 409 where somebody else saved meanwhile */
export async function saveForm(
  context: Context,
  id: number | null,
  { was, ...fields }: SignupChange,
  actor: Actor,
): Promise<number> {
  const now = nowOf(context);
  return context.store.transact(async (tx) => {
    for (const list of fields.lists) if (!(await tx.lists.has(list))) throw notFound('list');
    if (fields.asksMobile && !fields.textWords)
      throw new Failure(422, 'no-words', 'Say what one agrees to by giving a mobile number.');
    await tx.house.audit(now, actor, id === null ? 'sign-up form: made' : 'sign-up form: changed', fields.name);
    if (id === null) return tx.signups.create(randomBytes(8).toString('hex'), fields, now);
    const before = await tx.signups.formForUpdate(id);
    if (!before) throw notFound('form');
    refuseStale('form', signupFields.parse(before), was);
    await tx.signups.change(id, fields);
    return id;
  });
}

/** What somebody asks for on a form. */
export interface Joining extends AskedSignup {
  readonly email: string;
}

/**
 * Somebody signs up. Whoever types an address may not be its owner: one mail with one button asks there, and nothing in it was
 * typed by whoever asked. Nobody learns from the answer whether the address was known.
 * @throws Failure 502 when the mail cannot be sent now
 */
export async function askToJoin(
  context: Context,
  form: StoredSignupForm,
  { email, ...what }: Joining,
  words: JoinWords,
): Promise<void> {
  const { store, links } = context;
  const known = await store.subscribers.idByEmail(email);
  // Who opted out, or bounces, is not written to because somebody typed their address.
  if (known !== null && !(await store.subscribers.mayBeMailed(known))) return;
  if (!(await store.asked.mayWrite(email, 0, nowOf(context)))) return;
  const id = await store.signups.ask(form.id, email, { ...what, name: cut(plainLine(what.name), 200) }, nowOf(context));
  const settings = await store.house.settings();
  const document = pressDocument(`${words.join}: ${settings.organisation}`, words.joinQuestion, {
    label: words.joinYes,
    url: links.confirmSignup(id),
  });
  const message = writeHouseEmail(context, settings, { to: { name: '', address: email }, document });
  await mailAsked(context, message, [{ key: email, eventId: 0 }]);
}
export interface JoinWords {
  readonly join: string;
  readonly joinQuestion: string;
  readonly joinYes: string;
}

/** What is to be confirmed, with its form; null for what is not there any more. */
export async function findSignup(
  { store, links }: Context,
  token: string,
): Promise<{ signup: Signup; form: StoredSignupForm; language: string } | null> {
  const id = links.readSignup(token);
  const signup = id === null ? null : await store.signups.find(id);
  const form = signup && (await store.signups.form(signup.formId));
  return form ? { signup, form, language: signup.language } : null;
}

/** A typed detail, and whether another is known already, which stays: a form changes nothing that is known. */
export interface TypedDetail {
  readonly part: 'name' | 'mobile' | 'zone';
  readonly typed: string;
  readonly isKept: boolean;
}

/** What confirming would store, for the owner of the address to see before. */
export async function detailsOf({ store }: Pick<Context, 'store'>, signup: Signup): Promise<TypedDetail[]> {
  const id = await store.subscribers.idByEmail(signup.email);
  const known = id === null ? null : await store.subscribers.detail(id);
  return (['name', 'mobile', 'zone'] as const).flatMap((part) => {
    const typed = signup[part];
    return typed ? [{ part, typed, isKept: Boolean(known?.[part]) && known?.[part] !== typed }] : [];
  });
}

/**
 * The owner of the address says that it was they: they are in, as they asked, with the words that they agreed to. What is known
 * of them stays as it is.
 */
export async function confirmSignup(
  context: Context,
  { signup, form }: { readonly signup: Signup; readonly form: StoredSignupForm },
): Promise<number> {
  const now = nowOf(context);
  const id = await context.store.transact(async (tx) => {
    const isFirst = await tx.signups.confirm(signup.id, now);
    const { email, name, mobile, zone, language } = signup;
    const origin = (words: string) => ({ source: 'form', how: `“${words}” on the form ${form.name}`, by: '' }) as const;
    const person = { email, name, mobile, zone, language, textConsent: null, emailConsent: false };
    const personId = await tx.newcomers.ensure(person, origin(signup.emailWords), now);
    if (!isFirst) return personId;
    await tx.consents.note(personId, 'email', true, origin(signup.emailWords), now);
    // A number may be somebody else's: texts begin once START comes from it.
    for (const topic of signup.topics) await tx.subscribers.giveTopic([personId], topic);
    for (const list of form.lists) if (await tx.lists.has(list)) await tx.lists.join(list, [personId], now);
    await tx.house.audit(now, `person ${personId}`, 'sign-up: confirmed', form.name);
    return personId;
  });
  await context.store.live.touch('subscribers');
  return id;
}

/** In which of our languages somebody reads, as their browser says (RFC 9110 §12.5.4); null for none of them. */
export function languageOf(accepted: readonly string[], known: readonly Language[]): Language | null {
  for (const tag of accepted) {
    const found = known.find((one) => tag.toLowerCase().split('-')[0] === one);
    if (found) return found;
  }
  return null;
}
