import express, { Router, type Request, type RequestHandler } from 'express';
import type { ShiftableClock } from '../clock';
import { Failure } from '../services/failure';
import { TooHard } from '../threads/bounded-thread';
import type { LargeRequests } from '../threads/large-requests';

/** So much is worked on at once: the worst of this size takes a tenth of a second. */
const mostHereOctets = 40_000;
/** Answered line by line for as long as it takes: what they bring is numbers, which are bounded where they are read. */
const streams =
  /^\/(?:subscribers\/bulk|counts|segments\/[\w/-]+|lists\/\d+\/pour|pressure\/look|vocabulary\/[\w/-]+)$/;
/** They belong to a connection, and this answer goes by another. */
const ownHeaders = new Set(['connection', 'content-length', 'date', 'keep-alive', 'set-cookie', 'transfer-encoding']);

/**
 * Hands a large body on to a thread that works on it, once it is known who asks and that they may: nobody keeps the process from
 * everybody else. Comes before the body is read.
 * @param large null in that thread itself
 */
export function largeRequests(large: LargeRequests | null, clock: ShiftableClock): RequestHandler {
  const routes = Router();
  if (!large) return routes;
  const read = express.raw({ type: () => true, limit: '3mb', inflate: false });
  return routes.use(
    (request, response, next) => (isLarge(request) ? read(request, response, next) : next()),
    async (request, response, next) => {
      if (!isLarge(request)) return next();
      const { method, originalUrl: url, socket } = request;
      const body: unknown = request.body;
      const headers = Object.fromEntries(
        Object.entries(request.headers).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : [])),
      );
      const answer = await large
        .answer({
          ...{ method, url, headers, clockOffsetMs: clock.offsetMs },
          body: Buffer.isBuffer(body) ? body : Buffer.alloc(0),
          address: socket.remoteAddress ?? '',
        })
        .catch((error: unknown) => {
          if (!(error instanceof TooHard)) throw error;
          request.log.warn({ error }, 'a large request was ended');
          throw new Failure(
            422,
            'too-hard',
            'This takes too long to work on, and nothing of it is saved. Make it shorter, then try again.',
          );
        });
      for (const [name, value] of Object.entries(answer.headers))
        if (!ownHeaders.has(name)) response.setHeader(name, value);
      response.status(answer.status).end(answer.body);
    },
  );
}

/** JSON of a length that is known and large, or is not known. */
function isLarge({ method, headers, path }: Request): boolean {
  if (method === 'GET' || !/^application\/json\b/i.test(headers['content-type'] ?? '') || streams.test(path))
    return false;
  const length = headers['content-length'];
  return length === undefined || Number(length) > mostHereOctets;
}
