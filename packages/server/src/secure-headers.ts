import { randomBytes } from 'node:crypto';
import { IncomingMessage, ServerResponse } from 'node:http';
import { Socket } from 'node:net';
import type { RequestHandler } from 'express';
import helmet, { type HelmetOptions } from 'helmet';

type StyleSource = string | ((request: IncomingMessage, response: ServerResponse) => string);

/** A strict policy: nothing inline, and nothing from elsewhere. */
const options = (styleSrc: readonly StyleSource[]): HelmetOptions => ({
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

/** For pages without a style of their own, which need no nonce: the same for each, and so worked out once. */
export function pageHeaders(): RequestHandler {
  const request = new IncomingMessage(new Socket());
  const sample = new ServerResponse(request);
  helmet(options(["'self'"]))(request, sample, () => undefined);
  const headers = new Map(
    Object.entries(sample.getHeaders()).flatMap(([name, value]) => (value ? [[name, value]] : [])),
  );
  return (_request, response, next) => {
    response.setHeaders(headers);
    next();
  };
}

/** The interface's styles carry this answer's nonce. */
export function secureHeaders(): RequestHandler {
  const strict = helmet(options(["'self'", (_request, response) => `'nonce-${nonceOf(response)}'`]));
  return (request, response, next) => {
    Object.assign(response, { locals: { nonce: randomBytes(16).toString('base64') } });
    strict(request, response, next);
  };
}

export const nonceOf = (response: object): string =>
  'locals' in response && typeof response.locals === 'object' && response.locals !== null && 'nonce' in response.locals
    ? String(response.locals.nonce)
    : '';
