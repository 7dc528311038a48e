import { Router } from 'express';
import rateLimit from 'express-rate-limit';
import { ownRequest } from '@convite/contract';
import { nameOfApiKey } from '../services/api-keys';
import type { Context } from '../services/context';
import { takePersonal } from '../services/personal';
import { idOf } from './ids';
import { readJsonBody } from './json-body';

/**
 * What programs may do, by a key of their own (Authorization: Bearer). No cookies, so nothing here needs the CSRF token;
 * a key that is wrong costs time, so that guessing is hopeless.
 */
export function programRoutes(context: Context): Router {
  const routes = Router();
  routes.use(rateLimit({ windowMs: 60_000, limit: 300, standardHeaders: 'draft-8', legacyHeaders: false }));
  routes.use(async (request, response, next) => {
    const [, key] = /^Bearer (\S{20,100})$/.exec(request.headers.authorization ?? '') ?? [];
    const name = key ? await nameOfApiKey(context, key) : null;
    if (name === null) {
      response
        .status(401)
        .set('www-authenticate', 'Bearer')
        .json({ type: 'about:blank', title: 'Unauthorized', status: 401, detail: 'This key is not known here.' });
      return;
    }
    response.locals['program'] = name;
    next();
  });
  routes.use(readJsonBody('3mb'));
  routes.post('/events/:id/personal', async (request, response) => {
    const actor = { name: `program: ${String(response.locals['program'])}` };
    response.json(await takePersonal(context, idOf(request), ownRequest.parse(request.body), actor));
  });
  return routes;
}
