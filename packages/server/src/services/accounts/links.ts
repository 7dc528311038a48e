import { createHash, randomBytes } from 'node:crypto';
import type { LinkState } from '@convite/contract';
import type { LinkPurpose, StoredMember } from '../../store/members';
import { nowOf, type Context } from '../context';
import { Failure, refuseProblems } from '../failure';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import { hashPassword, judgePassword } from './passwords';
import { actorOf, type Place } from './sign-in';

const minutes: Readonly<Record<LinkPurpose, number>> = { reset: 15, invitation: 3 * 24 * 60 };

const digestOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/**
 * Mails a link by which a member sets their own password.
 * @throws Failure 502 when the mail cannot be sent
 */
export async function mailLink(context: Context, member: StoredMember, purpose: LinkPurpose): Promise<void> {
  const { store, links } = context;
  const token = randomBytes(24).toString('base64url');
  await store.members.addLink(member.id, purpose, digestOf(token), minutes[purpose]);
  const settings = await store.house.settings();
  const isInvitation = purpose === 'invitation';
  const body = isInvitation
    ? `You are asked to join the team of ${settings.organisation} on Convite, as ${member.role}.

Choose a password of your own within three days, and you are in.`
    : `Somebody, we hope you, asked for a new password for this address.

The link works once, within a quarter of an hour. Was it not you? Then do nothing: your password stays as it is.`;
  const refusal = await context.mail.send(
    writeHouseEmail(context, settings, {
      to: { name: member.name, address: member.email },
      document: pressDocument(
        isInvitation ? `Join ${settings.organisation} on Convite` : 'A new password for Convite',
        body,
        { label: 'Choose a password', url: links.newPassword(token) },
      ),
    }),
  );
  if (refusal) throw new Failure(502, 'mail-server', `The mail server refused the message: ${refusal.answer}`);
}

/** At most so many mails for a forgotten password within the hour. */
const mostResetsAnHour = 3;

/**
 * Somebody forgot a password, or says so. Says the same for every address: whoever asks learns nothing. To be called
 * without waiting for it, so that the time tells nothing either.
 */
export async function askForReset(context: Context, email: string, place: Place): Promise<void> {
  const { store } = context;
  const member = await store.members.byEmail(email);
  if (!member) return;
  // By number: an address of the longest kind and a word before it would not fit.
  const account = `reset of ${member.id}`;
  // Written down before it is counted, so that of many at once only the first ones get a mail.
  await store.signInFailures.note(account, place.address);
  const { count } = await store.signInFailures.ofAccount(account);
  if (count > mostResetsAnHour) return;
  await store.house.audit(nowOf(context), { ...actorOf(member), ...place }, 'account: new password asked for', '');
  await mailLink(context, member, member.passwordHash ? 'reset' : 'invitation');
}

/** Whom a link is for. @throws Failure 404 for one that is used, too old, or none */
export async function readLink(context: Context, token: string): Promise<LinkState & { member: StoredMember }> {
  const found = await context.store.members.findLink(digestOf(token));
  const member = found && (await context.store.members.find(found.memberId));
  if (!found || !member)
    throw new Failure(404, 'link-over', 'This link was used, or its time is over. Ask for a new one.');
  return { purpose: found.purpose, name: member.name, email: member.email, member };
}

/** Sets the password of whom a link is for, once; every session of theirs ends. */
export async function setPasswordByLink(
  context: Context,
  token: string,
  password: string,
  place: Place,
): Promise<void> {
  const { member, purpose } = await readLink(context, token);
  refuseProblems(judgePassword(password, member));
  const passwordHash = await hashPassword(password);
  await context.store.transact(async (tx) => {
    if (!(await tx.members.useLink(digestOf(token))))
      throw new Failure(404, 'link-over', 'This link was used, or its time is over. Ask for a new one.');
    await tx.members.setPassword(member.id, passwordHash);
    await tx.members.removeLinks(member.id);
    await tx.sessions.endAll(member.id);
    const action = purpose === 'invitation' ? 'team: joined' : 'account: new password by link';
    await tx.house.audit(nowOf(context), { ...actorOf(member), ...place }, action, member.email);
  });
}
