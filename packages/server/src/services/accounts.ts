import { hash, verify } from '@node-rs/argon2';
import type { Member, NewMember, Role } from '@convite/contract';
import { isDuplicate } from '../store/database';
import { nowOf, type Actor, type Context } from './context';
import { Failure, notFound } from './failure';

// OWASP's argon2id parameters: 19 MiB, two passes, one lane. 2 is argon2id (an ambient enum cannot be imported).
const parameters = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

export const hashPassword = (password: string): Promise<string> => hash(password, parameters);

let decoy: Promise<string> | null = null;

/** The member with that address and password, or null. An unknown address takes as long as a wrong password. */
export async function checkPassword(
  { store }: Pick<Context, 'store'>,
  email: string,
  password: string,
): Promise<Member | null> {
  const user = await store.house.userByEmail(email);
  decoy ??= hashPassword('nobody has this password');
  const isRight = await verify(user?.passwordHash ?? (await decoy), password);
  return user && isRight ? { id: user.id, name: user.name, email: user.email, role: user.role } : null;
}

export async function addMember(context: Context, member: NewMember, actor: Actor): Promise<number> {
  const passwordHash = await hashPassword(member.password);
  try {
    const id = await context.store.house.createUser({ ...member, passwordHash });
    await context.store.house.audit(nowOf(context), actor.name, 'team: added', `${member.name} as ${member.role}`);
    return id;
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'member-exists', `${member.email} is on the team already.`);
    throw error;
  }
}

/** @throws Failure 409 when the last owner would go */
export async function changeRole(context: Context, id: number, role: Role, actor: Actor): Promise<void> {
  const member = await context.store.house.user(id);
  if (!member) throw notFound('member');
  if (member.role === 'owner' && role !== 'owner' && (await context.store.house.countOwners()) < 2) {
    throw new Failure(409, 'last-owner', 'There must be at least one owner.');
  }
  await context.store.house.setRole(id, role);
  await context.store.house.audit(nowOf(context), actor.name, 'team: role', `${member.name} is now ${role}`);
}
