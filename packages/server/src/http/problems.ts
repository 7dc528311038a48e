import type { ErrorRequestHandler } from 'express';
import * as z from 'zod';
import type { Logger } from 'pino';
import type { ProblemDetails } from '@convite/contract';
import { writePage } from '../public/page';
import { escapeHtml } from '@convite/core';
import { Failure } from '../services/failure';
import { isOutage } from '../store/database';

/** Every error leaves as problem+json (RFC 9457): what is wrong, where, and for our own faults only that it is ours. */
export const problemHandler =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const details = describe(error);
    if (details.status === 503) {
      log.warn({ error, url: request.url }, 'the database is away');
      response.set('retry-after', '5');
    } else if (details.status >= 500) log.error({ error, url: request.url }, 'request failed');
    response.status(details.status);
    if (isForPrograms(request.originalUrl)) response.type('application/problem+json').json(details);
    else
      response.send(
        writePage(
          details.title,
          null,
          `<h1>${escapeHtml(details.title)}</h1><p>${escapeHtml(details.detail ?? '')}</p>`,
        ),
      );
  };

/** What is asked by scripts and programs is answered to them; people get a page. */
const isForPrograms = (url: string): boolean => /^\/(api|programs|gateway)\//.test(url);

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
  if (isOutage(error))
    return {
      type: 'urn:convite:database-away',
      title: 'One moment, please',
      status: 503,
      detail: 'Our database is not there at the moment. Nothing is lost; try again in a few seconds.',
    };
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
