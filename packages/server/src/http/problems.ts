import type { ErrorRequestHandler } from 'express';
import * as z from 'zod';
import type { Logger } from 'pino';
import type { ProblemDetails } from '@convite/contract';
import { Failure } from '../services/failure';

/** Every error leaves as problem+json (RFC 9457): what is wrong, where, and for our own faults only that it is ours. */
export const problemHandler =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const details = describe(error);
    if (details.status >= 500) log.error({ error, url: request.url }, 'request failed');
    response.status(details.status).type('application/problem+json').json(details);
  };

function describe(error: unknown): ProblemDetails {
  if (error instanceof Failure) {
    const { status, code, message, more } = error;
    return {
      type: `urn:convite:${code}`,
      title: code,
      status,
      detail: message,
      ...(more.problems && { problems: [...more.problems] }),
      ...(more.count !== undefined && { count: more.count }),
    };
  }
  if (error instanceof z.ZodError) {
    const problems = error.issues.map((issue) => ({
      code: 'unreadable',
      path: issue.path.join('.'),
      facts: { text: issue.message },
    }));
    return {
      type: 'urn:convite:problems',
      title: 'problems',
      status: 422,
      detail: 'Some of this cannot be used yet; see beside each field.',
      problems,
    };
  }
  const status = statusOf(error);
  if (status < 500)
    return { type: 'about:blank', title: 'Bad Request', status, detail: 'The request could not be read.' };
  return {
    type: 'about:blank',
    title: 'Internal Server Error',
    status: 500,
    detail: 'Something went wrong on our side. Nothing you typed is lost; try again in a moment.',
  };
}

/** Express's own errors (a body too large, JSON that does not parse) carry their status. */
const statusOf = (error: unknown): number =>
  typeof error === 'object' && error !== null && 'status' in error && typeof error.status === 'number'
    ? error.status
    : 500;
