import { editOf, type PersonChange, type PersonDetail } from '@convite/contract';
import { isEmail, isZone, plainLine, readMobile, type Problem } from '@convite/core';
import { isDuplicate } from '../../store/database';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';

/** What is known of one person, with where each consent came from. */
export async function getPerson({ store }: Pick<Context, 'store'>, id: number): Promise<PersonDetail> {
  const person = await store.subscribers.detail(id);
  if (!person) throw notFound('subscriber');
  const [lists, consents] = await Promise.all([store.lists.ofPerson(id), store.consents.latestOf(id)]);
  return { ...person, lists, consents: consents.map(({ at, ...one }) => ({ ...one, at: at.toISOString() })) };
}

/**
 * Changes what is known of a person, puts them on lists and off, and takes down what they said about being written to,
 * with how. A suppression is lifted by hand, in the same way. @throws Failure 422 with problems, 409 for an address that
 * is somebody else's
 */
export async function editPerson(
  context: Context,
  id: number,
  { was, ...edit }: PersonChange,
  actor: Actor,
): Promise<void> {
  const { store } = context;
  const before = await getPerson(context, id);
  refuseStale('subscriber', editOf(before), was);
  const { region } = await store.house.settings();
  const email = edit.email.trim().toLowerCase();
  const mobile = edit.mobile.trim() ? readMobile(edit.mobile, region, 'mobile') : null;
  const changesConsent =
    edit.textConsent !== before.textConsent || edit.emailConsent !== before.emailConsent || edit.liftBounce;
  const problems: Problem[] = [
    ...(email && !isEmail(email) ? [{ code: 'bad-address' as const, path: 'email', facts: { text: email } }] : []),
    ...(email || edit.mobile.trim() ? [] : [{ code: 'required' as const, path: 'email' }]),
    ...(edit.zone && !isZone(edit.zone)
      ? [{ code: 'unknown-zone' as const, path: 'zone', facts: { zone: edit.zone } }]
      : []),
    ...(mobile && !mobile.ok ? mobile.problems : []),
    ...(changesConsent && !edit.how.trim() ? [{ code: 'required' as const, path: 'how' }] : []),
  ];
  refuseProblems(problems);
  const now = nowOf(context);
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
      const note = { source: 'by-hand', by: actor.name, how: plainLine(edit.how).slice(0, 300) } as const;
      if (edit.textConsent !== before.textConsent) await tx.consents.note(id, 'text', edit.textConsent, note, now);
      if (edit.emailConsent !== before.emailConsent || (edit.liftBounce && before.emailConsent))
        await tx.consents.note(id, 'email', edit.emailConsent, note, now);
      await tx.house.audit(now, actor, 'person: changed', `person ${id}${note.how ? `: ${note.how}` : ''}`);
      await tx.live.touch('subscribers', 'board');
    });
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'address-taken', `${email} is somebody else’s address here.`);
    throw error;
  }
}
