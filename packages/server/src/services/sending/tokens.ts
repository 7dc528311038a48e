import { createHmac, timingSafeEqual } from 'node:crypto';

/** What somebody can do for one person: an owner may end all of these at once. Opting out is not among them (RFC 8058). */
const personal = new Set(['ics', 'reply', 'feed', 'preferences', 'address', 'signup', 'hold', 'guest']);

/**
 * Tokens are one or two ids and an HMAC of purpose and ids (SHA-256, 96 bits): nothing to store, nothing to guess, none good for
 * another purpose.
 * @param generation number of the last time that all personal tokens were ended, 0 for never; earlier ones are good no more
 */
export function makeTokens(secret: string, generation: () => number) {
  const sign = (text: string): string => createHmac('sha256', secret).update(text).digest('hex').slice(0, 24);
  const signIn = (at: number, text: string): string => sign(at === 0 ? text : `${at}:${text}`);
  const write = (purpose: string, ids: string): string =>
    `${ids}-${signIn(personal.has(purpose) ? generation() : 0, `${purpose}:${idsOf(ids).join('.')}`)}`;
  /** In which generation it was made; null for one that was not made here. */
  const generationOf = (purpose: string, text: string): number | null => {
    const [, ids, signature] = /^([0-9a-z]{1,11}(?:\.[0-9a-z]{1,11})?)-([0-9a-f]{24})$/.exec(text) ?? [];
    // One spelling of each, so that no limit is counted anew for another.
    if (!ids || !signature || spell(idsOf(ids)) !== ids) return null;
    const said = `${purpose}:${idsOf(ids).join('.')}`;
    for (let at = personal.has(purpose) ? generation() : 0; at >= 0; at -= 1)
      if (isEqual(signIn(at, said), signature)) return at;
    return null;
  };
  const read = (purpose: string, text: string): number[] | null => {
    const isGood = generationOf(purpose, text) === (personal.has(purpose) ? generation() : 0);
    return isGood ? idsOf(text.slice(0, text.lastIndexOf('-'))) : null;
  };
  return {
    sign,
    /** As short as it can be, since a text pays by the letter: 48 bits, on a page that is asked for some times a minute. */
    signShort: (text: string): string => createHmac('sha256', secret).update(text).digest('base64url').slice(0, 8),
    one: (purpose: string, id: number): string => write(purpose, id.toString(36)),
    readOne: (purpose: string, text: string): number | null => {
      const ids = read(purpose, text);
      return ids?.length === 1 ? (ids[0] ?? null) : null;
    },
    pair: (purpose: string, a: number, b: number): string => write(purpose, `${a.toString(36)}.${b.toString(36)}`),
    readPair: (purpose: string, text: string): readonly [number, number] | null => {
      const [a, b, ...more] = read(purpose, text) ?? [];
      return a === undefined || b === undefined || more.length ? null : [a, b];
    },
    /** It was good until all personal tokens were ended. */
    isEnded: (purpose: string, text: string): boolean => {
      const at = generationOf(purpose, text);
      return at !== null && at !== generation() && personal.has(purpose);
    },
  };
}

const spell = (ids: readonly number[]): string => ids.map((id) => id.toString(36)).join('.');
const idsOf = (ids: string): number[] => ids.split('.').map((id) => parseInt(id, 36));

export const isEqual = (one: string, other: string): boolean =>
  one.length === other.length && timingSafeEqual(Buffer.from(one), Buffer.from(other));
