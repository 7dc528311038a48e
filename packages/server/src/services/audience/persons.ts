import { editOf, type LeftOut, type PersonChange, type PersonDetail } from '@convite/contract';
import { isEmail, isZone, plainLine, readFieldValue, readMobile, type Problem } from '@convite/core';
import { isDuplicate } from '../../store/database';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { readComing } from './timeline';

/** What is known of one person, with where each consent came from. */
export async function getPerson({ store }: Pick<Context, 'store'>, id: number): Promise<PersonDetail> {
  const person = await store.subscribers.detail(id);
  if (!person) throw notFound('subscriber');
  const [lists, consents, topics, fields] = await Promise.all([
    store.lists.ofPerson(id),
    store.consents.latestOf(id),
    store.subscribers.topicsOf([id]),
    store.fields.ofPerson(id),
  ]);
  return {
    ...person,
    lists,
    topics: topics.get(id) ?? [],
    fields,
    consents: consents.map(({ at, ...one }) => ({ ...one, at: at.toISOString() })),
  };
}

/**
 * Changes what is known of a person, puts them on lists and off, and takes down what they said about being written to,
 * with how. A suppression is lifted by hand, in the same way.
 * @returns what they do not get any more, where they were taken off a list
 * @throws Failure 422 with problems, 409 for an address that
 * is somebody else's
 */
export async function editPerson(
  context: Context,
  id: number,
  { was, ...edit }: PersonChange,
  actor: Actor,
): Promise<LeftOut> {
  const { store } = context;
  const before = await getPerson(context, id);
  refuseStale('subscriber', editOf(before), was);
  const { region } = await store.house.settings();
  const email = edit.email.trim().toLowerCase();
  const mobile = edit.mobile.trim() ? readMobile(edit.mobile, region, 'mobile') : null;
  const changesConsent =
    edit.textConsent !== before.textConsent || edit.emailConsent !== before.emailConsent || edit.liftBounce;
  // Consent to texts was given with a number: of another one somebody says how they know.
  const keepsTextsAt = mobile?.ok && mobile.value !== before.mobile && before.mobile !== '' && edit.textConsent;
  const problems: Problem[] = [
    ...(email && !isEmail(email) ? [{ code: 'bad-address' as const, path: 'email', facts: { text: email } }] : []),
    ...(email || edit.mobile.trim() ? [] : [{ code: 'required' as const, path: 'email' }]),
    ...(edit.zone && !isZone(edit.zone)
      ? [{ code: 'unknown-zone' as const, path: 'zone', facts: { zone: edit.zone } }]
      : []),
    ...(mobile && !mobile.ok ? mobile.problems : []),
    ...before.fields.flatMap(({ id: fieldId, type, typed: known }): Problem[] => {
      const typed = (edit.fields[String(fieldId)] ?? '').trim();
      // What a file brought stays as it is until somebody changes it.
      const isBad = typed !== '' && typed !== known && readFieldValue(type, typed) === null;
      return isBad ? [{ code: 'bad-value', path: `fields.${fieldId}`, facts: { text: typed.slice(0, 60), type } }] : [];
    }),
    ...((changesConsent || keepsTextsAt) && !edit.how.trim() ? [{ code: 'required' as const, path: 'how' }] : []),
  ];
  refuseProblems(problems);
  const now = nowOf(context);
  const leaves = before.lists.some((list) => !edit.lists.includes(list));
  const coming = leaves ? (await readComing(context, id)).rows : [];
  try {
    await store.transact(async (tx) => {
      await tx.subscribers.change(id, {
        name: plainLine(edit.name).slice(0, 200),
        email: email || null,
        mobile: mobile?.ok ? mobile.value : '',
        zone: edit.zone,
        language: edit.language,
        // Another address has not bounced.
        liftsBounce: edit.liftBounce || email !== before.email,
      });
      await tx.lists.setOf(id, edit.lists, now);
      await setTopics(tx, id, before.topics, edit.topics);
      for (const field of before.fields) {
        const typed = (edit.fields[String(field.id)] ?? field.typed).trim();
        if (typed === field.typed) continue;
        if (typed) await tx.fields.write([{ subscriberId: id, field, typed }]);
        else await tx.fields.empty(field.id, [id]);
      }
      const note = { source: 'by-hand', by: actor.name, how: plainLine(edit.how).slice(0, 300) } as const;
      if (edit.textConsent !== before.textConsent || keepsTextsAt)
        await tx.consents.note(id, 'text', edit.textConsent, note, now);
      if (edit.emailConsent !== before.emailConsent || (edit.liftBounce && before.emailConsent))
        await tx.consents.note(id, 'email', edit.emailConsent, note, now);
      await tx.house.audit(now, actor, 'person: changed', `person ${id}${note.how ? `: ${note.how}` : ''}`);
      await tx.live.touch('subscribers', 'board');
    });
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'address-taken', `${email} is somebody else’s address here.`);
    throw error;
  }
  if (coming.length === 0) return { leftOut: [] };
  const still = new Set((await readComing(context, id)).rows.map(({ firingId }) => firingId));
  const gone = coming.filter(({ firingId }) => !still.has(firingId));
  return { leftOut: gone.map(({ name, eventTitle }) => ({ name, eventTitle })) };
}

async function setTopics(
  tx: StoreSubjects,
  id: number,
  before: readonly string[],
  after: readonly string[],
): Promise<void> {
  for (const topic of before) if (!after.includes(topic)) await tx.subscribers.takeTopic([id], topic);
  for (const topic of after) if (!before.includes(topic)) await tx.subscribers.giveTopic([id], topic);
}
