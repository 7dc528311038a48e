import { createHash } from 'node:crypto';
import { Router, type Request, type RequestHandler } from 'express';
import rateLimit from 'express-rate-limit';
import { programOf } from '../../services/accounts/api-keys';
import type { Context } from '../../services/context';
import { Failure } from '../../services/failure';
import type { KnownProgram } from '../../store/api-keys';
import { requestKeyOf } from '../ids';
import { operations } from './operations';

/**
 * What programs may do, by a key of their own (Authorization: Bearer). No cookies, so nothing here needs the CSRF token;
 * a key that is wrong costs time, so that guessing is hopeless.
 * @param readBody once it is known whose key it is
 */
export function programRoutes(context: Context, readBody: readonly RequestHandler[]): Router {
  const routes = Router();
  const programs = new WeakMap<Request, KnownProgram>();
  routes.use(rateLimit({ windowMs: 60_000, limit: 300, standardHeaders: 'draft-8', legacyHeaders: false }));
  routes.use(async (request, response, next) => {
    const [, key] = /^Bearer (\S{20,100})$/.exec(request.headers.authorization ?? '') ?? [];
    const program = key ? await programOf(context, key) : null;
    if (program === null) {
      response.status(401).set('www-authenticate', 'Bearer').type('application/problem+json').json({
        type: 'about:blank',
        title: 'Unauthorized',
        status: 401,
        detail: 'This key is not known here, or its time is over.',
      });
      return;
    }
    programs.set(request, program);
    response.set('cache-control', 'no-store');
    next();
  });
  routes.use(...readBody);
  for (const { method, path, scope, takesKey, handle } of operations)
    routes[method](path.replace('{id}', ':id'), async (request, response) => {
      const program = programs.get(request);
      if (!program?.scopes.includes(scope))
        throw new Failure(403, 'not-in-scope', `This key is not for ${scope}. An owner can make one that is.`);
      const actor = { name: `program: ${program.name}`, address: request.ip ?? '' };
      const key = takesKey ? keyOf(program, method, path, requestKeyOf(request)) : null;
      const answer: unknown = await handle(context, request, { program, actor, key });
      if (method === 'delete') response.status(204).end();
      else response.json(answer);
    });
  routes.use((_request, response) => {
    response.status(404).type('application/problem+json').json({
      type: 'about:blank',
      title: 'Not Found',
      status: 404,
      detail: 'There is no such address. See /docs/api.',
    });
  });
  return routes;
}

/** The wish of one program is no other's. */
const keyOf = ({ id }: KnownProgram, method: string, path: string, key: string | null): string | null =>
  key === null
    ? null
    : createHash('sha256')
        .update(JSON.stringify([id, method, path, key]))
        .digest('hex');
