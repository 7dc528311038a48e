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
import { pageHeaders } from '../secure-headers';

/** What invitees and subscribers see: plain HTML and calendar files, reached by addresses that nobody can guess. */
export function publicRoutes(context: Context): Router {
  const routes = Router();
  routes.use([...forAll, ...forOne], pageHeaders(), gentleLimit());
  routes.use(forOne, ownLimit());
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

/** Express parts a path from what follows it: `/feed/person` is all below it. */
const forAll = ['/e', '/feed', '/public.css'];
const forOne = ['/i', '/r', '/c', '/my', '/opt-out', '/feed/person'];

const common = { windowMs: 60_000, standardHeaders: 'draft-7', legacyHeaders: false } as const;

const gentleLimit = (): RequestHandler => rateLimit({ ...common, limit: readsAMinute });

const ownLimit = (): RequestHandler =>
  rateLimit({
    ...common,
    limit: ownReadsAMinute,
    keyGenerator: ({ originalUrl }) => originalUrl.split('?', 1)[0]?.slice(0, 200) ?? '',
  });
