import type { StoredMember } from '../../store/members';
import { nowOf, type Context } from '../context';
import { fitsPassword } from './passwords';
import { fitsFactor } from './second-factor';
import { paces, waitSeconds } from './sign-in-pace';

/** Where a try comes from. */
export interface Place {
  /** IP address. */
  readonly address: string;
}

export type Tried =
  | { readonly kind: 'right'; readonly member: StoredMember }
  | { readonly kind: 'wrong' }
  /** Not even looked at: too many failures before. */
  | { readonly kind: 'wait'; readonly seconds: number };

/** Tries an address with a password. An unknown address is answered as a wrong password is, and takes as long. */
export async function tryPassword(context: Context, email: string, password: string, place: Place): Promise<Tried> {
  const { store } = context;
  const account = email.toLowerCase();
  const member = await store.members.byEmail(account);
  const seconds = await waitOf(context, account, place.address, member);
  if (seconds > 0) return { kind: 'wait', seconds };
  if ((await fitsPassword(password, member?.passwordHash ?? null)) && member) {
    await store.signInFailures.clear(account, place.address);
    return { kind: 'right', member };
  }
  await noteFailure(context, account, place, member, 'sign-in: wrong password');
  return { kind: 'wrong' };
}

/** Tries the code of the second factor, for a member whose password was right. */
export async function tryCode(context: Context, memberId: number, code: string, place: Place): Promise<Tried> {
  const { store } = context;
  const member = await store.members.find(memberId);
  if (!member) return { kind: 'wrong' };
  const account = `code of ${memberId}`;
  const seconds = await waitOf(context, account, place.address, member);
  if (seconds > 0) return { kind: 'wait', seconds };
  const used = await fitsFactor(context, member, code);
  if (used) {
    await store.signInFailures.clear(account, place.address);
    if (used === 'recovery')
      await store.house.audit(nowOf(context), { ...actorOf(member), ...place }, 'account: recovery code used', '');
    return { kind: 'right', member };
  }
  await noteFailure(context, account, place, member, 'sign-in: wrong code');
  return { kind: 'wrong' };
}

/** Who it is, for the audit log. */
export const actorOf = ({ id, name }: Pick<StoredMember, 'id' | 'name'>): { name: string; memberId: number } => ({
  name,
  memberId: id,
});

async function waitOf(
  { store }: Context,
  account: string,
  address: string,
  member: StoredMember | null,
): Promise<number> {
  const [pair, ofAccount, ofAddress] = await Promise.all([
    store.signInFailures.ofPair(account, address),
    store.signInFailures.ofAccount(account),
    store.signInFailures.ofAddress(address),
  ]);
  const everywhere = waitSeconds(paces.account, ofAccount);
  // Where the member signed in before, others' guessing from elsewhere is nothing to wait for.
  const isKnownPlace = everywhere > 0 && member !== null && (await store.house.hasSignedInFrom(member.id, address));
  return Math.max(waitSeconds(paces.pair, pair), isKnownPlace ? 0 : everywhere, waitSeconds(paces.address, ofAddress));
}

async function noteFailure(
  context: Context,
  account: string,
  place: Place,
  member: StoredMember | null,
  action: string,
): Promise<void> {
  const { store } = context;
  await store.signInFailures.note(account, place.address);
  // Who typed an address that is nobody's may have typed their password there: it is not written down.
  const who = member ? actorOf(member) : { name: 'somebody', memberId: null };
  await store.house.audit(nowOf(context), { ...who, ...place }, action, member ? member.email : 'an unknown address');
}
