import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import { leastPassword } from '@convite/contract';
import type { Problem } from '@convite/core';

// OWASP's argon2id parameters: 19 MiB, two passes, one lane. 2 is argon2id (an ambient enum cannot be imported).
const parameters = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'), parameters);

let decoy: Promise<string> | null = null;

/** Does the password fit? Where there is no hash it takes as long, and never does. */
export async function fitsPassword(password: string, passwordHash: string | null): Promise<boolean> {
  decoy ??= hashPassword('nobody has this password');
  const isRight = await verify(passwordHash || (await decoy), password.normalize('NFKC'));
  return isRight && Boolean(passwordHash);
}

let common: ReadonlySet<string> | null = null;

/**
 * What is wrong with a new password (ASVS 2.1): too short, spaces alone, one of the common ones (also doubled, or with
 * digits and marks around it), a few characters over and over, or the member's own name or address.
 */
export function judgePassword(password: string, own: { readonly name: string; readonly email: string }): Problem[] {
  const path = 'password';
  const text = password.normalize('NFKC');
  if ([...text].length < leastPassword || text.trim() === '')
    return [{ code: 'password-short', path, facts: { least: leastPassword } }];
  common ??= new Set(dictionary['passwords-common'].map(String));
  const lower = text.toLowerCase();
  const core = lower.replace(/^[^a-z]+|[^a-z]+$/g, '');
  const once = /^(.+?)\1+$/.exec(lower)?.[1] ?? lower;
  const isCommon = [lower, core, once].some((one) => one.length > 0 && common?.has(one));
  if (isCommon || new Set(lower).size < 5) return [{ code: 'password-common', path }];
  const names = [own.email.toLowerCase(), own.email.toLowerCase().split('@')[0] ?? '', own.name.toLowerCase()];
  const isOwn = names.some((name) => name.length >= 4 && (core === name || lower === name || once === name));
  return isOwn ? [{ code: 'password-own', path }] : [];
}
