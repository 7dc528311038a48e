import {
  cut,
  isDay,
  isEmail,
  isLanguage,
  withoutAddresses,
  readZone,
  sayZone,
  resolveWallTime,
  wallTimeAt,
  type Language,
} from '@convite/core';
import { isDuplicate } from '../../store/database';
import type { PersonOwnFacts, Recipient } from '../../store/subscribers';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { mailAsked } from '../sending/mail-asked';
import { pressDocument, writeHouseEmail } from '../sending/write-message';

/** A subscriber at their own preferences. */
export interface Own {
  readonly person: PersonOwnFacts;
  readonly topics: readonly string[];
  /** Those that the house offers, and those that they have beside. */
  readonly offered: readonly string[];
  /** The day until which they asked for quiet; empty for none. */
  readonly quietUntil: string;
  readonly feedNonce: number;
  /** The house notes which pages, or which links, people open. */
  readonly notesPages: boolean;
}

/** Whose preferences a token names; null for a token that was not made here, or is worthless by now. */
export async function findOwn({ store, links, clock }: Context, token: string): Promise<Own | null> {
  const named = links.readPreferences(token);
  const recipient = named && (await store.subscribers.find(named.subscriberId));
  if (!recipient || recipient.feedNonce !== named.nonce) return null;
  const person = await store.subscribers.detail(await store.subscribers.whoIs(recipient.id));
  if (!person) return null;
  const settings = await store.house.settings();
  const topics = (await store.subscribers.topicsOf([person.id])).get(person.id) ?? [];
  const pausedMs = person.pausedUntil === null ? 0 : Date.parse(person.pausedUntil);
  return {
    person,
    topics,
    offered: [...new Set([...settings.topics, ...topics])],
    quietUntil: pausedMs > clock.now() ? wallTimeAt(pausedMs, person.zone || settings.zone).slice(0, 10) : '',
    feedNonce: recipient.feedNonce,
    notesPages: settings.notesPages || settings.countsOpens || settings.countsLinks === 'by-person',
  };
}

/** What somebody says for themselves. */
export interface OwnEdit {
  readonly name: string;
  readonly language: string;
  /** As typed: a zone or a city. Empty keeps what is known. */
  readonly zone: string;
  readonly topics: readonly string[];
  readonly byEmail: boolean;
  readonly byText: boolean;
  /** A day; empty for no pause. */
  readonly quietUntil: string;
  /** So many messages a week at most; null for as they come. */
  readonly mostPerWeek: number | null;
  /** Wants nothing noted of the pages that they open. */
  readonly mindsNoting: boolean;
}

/** Saves what somebody said on their page. @returns what cannot be used: the zone */
export async function saveOwn(
  context: Context,
  { person, topics, offered, notesPages }: Own,
  edit: OwnEdit,
): Promise<'zone' | null> {
  const { store } = context;
  const typed = edit.zone.trim();
  // As it was shown it is the same, also where two zones are called alike.
  const isSame = typed === '' || (person.zone !== '' && typed === sayZone(person.zone));
  const zone = isSame ? person.zone : readZone(typed);
  if (zone === null) return 'zone';
  const language: Language | '' = isLanguage(edit.language) ? edit.language : '';
  const settings = await store.house.settings();
  const now = nowOf(context);
  const said = { source: 'form', how: 'said so on the page of their preferences', by: `person ${person.id}` } as const;
  const quietUntil = isDay(edit.quietUntil)
    ? new Date(resolveWallTime(`${edit.quietUntil}T00:00`, zone || settings.zone))
    : null;
  await store.transact(async (tx) => {
    await tx.subscribers.saySelf(person.id, {
      name: cut(withoutAddresses(edit.name), 200),
      language,
      zone,
      quietUntil: quietUntil !== null && quietUntil > now ? quietUntil : null,
      mostPerWeek: edit.mostPerWeek,
    });
    // Asked only where it is noted, or where they minded before.
    if ((notesPages || person.mindsNoting) && edit.mindsNoting !== person.mindsNoting)
      await tx.pagesOpened.setMinds(person.id, edit.mindsNoting);
    const wanted = edit.topics.filter((topic) => offered.includes(topic));
    for (const topic of topics) if (!wanted.includes(topic)) await tx.subscribers.takeTopic([person.id], topic);
    for (const topic of wanted) if (!topics.includes(topic)) await tx.subscribers.giveTopic([person.id], topic);
    if (edit.byEmail && !person.emailConsent) await tx.consents.note(person.id, 'email', true, said, now);
    if (!edit.byEmail && !person.optedOut) await tx.consents.optOut(person.id, said, now);
    if (person.mobile && edit.byText !== person.textConsent)
      await tx.consents.note(person.id, 'text', edit.byText, said, now);
    await tx.house.audit(now, `person ${person.id}`, 'preferences: saved by themselves', '');
  });
  await store.live.touch('subscribers');
  return null;
}

/**
 * Asks both ends whether another address is to be theirs: once an hour at most, so that nobody has us write to many who never
 * heard of us. Nobody learns whether it is somebody else's already; who opted out or bounces is not written to for it.
 * @throws Failure 502 when the mail cannot be sent now
 */
export async function askAddressChange(
  context: Context,
  { person }: Own,
  typed: string,
  words: AddressWords,
): Promise<'asked' | 'no-address' | 'too-soon'> {
  const { store, links } = context;
  const email = addressOf(typed);
  if (email === null) return 'no-address';
  if (email === person.email) return 'asked';
  const now = nowOf(context);
  const asker = `person ${person.id}`;
  if (!(await store.asked.mayWrite(asker, 0, now))) return 'too-soon';
  const other = await store.subscribers.idByEmail(email);
  const isTaken = other !== null && !(await store.subscribers.mayBeMailed(other));
  const settings = await store.house.settings();
  const id = await store.signups.askAddress(person.id, email, now);
  for (const [end, address] of [
    ['old', person.email],
    ['new', email],
  ] as const) {
    if (!address || (end === 'new' && (isTaken || !(await store.asked.mayWrite(address, 0, now))))) continue;
    const document = pressDocument(words.subject, words.question(email), {
      label: words.yes,
      url: links.addressChange(id, end),
    });
    const message = writeHouseEmail(context, settings, { to: { name: '', address }, document });
    const counted = [asker, ...(end === 'new' ? [address] : [])].map((key) => ({ key, eventId: 0 }));
    await mailAsked(context, message, counted);
  }
  // Whoever has no address yet has none to ask.
  if (!person.email) await store.transact((tx) => tx.signups.agreeAddress(id, 'old'));
  return 'asked';
}

/**
 * Mails somebody a new link to their preferences: once an hour at most, to who may be written to. Nobody learns whether it is
 * somebody's address.
 */
export async function sendNewLink(context: Context, typed: string, wordsFor: LinkWords): Promise<void> {
  const { store } = context;
  const email = addressOf(typed);
  if (email === null) return;
  const id = await store.subscribers.idByEmail(email);
  const person = id === null ? null : await store.subscribers.find(id);
  // A stranger must not wake who opted out.
  if (!person || !(await store.subscribers.mayBeMailed(person.id))) return;
  if (await store.asked.mayWrite(person.email, 0, nowOf(context))) await mailLink(context, person, wordsFor);
}

/**
 * The same by a member, who never sees that link: whoever knows it can answer for its reader.
 * @throws Failure 404, 409 for who has no address or whose address bounces, 429 within an hour of another such mail
 */
export async function mailOwnLink(context: Context, id: number, wordsFor: LinkWords, actor: Actor): Promise<void> {
  const { store } = context;
  const [detail, person] = [await store.subscribers.detail(id), await store.subscribers.find(id)];
  if (!detail || !person) throw notFound('subscriber');
  if (!person.email || detail.bounced)
    throw new Failure(409, 'no-address', 'This person has no email address that works. Add one, then send the link.');
  if (!(await store.asked.mayWrite(person.email, 0, nowOf(context))))
    throw new Failure(429, 'too-soon', 'A link was sent to this person within the last hour. Try again later.');
  await mailLink(context, person, wordsFor);
  await store.house.audit(nowOf(context), actor, 'person: page link sent', `person ${id}`);
}

/** What a mail with somebody’s own link says, in their language. */
export type LinkWords = (language: Language) => {
  readonly subject: string;
  readonly text: string;
  readonly label: string;
};

/** @throws Failure 502 when the mail cannot be sent now */
async function mailLink(context: Context, person: Recipient, wordsFor: LinkWords): Promise<void> {
  const { store, links } = context;
  const settings = await store.house.settings();
  const { subject, text, label } = wordsFor(isLanguage(person.language) ? person.language : settings.language);
  const document = pressDocument(subject, text, { label, url: links.preferences(person.id, person.feedNonce) });
  const message = writeHouseEmail(context, settings, { to: { name: '', address: person.email }, document });
  await mailAsked(context, message, [{ key: person.email, eventId: 0 }]);
}

/** An address as it was typed; null for what is none. */
export function addressOf(typed: string): string | null {
  const email = typed.trim().normalize('NFC').toLowerCase();
  return isEmail(email) ? email : null;
}

export interface AddressWords {
  readonly subject: string;
  readonly yes: string;
  question(email: string): string;
}

/** One end of a change of address, as its link names it. */
export async function findAddressChange({ store, links }: Context, token: string) {
  const named = links.readAddressChange(token);
  const change = named && (await store.signups.findAddress(named.id));
  const person = change && (await store.subscribers.detail(change.subscriberId));
  return change && person ? { change, person, end: named.end } : null;
}

/**
 * One end says yes. Once both have, the new address is theirs.
 * @throws Failure 409 where it is somebody else's: the two are one person, which only the house can settle
 */
export async function agreeAddressChange(
  context: Context,
  { change, end }: NonNullable<Awaited<ReturnType<typeof findAddressChange>>>,
): Promise<'one-end' | 'done'> {
  const { store } = context;
  try {
    const isDone = await store.transact(async (tx) => {
      const now = await tx.signups.agreeAddress(change.id, end);
      if (!now?.oldAgrees || !now.newAgrees) return false;
      await tx.subscribers.setAddress(now.subscriberId, now.email);
      await tx.signups.removeAddress(change.id);
      await tx.house.audit(nowOf(context), `person ${now.subscriberId}`, 'address: changed by themselves', '');
      return true;
    });
    if (isDone) await store.live.touch('subscribers');
    return isDone ? 'done' : 'one-end';
  } catch (error) {
    if (isDuplicate(error))
      throw new Failure(
        409,
        'address-taken',
        'This address is on our lists already. Write to us, and we put both together.',
      );
    throw error;
  }
}
