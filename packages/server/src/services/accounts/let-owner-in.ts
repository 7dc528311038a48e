import { nowOf, type Context } from '../context';
import { hashPassword } from './passwords';

/**
 * For whoever runs the machine, when no owner can get in any more: gives a member a new password and the owner's role, and
 * takes their second factor away. Their sessions end. @returns false when there is no such member
 */
export async function letOwnerIn(
  context: Pick<Context, 'store' | 'clock'>,
  email: string,
  password: string,
): Promise<boolean> {
  const member = await context.store.members.byEmail(email);
  if (!member) return false;
  const passwordHash = await hashPassword(password);
  await context.store.transact(async (tx) => {
    await tx.members.setPassword(member.id, passwordHash);
    await tx.members.setRole(member.id, 'owner');
    await tx.members.setFactor(member.id, null, []);
    await tx.members.removeLinks(member.id);
    await tx.sessions.endAll(member.id);
    await tx.house.audit(nowOf(context), 'setup', 'account: owner let in from the machine', member.email);
  });
  return true;
}
