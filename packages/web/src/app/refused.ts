import type { LocatedProblem, ProblemDetails } from '@convite/contract';
import { sayProblem } from '@convite/contract/sentences';

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

/** The same refusal, saying what was wrong first where there is no field to say it beside. */
export function sayRefused(error: unknown): unknown {
  const [problem] = problemsOf(error);
  return problem && error instanceof Refused ? new Refused({ ...error.details, detail: sayProblem(problem) }) : error;
}
