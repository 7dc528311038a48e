import { dictionary } from '@zxcvbn-ts/language-common';
import { leastPassword } from '@convite/contract';
import type { Problem } from '@convite/core';
import { openLog } from '../../log';
import { openThread } from '../../threads/bounded-thread';

/** What the thread is asked. Passwords are normalised (NFKC). */
export type PasswordRequest =
  | { readonly kind: 'hash'; readonly password: string }
  | { readonly kind: 'verify'; readonly password: string; readonly hash: string };

/** One takes some 35 ms. */
const withinMs = 15_000;
const source = new URL('./password-thread.ts', import.meta.url);
/** Node's own pool of threads is shared with pictures and names (DNS): whoever fills it must not stop sign-in. */
const thread = openThread<PasswordRequest>({ source, memoryMb: 64, log: openLog('passwords', 'warn') });

/** @throws TooHard where it is not done within 15 s */
export async function hashPassword(password: string): Promise<string> {
  return String(await thread.ask({ kind: 'hash', password: password.normalize('NFKC') }, withinMs));
}

let decoy: Promise<string> | null = null;

/** Does the password fit? Where there is no hash it takes as long, and never does. */
export async function fitsPassword(password: string, passwordHash: string | null): Promise<boolean> {
  decoy ??= hashPassword('nobody has this password');
  const hash = passwordHash || (await decoy);
  const isRight = await thread.ask({ kind: 'verify', password: password.normalize('NFKC'), hash }, withinMs);
  return isRight === true && Boolean(passwordHash);
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
