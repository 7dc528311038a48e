import type { Account, Tells } from '@convite/contract';
import type { StoredMember } from '../../store/members';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems } from '../failure';
import { fitsPassword, hashPassword, judgePassword } from './passwords';
import { paces, waitSeconds } from './sign-in-pace';
import { nextSummaryMs } from './tell-members';

/** What somebody sees of their own account. @param sessionId the session that asks */
export async function readAccount({ store }: Context, memberId: number, sessionId: string): Promise<Account> {
  const member = await store.members.find(memberId);
  if (!member) throw notFound('member');
  const [{ requiresSecondFactor }, recoveryCodesLeft, sessions, tells] = await Promise.all([
    store.house.settings(),
    store.members.countRecoveryCodes(memberId),
    store.sessions.ofMember(memberId),
    store.news.tellsOf(memberId),
  ]);
  return {
    name: member.name,
    email: member.email,
    role: member.role,
    hasSecondFactor: member.totpSecret !== null,
    needsSecondFactor: requiresSecondFactor,
    recoveryCodesLeft,
    tells,
    sessions: sessions.map(({ id, startedAt, seenAt, address, agent }) => ({
      id,
      startedAt: startedAt.toISOString(),
      seenAt: seenAt.toISOString(),
      address,
      agent,
      isThis: id === sessionId,
    })),
  };
}

/**
 * The password once more, before what only the member themselves may do: a screen left open is not them.
 * @throws Failure 422 when it is wrong, 409 after too many wrong ones
 */
export async function provePassword(context: Context, memberId: number, password: string): Promise<StoredMember> {
  const { store } = context;
  const account = `password of ${memberId}`;
  const seconds = waitSeconds(paces.pair, await store.signInFailures.ofPair(account, ''));
  if (seconds > 0) throw new Failure(409, 'wait', `Too many wrong passwords. Try again in ${seconds} seconds.`);
  const member = await store.members.find(memberId);
  if (!member) throw notFound('member');
  if (await fitsPassword(password, member.passwordHash)) return member;
  await store.signInFailures.note(account, '');
  throw new Failure(422, 'wrong-password', 'This is not your password.');
}

/** Changes one's own password; all other sessions end. */
export async function changePassword(
  context: Context,
  memberId: number,
  { current, password }: { readonly current: string; readonly password: string },
  sessionId: string,
  actor: Actor,
): Promise<void> {
  const member = await provePassword(context, memberId, current);
  refuseProblems(judgePassword(password, member));
  const passwordHash = await hashPassword(password);
  await context.store.transact(async (tx) => {
    await tx.members.setPassword(memberId, passwordHash);
    await tx.members.removeLinks(memberId);
    await tx.sessions.endAll(memberId, sessionId);
    await tx.house.audit(nowOf(context), actor, 'account: password changed', '');
  });
}

/** @throws Failure 409 where the house asks for one of everybody */
export async function removeOwnFactor(
  context: Context,
  memberId: number,
  current: string,
  actor: Actor,
): Promise<void> {
  const { requiresSecondFactor } = await context.store.house.settings();
  if (requiresSecondFactor)
    throw new Failure(409, 'factor-required', 'This house asks for a second factor of everybody.');
  await provePassword(context, memberId, current);
  await context.store.members.setFactor(memberId, null, []);
  await context.store.house.audit(nowOf(context), actor, 'account: second factor removed', '');
}

/** What one is told of, and when. */
export async function setTells({ store, clock }: Context, memberId: number, tells: Tells): Promise<void> {
  const { zone } = await store.house.settings();
  await store.news.setTells(memberId, tells, nextSummaryMs(tells, zone, clock.now()));
}

export async function endSession(context: Context, memberId: number, id: string, actor: Actor): Promise<void> {
  if (!(await context.store.sessions.endOne(memberId, id))) throw notFound('session');
  await context.store.house.audit(nowOf(context), actor, 'account: session ended', '');
}
