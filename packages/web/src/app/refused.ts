import type { LocatedProblem, ProblemDetails } from '@convite/contract';

/** A request that the server refused, in its words. */
export class Refused extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.detail ?? details.title);
  }
}

/** The sentence to show for whatever went wrong. */
export const sayError = (error: unknown): string =>
  error instanceof Refused ? error.message : 'Something went wrong. Nothing you typed is lost; try again.';

/** What the server found wrong, field by field. */
export const problemsOf = (error: unknown): readonly LocatedProblem[] =>
  error instanceof Refused ? (error.details.problems ?? []) : [];
