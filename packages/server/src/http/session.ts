import { Router, type Request, type RequestHandler, type Response } from 'express';
import rateLimit from 'express-rate-limit';
import { signIn, type Me, type Role } from '@convite/contract';
import { checkPassword } from '../services/accounts';
import { nowOf, type Actor, type Context } from '../services/context';
import { Failure } from '../services/failure';

declare module 'express-session' {
  interface SessionData {
    user: { id: number; name: string; email: string; role: Role };
  }
}

/** Attempts to sign in from one address within a quarter of an hour; the demonstration's tests need a handful. */
const attempts = 20;
const attemptWindowMs = 15 * 60_000;

export interface SessionOptions {
  readonly hasBackstage: boolean;
  readonly csrfToken: (request: Request, response: Response) => string;
}

export function sessionRoutes(context: Context, { hasBackstage, csrfToken }: SessionOptions): Router {
  const routes = Router();
  const describe = async (request: Request, response: Response): Promise<Me> => {
    const { user } = request.session;
    if (!user) throw new Failure(403, 'signed-out', 'Sign in first.');
    const { organisation, zone } = await context.store.house.settings();
    return {
      name: user.name,
      email: user.email,
      role: user.role,
      csrfToken: csrfToken(request, response),
      organisation: { name: organisation, zone },
      hasBackstage,
    };
  };
  routes.get('/', async (request, response) => {
    response.json(request.session.user ? await describe(request, response) : null);
  });
  const limit = rateLimit({
    windowMs: attemptWindowMs,
    limit: attempts,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    message: {
      type: 'about:blank',
      title: 'Too many attempts',
      status: 429,
      detail: 'Too many attempts to sign in. Wait a quarter of an hour.',
    },
  });
  routes.post('/', limit, async (request, response) => {
    const { email, password } = signIn.parse(request.body);
    const member = await checkPassword(context, email, password);
    if (!member) {
      response.status(401).json({
        type: 'about:blank',
        title: 'Unauthorized',
        status: 401,
        detail: 'This address and password do not belong together.',
      });
      return;
    }
    // A new session id on sign-in, so that one planted before is worth nothing (ASVS 3.2.1).
    await new Promise<void>((resolve, reject) =>
      request.session.regenerate((error: unknown) => (error ? reject(toError(error)) : resolve())),
    );
    request.session.user = member;
    await context.store.house.audit(nowOf(context), member.name, 'signed in', member.email);
    response.json(await describe(request, response));
  });
  routes.delete('/', async (request, response) => {
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error: unknown) => (error ? reject(toError(error)) : resolve())),
    );
    response.status(204).end();
  });
  return routes;
}

const toError = (thrown: unknown): Error => (thrown instanceof Error ? thrown : new Error(String(thrown)));

/** Lets only people of these roles through. */
export const allow =
  (...roles: readonly Role[]): RequestHandler =>
  (request, response, next) => {
    const { user } = request.session;
    if (!user)
      response.status(401).json({ type: 'about:blank', title: 'Unauthorized', status: 401, detail: 'Sign in first.' });
    else if (!roles.includes(user.role))
      next(new Failure(403, 'not-allowed', `A ${user.role} may look, but not do this.`));
    else next();
  };

/** Everybody signed in may read; whoever writes must be a marketer or owner. */
export const readOrMarket: RequestHandler = (request, response, next) =>
  (request.method === 'GET' ? allow('owner', 'marketer', 'viewer') : allow('owner', 'marketer'))(
    request,
    response,
    next,
  );

export function actorOf(request: Request): Actor {
  return { name: request.session.user?.name ?? 'nobody' };
}
