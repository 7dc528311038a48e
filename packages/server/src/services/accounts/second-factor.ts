import { createHash, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { toString as drawQrCode } from 'qrcode';
import type { FactorOffer } from '@convite/contract';
import type { StoredMember } from '../../store/members';
import { nowOf, type Actor, type Context } from '../context';
import { Failure } from '../failure';

const stepSeconds = 30;
const codeCount = 10;

/** RFC 6238 with what every authenticator takes: SHA-1, six digits, half a minute. */
const totpOf = (base32: string, label = '', issuer = 'Convite'): TOTP =>
  new TOTP({ issuer, label, secret: Secret.fromBase32(base32), algorithm: 'SHA1', digits: 6, period: stepSeconds });

/** Offers a secret; it counts only after a code of it was typed. @returns also the secret as it is kept meanwhile */
export async function offerFactor(
  { store, seal }: Context,
  member: Pick<StoredMember, 'email'>,
): Promise<FactorOffer & { sealed: string }> {
  const { organisation } = await store.house.settings();
  const secret = new Secret({ size: 20 }).base32;
  const svg = await drawQrCode(totpOf(secret, member.email, organisation.replaceAll(':', ' ')).toString(), {
    type: 'svg',
    margin: 1,
  });
  const picture = `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}`;
  return { secret, picture, sealed: seal.close(secret) };
}

/**
 * Takes the offered secret for good. @returns recovery codes, shown this once and kept as digests
 * @throws Failure 422 when the code is not one of it
 */
export async function confirmFactor(
  context: Context,
  memberId: number,
  sealed: string,
  code: string,
  actor: Actor,
): Promise<string[]> {
  const step = stepOf(context.seal.open(sealed), code);
  if (step === null)
    throw new Failure(422, 'wrong-code', 'This is not the code that the authenticator shows now. Type the next one.');
  const codes = Array.from({ length: codeCount }, newRecoveryCode);
  await context.store.transact(async (tx) => {
    await tx.members.setFactor(memberId, sealed, codes.map(digestOfCode));
    await tx.members.useStep(memberId, step);
    await tx.house.audit(nowOf(context), actor, 'account: second factor set up', '');
  });
  return codes;
}

/** Does a code let this member in? A code of the authenticator is good once, a recovery code is gone after. */
export async function fitsFactor(
  { store, seal }: Context,
  { id, totpSecret }: StoredMember,
  code: string,
): Promise<'code' | 'recovery' | null> {
  if (totpSecret === null) return null;
  if (/^\d{6}$/.test(code)) {
    const step = stepOf(seal.open(totpSecret), code);
    return step !== null && (await store.members.useStep(id, step)) ? 'code' : null;
  }
  return (await store.members.useRecoveryCode(id, digestOfCode(code))) ? 'recovery' : null;
}

/** The half minute that a code belongs to, one before or after now at most; null for none. By real time. */
function stepOf(secret: string | null, code: string): number | null {
  if (secret === null) return null;
  const delta = totpOf(secret).validate({ token: code, window: 1 });
  return delta === null ? null : Math.floor(Date.now() / 1000 / stepSeconds) + delta;
}

/** Letters and digits that are not taken for each other. */
const alphabet = 'abcdefghjkmnpqrstuvwxyz23456789';

function newRecoveryCode(): string {
  const letters = [...randomBytes(12)].map((octet) => alphabet[octet % alphabet.length]).join('');
  return `${letters.slice(0, 4)}-${letters.slice(4, 8)}-${letters.slice(8)}`;
}

const digestOfCode = (code: string): string =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^a-z0-9]/g, ''))
    .digest('hex');
