import { Router } from 'express';
import rateLimit from 'express-rate-limit';
import type { Context } from '../services/context';
import { calendarFileRoutes } from './calendar-files';
import { eventPageRoutes } from './event-page';
import { optOutRoutes } from './opt-out';
import { publicStyles } from './page';
import { personPageRoutes } from './person-page';
import { replyPageRoutes } from './reply-page';

/** What invitees and subscribers see: plain HTML and calendar files, reached by addresses that nobody can guess. */
export function publicRoutes(context: Context): Router {
  const routes = Router();
  routes.use(
    ['/e', '/i', '/r', '/my', '/feed', '/opt-out'],
    rateLimit({ windowMs: 60_000, limit: 600, standardHeaders: 'draft-8', legacyHeaders: false }),
  );
  routes.get('/public.css', (_request, response) => {
    response.type('css').set('cache-control', 'public, max-age=3600').send(publicStyles);
  });
  eventPageRoutes(routes, context);
  calendarFileRoutes(routes, context);
  replyPageRoutes(routes, context);
  personPageRoutes(routes, context);
  optOutRoutes(routes, context);
  return routes;
}
