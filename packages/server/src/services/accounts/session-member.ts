import type { Me } from '@convite/contract';
import type { StoredMember } from '../../store/members';
import { nowOf, type Actor, type Context } from '../context';

/** Who asks, and whether they must set up a second factor before anything else. */
export interface SessionMember {
  readonly member: StoredMember;
  readonly mustSetUpFactor: boolean;
}

/** Reads the member of a session anew; null once they were removed. */
export async function memberOfSession(context: Context, memberId: number | undefined): Promise<SessionMember | null> {
  const member = memberId === undefined ? null : await context.store.members.find(memberId);
  return member && asSessionMember(context, member);
}

export async function asSessionMember({ store }: Context, member: StoredMember): Promise<SessionMember> {
  const { requiresSecondFactor } = await store.house.settings();
  return { member, mustSetUpFactor: requiresSecondFactor && member.totpSecret === null };
}

/** Takes down that somebody signed in or out. */
export const noteSession = (context: Context, actor: Actor, what: 'in' | 'out', email: string): Promise<void> =>
  context.store.house.audit(nowOf(context), actor, `sign-in: ${what}`, email);

/** The house as the one who signs in sees it. */
export async function houseOf({ store }: Context): Promise<Me['organisation']> {
  const { organisation, zone, dayOrder, clock, firstWeekday, asksRelease } = await store.house.settings();
  return { name: organisation, zone, dayOrder, clock, firstWeekday, asksRelease };
}
