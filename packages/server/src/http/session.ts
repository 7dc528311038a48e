import { Router, type Request, type RequestHandler, type Response } from 'express';
import rateLimit from 'express-rate-limit';
import {
  forgotten,
  passwordByLink,
  signIn,
  signInCode,
  type Me,
  type Role,
  type SignInAnswer,
} from '@convite/contract';
import { askForReset, readLink, setPasswordByLink } from '../services/accounts/links';
import { actorOf as actorOfMember, tryCode, tryPassword, type Place, type Tried } from '../services/accounts/sign-in';
import {
  asSessionMember,
  houseOf,
  memberOfSession,
  noteSession,
  type SessionMember,
} from '../services/accounts/session-member';
import type { Actor, Context } from '../services/context';
import { Failure } from '../services/failure';
import type { StoredMember } from '../store/members';
import { publicIdOf } from '../store/session-store';
import { readJsonBody } from './json-body';

/** A password takes some 30 ms of a processor: no address asks for more of them. Who fails is slowed in the database. */
const triesAMinute = 60;
/** Between the password and the code. */
const pendingMs = 5 * 60_000;
const pendingTries = 5;

export interface SessionOptions {
  readonly hasBackstage: boolean;
  readonly csrfToken: (request: Request, response: Response) => string;
}

/** What needs no CSRF token: it is asked for before there is a session to protect, and takes nothing from a cookie. */
export const isBeforeSession = ({ method, path }: Pick<Request, 'method' | 'path'>): boolean =>
  method === 'POST' && ['/session', '/session/forgotten', '/session/link', '/session/password'].includes(path);

/** Who asks, read anew for every request: a role that was changed, or a member who was removed, is so at once. */
const members = new WeakMap<Request, SessionMember>();

export const readMember =
  (context: Context): RequestHandler =>
  async (request, _response, next) => {
    const found = await memberOfSession(context, request.session.memberId);
    if (found) members.set(request, found);
    next();
  };

export function sessionRoutes(context: Context, { hasBackstage, csrfToken }: SessionOptions): Router {
  const routes = Router();
  routes.use(readJsonBody('10kb'));
  const describe = async (request: Request, response: Response): Promise<Me> => {
    const found = members.get(request);
    if (!found) throw new Failure(403, 'signed-out', 'Sign in first.');
    const { id, name, email, role } = found.member;
    return {
      id,
      name,
      email,
      role,
      csrfToken: csrfToken(request, response),
      organisation: await houseOf(context),
      hasBackstage,
      mustSetUpFactor: found.mustSetUpFactor,
    };
  };
  /** A new session id whenever somebody comes further in, so that one planted before is worth nothing (ASVS 3.2.1). */
  const begin = async (request: Request): Promise<void> => {
    await new Promise<void>((resolve, reject) =>
      request.session.regenerate((error: unknown) => (error ? reject(toError(error)) : resolve())),
    );
    request.session.isNew = true;
    request.session.place = { ...placeOf(request), agent: request.get('user-agent') ?? '' };
  };
  const letIn = async (request: Request, response: Response, member: StoredMember): Promise<SignInAnswer> => {
    await begin(request);
    request.session.memberId = member.id;
    members.set(request, await asSessionMember(context, member));
    const by = { ...actorOfMember(member), ...placeOf(request) };
    await noteSession(context, by, 'in', member.email);
    return { step: 'in', me: await describe(request, response) };
  };
  const limit = rateLimit({ windowMs: 60_000, limit: triesAMinute, standardHeaders: 'draft-8', legacyHeaders: false });

  routes.get('/', async (request, response) => {
    response.json(members.has(request) ? await describe(request, response) : null);
  });
  routes.post('/', limit, async (request, response) => {
    const { email, password } = signIn.parse(request.body);
    const tried = await tryPassword(context, email, password, placeOf(request));
    if (tried.kind !== 'right') return refuse(response, tried, 'This address and password do not belong together.');
    const { member } = tried;
    if (member.totpSecret === null) {
      response.json(await letIn(request, response, member));
      return;
    }
    await begin(request);
    request.session.pending = { memberId: member.id, untilMs: Date.now() + pendingMs, tries: 0 };
    response.json({ step: 'code', csrfToken: csrfToken(request, response) } satisfies SignInAnswer);
  });
  routes.post('/code', limit, async (request, response) => {
    const { pending } = request.session;
    if (!pending || pending.untilMs < Date.now() || pending.tries >= pendingTries)
      throw new Failure(403, 'signed-out', 'That took too long. Sign in with your password again.');
    request.session.pending = { ...pending, tries: pending.tries + 1 };
    const { code } = signInCode.parse(request.body);
    const tried = await tryCode(context, pending.memberId, code, placeOf(request));
    if (tried.kind === 'right') response.json(await letIn(request, response, tried.member));
    else refuse(response, tried, 'This code is wrong, or was used before. Type the one that is shown now.');
  });
  routes.post('/forgotten', limit, (request, response) => {
    const { email } = forgotten.parse(request.body);
    // Not waited for: neither the answer nor its time says whether there is such a member.
    askForReset(context, email, placeOf(request)).catch((error: unknown) =>
      request.log.warn({ error }, 'a new password could not be mailed'),
    );
    response.status(202).end();
  });
  routes.post('/link', limit, async (request, response) => {
    const { purpose, name, email } = await readLink(context, passwordByLink.shape.token.parse(request.body.token));
    response.json({ purpose, name, email });
  });
  routes.post('/password', limit, async (request, response) => {
    const { token, password } = passwordByLink.parse(request.body);
    await setPasswordByLink(context, token, password, placeOf(request));
    response.status(204).end();
  });
  routes.delete('/', async (request, response) => {
    const found = members.get(request);
    if (found) await noteSession(context, actorOf(request), 'out', found.member.email);
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error: unknown) => (error ? reject(toError(error)) : resolve())),
    );
    response.status(204).end();
  });
  return routes;
}

function refuse(response: Response, tried: Exclude<Tried, { kind: 'right' }>, wrong: string): void {
  if (tried.kind === 'wait') {
    const { seconds } = tried;
    const wait = seconds < 120 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;
    const detail = `Too many attempts to sign in. Wait ${wait}, or ask for a new password.`;
    response
      .status(429)
      .set('retry-after', String(seconds))
      .json({ type: 'about:blank', title: 'Too many attempts', status: 429, detail });
  } else response.status(401).json({ type: 'about:blank', title: 'Unauthorized', status: 401, detail: wrong });
}

const toError = (thrown: unknown): Error => (thrown instanceof Error ? thrown : new Error(String(thrown)));

/** Lets only people of these roles through. @param withoutFactor also who has yet to set up the second factor */
export const allow =
  (roles: readonly Role[], withoutFactor = false): RequestHandler =>
  (request, response, next) => {
    const found = members.get(request);
    if (!found)
      response.status(401).json({ type: 'about:blank', title: 'Unauthorized', status: 401, detail: 'Sign in first.' });
    else if (found.mustSetUpFactor && !withoutFactor)
      next(new Failure(403, 'factor-needed', 'Set up your second factor first, in your account.'));
    else if (!roles.includes(found.member.role))
      next(new Failure(403, 'not-allowed', `A ${found.member.role} may look, but not do this.`));
    else next();
  };

/** Everybody signed in may read; whoever writes must be a marketer or owner. */
export const readOrMarket: RequestHandler = (request, response, next) =>
  (request.method === 'GET' || isPreview.test(request.path)
    ? allow(['owner', 'marketer', 'viewer'])
    : allow(['owner', 'marketer']))(request, response, next);

/** A preview is asked with what it is to show, and changes nothing. */
const isPreview = /[/-]preview$/;

export const placeOf = (request: Request): Place => ({ address: request.ip ?? '' });

/** Who is signed in. @throws Failure 403 when nobody is */
export function memberOf(request: Request): StoredMember {
  const found = members.get(request);
  if (!found) throw new Failure(403, 'signed-out', 'Sign in first.');
  return found.member;
}

export const actorOf = (request: Request): Actor => ({ ...actorOfMember(memberOf(request)), ...placeOf(request) });

/** By which the session that asks is named to people. */
export const sessionIdOf = (request: Request): string => publicIdOf(request.session.id);
