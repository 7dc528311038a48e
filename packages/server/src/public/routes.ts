import { Router, type RequestHandler } from 'express';
import rateLimit from 'express-rate-limit';
import type { Context } from '../services/context';
import { calendarFileRoutes } from './calendar-files';
import { confirmPageRoutes } from './confirm-page';
import { eventPageRoutes } from './event-page';
import { optOutRoutes } from './opt-out';
import { publicStyles } from './page';
import { personPageRoutes } from './person-page';
import { replyPageRoutes } from './reply-page';

/** What invitees and subscribers see: plain HTML and calendar files, reached by addresses that nobody can guess. */
export function publicRoutes(context: Context): Router {
  const routes = Router();
  routes.use(['/e', '/i', '/r', '/c', '/my', '/feed', '/opt-out'], gentleLimits());
  routes.get('/public.css', (_request, response) => {
    response.type('css').set('cache-control', 'public, max-age=3600').send(publicStyles);
  });
  eventPageRoutes(routes, context);
  confirmPageRoutes(routes, context);
  calendarFileRoutes(routes, context);
  replyPageRoutes(routes, context);
  personPageRoutes(routes, context);
  optOutRoutes(routes, context);
  return routes;
}

/** Reading is cheap, and many sit behind one address: an office after a mail, or a calendar that fetches for thousands. */
const readsAMinute = 6000;
/** What is one person's own is asked for by one program or two; whoever knows its address may be slowed alone. */
const ownReadsAMinute = 120;

function gentleLimits(): RequestHandler[] {
  const common = { windowMs: 60_000, standardHeaders: 'draft-8', legacyHeaders: false } as const;
  const isOwn = (url: string): boolean => /^\/(i|r|c|my|opt-out|feed\/person)\//.test(url);
  return [
    rateLimit({ ...common, limit: readsAMinute }),
    rateLimit({
      ...common,
      limit: ownReadsAMinute,
      skip: ({ originalUrl }) => !isOwn(originalUrl),
      keyGenerator: ({ originalUrl }) => originalUrl.split('?', 1)[0]?.slice(0, 200) ?? '',
    }),
  ];
}
