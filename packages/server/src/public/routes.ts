import { Router, type Request, type RequestHandler, type Response } from 'express';
import rateLimit, { ipKeyGenerator } from 'express-rate-limit';
import type { Context } from '../services/context';
import { findHousePicture } from '../services/house-picture';
import { findPicture } from '../services/wording/pictures';
import { calendarFileRoutes } from './calendar-files';
import { confirmPageRoutes } from './confirm-page';
import { eventPageRoutes } from './event-page';
import { linkRoutes } from './links';
import { optOutRoutes } from './opt-out';
import { preferencesPageRoutes } from './preferences-page';
import { signUpPageRoutes } from './sign-up-page';
import { publicStyles, publicStylesIn } from './page';
import { proofPageRoutes } from './proof-page';
import { sendServed, serve } from './served';
import { standbyPageRoutes } from './standby-page';
import { personPageRoutes } from './person-page';
import { deadLinks } from './dead-links';
import { yourTimeScript } from './your-time';
import { replyPageRoutes } from './reply-page';
import { pageHeaders } from '../secure-headers';

/** What invitees and subscribers see: plain HTML and calendar files, reached by addresses that nobody can guess. */
export function publicRoutes(context: Context): Router {
  const routes = Router();
  routes.use((request, _response, next) => {
    if (isPublic.test(request.path)) next();
    else next('router');
  });
  const own = ownLimit();
  routes.use(pageHeaders(), gentleLimit(), (request, response, next) => {
    if (!isOwn.test(request.path) || isShared.test(request.path)) return next();
    // Nothing between us and its reader keeps what is one person's own (RFC 9111 §5.2.2).
    response.set('cache-control', 'private, no-store');
    void own(request, response, next);
  });
  routes.get('/public.css', ({ query }, response) => {
    const { colour } = query;
    const isColour = typeof colour === 'string' && /^[0-9a-f]{6}$/.test(colour);
    response.set('cache-control', 'public, max-age=3600');
    sendServed(
      response,
      serve(
        isColour ? publicStylesIn(`#${colour}`) : publicStyles,
        { 'content-type': 'text/css; charset=utf-8' },
        true,
      ),
    );
  });
  routes.get('/house-picture/:digest', async ({ params }, response, next) => {
    const picture = await findHousePicture(context, params.digest);
    if (!picture) return next('router');
    response.type(picture.type).set('cache-control', 'public, max-age=31536000, immutable').send(picture.octets);
  });
  routes.get('/picture/:digest', async ({ params }, response, next) => {
    const picture = await findPicture(context, params.digest);
    if (!picture) return next('router');
    response.type(picture.type).set('cache-control', 'public, max-age=31536000, immutable').send(picture.octets);
  });
  routes.get('/public.js', (_request, response) => {
    response.set('cache-control', 'public, max-age=3600');
    sendServed(response, serve(yourTimeScript, { 'content-type': 'text/javascript; charset=utf-8' }, true));
  });
  routes.use(deadLinks(context));
  eventPageRoutes(routes, context);
  confirmPageRoutes(routes, context);
  calendarFileRoutes(routes, context);
  replyPageRoutes(routes, context);
  personPageRoutes(routes, context);
  optOutRoutes(routes, context);
  preferencesPageRoutes(routes, context);
  signUpPageRoutes(routes, context);
  proofPageRoutes(routes, context);
  standbyPageRoutes(routes, context);
  linkRoutes(routes, context);
  return routes;
}

/** Reading is cheap, and many sit behind one address: an office after a mail, or a calendar that fetches for thousands. */
const readsAMinute = 6000;
/** What is one person's own is asked for by one program or two. Counted by caller and address: nobody shuts out another. */
const ownReadsAMinute = 120;

/** Links that lead on are shared: the same one may stand in a million mails, and is never refused for being popular. */
const isShared = /^\/(?:[lko]\/|p\/again$)/i;

/** Below these is everything that needs no session. One look at the path, since thousands a second are asked for. */
const isPublic = /^\/(?:(?:e|feed|i|r|c|s|l|k|o|h|my|p|a|j|join|opt-out)\/|(?:house-)?picture\/|public\.(?:css|js)$)/i;
const isOwn = /^\/(?:i|r|c|s|h|my|p|a|j|opt-out|feed\/person)\//i;

const windowMs = 60_000;
/** Only who asks too often is told how often is often (RFC 6585 §4). */
const common = {
  windowMs,
  standardHeaders: false,
  legacyHeaders: false,
  handler: (_request: Request, response: Response) =>
    void response
      .status(429)
      .set('retry-after', String(windowMs / 1000))
      .type('text')
      .send('Asked too often. Wait a minute, then try again.'),
} as const;

const gentleLimit = (): RequestHandler => rateLimit({ ...common, limit: readsAMinute });

const ownLimit = (): RequestHandler =>
  rateLimit({
    ...common,
    limit: ownReadsAMinute,
    keyGenerator: ({ ip = '', originalUrl }) =>
      `${ipKeyGenerator(ip)} ${originalUrl.split('?', 1)[0]?.slice(0, 200) ?? ''}`,
  });
