import { isSame, type Problem } from '@convite/core';

/** A request that cannot be done, in the words of RFC 9457: the route turns it into problem+json. */
export class Failure extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 413 | 415 | 422 | 429 | 502,
    /** Short, stable, for programs: the end of the problem's type. */
    readonly code: string,
    /** The sentence people read. */
    message: string,
    readonly more: { readonly problems?: readonly Problem[]; readonly count?: number } = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): Failure => new Failure(404, 'not-found', `There is no such ${what}.`);

/** @throws Failure 422 when there are problems */
export function refuseProblems(problems: readonly Problem[]): void {
  if (problems.length)
    throw new Failure(422, 'problems', 'Some of this cannot be used yet; see beside each field.', { problems });
}

/** @param users what asks for it, in words. @throws Failure 409 while there are any */
export function refuseInUse(users: readonly string[]): void {
  if (users.length)
    throw new Failure(
      409,
      'in-use',
      `It is used by ${users.slice(0, 5).join(', ')}${users.length > 5 ? ' and others' : ''}. Take it out there first.`,
    );
}

/** Common practice: above this many recipients, ask again before sending. */
export const askAbove = 100;

/**
 * @param above how many may get it without a word
 * @throws Failure 409 when more would get it and the person has not confirmed this very number; 422 when nobody would
 */
export function refuseUnconfirmed(count: number, confirmedCount: number | null, above = askAbove): void {
  if (count === 0)
    throw new Failure(422, 'nobody', 'Nobody would get this. Look at the reasons and choose other people.');
  if (count > above && confirmedCount !== count) {
    const people = count === 1 ? 'one person' : `${count} people`;
    throw new Failure(409, 'confirm-count', `This goes to ${people}. Confirm the number to send it.`, { count });
  }
}

/**
 * @param stored what stands there now
 * @param was what whoever saves began with; undefined where nobody asks
 * @throws Failure 409 when somebody saved meanwhile
 */
export function refuseStale(what: string, stored: object, was: object | undefined): void {
  if (was && !isSame(stored, was))
    throw new Failure(
      409,
      'changed-meanwhile',
      `Somebody saved this ${what} meanwhile. Yours is not lost; look at both.`,
    );
}
