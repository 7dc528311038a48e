import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

type StyleSource = string | ((request: IncomingMessage, response: ServerResponse) => string);

/** A strict policy: nothing inline, and nothing from elsewhere. */
const policy = (styleSrc: readonly StyleSource[]): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        styleSrc,
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        frameSrc: ["'self'", 'blob:'],
        objectSrc: ["'none'"],
        baseUri: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: false,
  });

/** For pages without a style of their own, which need no nonce. */
export const pageHeaders = (): RequestHandler => policy(["'self'"]);

/** The interface's styles carry this answer's nonce. */
export function secureHeaders(): RequestHandler {
  const strict = policy(["'self'", (_request, response) => `'nonce-${nonceOf(response)}'`]);
  return (request, response, next) => {
    Object.assign(response, { locals: { nonce: randomBytes(16).toString('base64') } });
    strict(request, response, next);
  };
}

export const nonceOf = (response: object): string =>
  'locals' in response && typeof response.locals === 'object' && response.locals !== null && 'nonce' in response.locals
    ? String(response.locals.nonce)
    : '';
