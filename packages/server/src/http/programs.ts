import { Router, type Request } from 'express';
import rateLimit from 'express-rate-limit';
import { ownRequest } from '@convite/contract';
import { programOf } from '../services/accounts/api-keys';
import type { Context } from '../services/context';
import { Failure } from '../services/failure';
import { takePersonal } from '../services/events/personal';
import type { KnownProgram } from '../store/api-keys';
import { idOf } from './ids';
import { readJsonBody } from './json-body';

/**
 * What programs may do, by a key of their own (Authorization: Bearer). No cookies, so nothing here needs the CSRF token;
 * a key that is wrong costs time, so that guessing is hopeless.
 */
export function programRoutes(context: Context): Router {
  const routes = Router();
  const programs = new WeakMap<Request, KnownProgram>();
  routes.use(rateLimit({ windowMs: 60_000, limit: 300, standardHeaders: 'draft-8', legacyHeaders: false }));
  routes.use(async (request, response, next) => {
    const [, key] = /^Bearer (\S{20,100})$/.exec(request.headers.authorization ?? '') ?? [];
    const program = key ? await programOf(context, key) : null;
    if (program === null) {
      response.status(401).set('www-authenticate', 'Bearer').json({
        type: 'about:blank',
        title: 'Unauthorized',
        status: 401,
        detail: 'This key is not known here, or its time is over.',
      });
      return;
    }
    programs.set(request, program);
    next();
  });
  routes.use(readJsonBody('3mb'));
  routes.post('/events/:id/personal', async (request, response) => {
    const { name = '', eventId = null } = programs.get(request) ?? {};
    const id = idOf(request);
    if (eventId !== null && eventId !== id) throw new Failure(403, 'not-in-scope', 'This key is for another event.');
    const actor = { name: `program: ${name}`, address: request.ip ?? '' };
    response.json(await takePersonal(context, id, ownRequest.parse(request.body), actor));
  });
  return routes;
}
