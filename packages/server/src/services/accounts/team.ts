import type { NewMember, Role, TeamMember } from '@convite/contract';
import { isDuplicate } from '../../store/database';
import type { StoredMember } from '../../store/members';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { mailLink } from './links';

export const listTeam = ({ store }: Context): Promise<TeamMember[]> => store.members.all();

/** Asks somebody to join: a link is mailed by which they set a password of their own. */
export async function inviteMember(context: Context, invited: NewMember, actor: Actor): Promise<number> {
  const { store } = context;
  let id: number;
  try {
    id = await store.members.create({ ...invited, passwordHash: '' });
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'member-exists', `${invited.email} is on the team already.`);
    throw error;
  }
  await store.house.audit(nowOf(context), actor, 'team: invited', `${invited.email} as ${invited.role}`);
  const member = await store.members.find(id);
  if (member) await mailLink(context, member, 'invitation');
  return id;
}

/** The same link again, for who did not find it or came too late. @throws Failure 409 for who is in already */
export async function inviteAgain(context: Context, id: number, actor: Actor): Promise<void> {
  const member = await context.store.members.find(id);
  if (!member) throw notFound('member');
  if (member.passwordHash) throw new Failure(409, 'member-in', `${member.name} has joined already.`);
  await mailLink(context, member, 'invitation');
  await context.store.house.audit(nowOf(context), actor, 'team: invited again', member.email);
}

/** @throws Failure 409 when the last owner would go */
export function changeRole(context: Context, id: number, role: Role, actor: Actor): Promise<void> {
  return changeMember(context, id, role !== 'owner', async (tx, member) => {
    await tx.members.setRole(id, role);
    await tx.house.audit(nowOf(context), actor, 'team: role', `${member.name} is now ${role}`);
  });
}

/** Takes somebody off the team: their sessions end with them. @throws Failure 409 when the last owner would go */
export function removeMember(context: Context, id: number, actor: Actor): Promise<void> {
  return changeMember(context, id, true, async (tx, member) => {
    await tx.sessions.endAll(id);
    await tx.members.remove(id);
    await tx.house.audit(nowOf(context), actor, 'team: removed', `${member.name}, ${member.email}`);
  });
}

/** For who lost their authenticator and all recovery codes. */
export async function removeFactorOf(context: Context, id: number, actor: Actor): Promise<void> {
  const member = await context.store.members.find(id);
  if (!member) throw notFound('member');
  await context.store.members.setFactor(id, null, []);
  await context.store.house.audit(nowOf(context), actor, 'team: second factor removed', member.name);
}

function changeMember(
  context: Context,
  id: number,
  takesOwner: boolean,
  change: (tx: StoreSubjects, member: StoredMember) => Promise<void>,
): Promise<void> {
  return context.store.transact(async (tx) => {
    const owners = await tx.members.ownersForUpdate();
    const member = await tx.members.find(id);
    if (!member) throw notFound('member');
    if (takesOwner && owners.length === 1 && owners[0] === id)
      throw new Failure(409, 'last-owner', 'There must be at least one owner.');
    await change(tx, member);
  });
}
