import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import cookieParser from 'cookie-parser';
import { doubleCsrf } from 'csrf-csrf';
import staticFiles from 'express-static-gzip';
import express, { type Express, type RequestHandler } from 'express';
import session, { type Store as SessionStore } from 'express-session';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { ShiftableClock } from './clock';
import { mailNamesOf, type Config } from './config';
import { accountRoutes } from './http/account';
import { backstageRoutes } from './http/backstage';
import { beginningRoutes } from './http/beginning';
import { boardRoutes } from './http/board';
import { calendarRoutes } from './http/calendars';
import { digestRoutes } from './http/digests';
import { eventRoutes } from './http/events';
import { gatewayRoutes } from './http/gateway';
import type { LiveHub } from './http/live-hub';
import { readJsonBody } from './http/json-body';
import { largeRequests } from './http/large-request';
import { peopleImportRoutes } from './http/people-imports';
import { problemHandler } from './http/problems';
import { programDocsRoutes } from './http/programs/docs-page';
import { programRoutes } from './http/programs/router';
import { isBeforeSession, readMember, readOrMarket, sessionRoutes } from './http/session';
import { segmentRoutes } from './http/segments';
import { signupRoutes } from './http/signups';
import { vocabularyRoutes } from './http/vocabulary';
import { countRoutes } from './http/counts';
import { manualRoutes } from './http/manual';
import { pictureRoutes } from './http/pictures';
import { wordingRoutes } from './http/wordings';
import { planRoutes } from './http/plans';
import { releaseRoutes } from './http/releases';
import { senderRoutes } from './http/senders';
import { personalLinkRoutes } from './http/personal-links';
import { pressureRoutes } from './http/pressure';
import { webhookRoutes } from './http/webhooks';
import { settingsRoutes } from './http/settings';
import { subscriberRoutes } from './http/subscribers';
import { publicRoutes } from './public/routes';
import { nonceOf, pageHeaders, secureHeaders } from './secure-headers';
import { serializers } from './log';
import { askNames } from './net/ask-names';
import { newLinkWords } from './public/own-words';
import { mailOwnLink } from './services/audience/own-side';
import type { Context } from './services/context';
import { forShowing } from './services/sending/links-of-nobody';
import type { LargeRequests } from './threads/large-requests';
import { readTroubles } from './services/health';
import { idleHours } from './store/session-store';

export interface AppOptions {
  readonly context: Context;
  readonly clock: ShiftableClock;
  readonly config: Config;
  readonly sessions: SessionStore;
  readonly hub: LiveHub;
  readonly gatewayToken: string;
  readonly log: Logger;
  /** Works on large requests; null where that is this. */
  readonly large: LargeRequests | null;
}

/** Builds the application; it never listens. */
export function buildApp({ context, clock, config, sessions, hub, gatewayToken, log, large }: AppOptions): Express {
  const app = express();
  app.set('trust proxy', config.TRUST_PROXY);
  app.disable('x-powered-by');
  // First, and before the log of requests, which would cost a quarter of a page that thousands ask for: one that fails is
  // logged all the same.
  app.use(publicRoutes(context));
  app.use(['/healthz', '/readyz'], pageHeaders());
  healthRoutes(app, context);
  app.use(logRequests(log), secureHeaders());
  app.use('/gateway', gatewayRoutes(context, gatewayToken));
  app.use('/programs', programRoutes(context, [largeRequests(large, clock), readJsonBody('3mb', large === null)]));
  app.use('/docs/api', programDocsRoutes(context, config.PUBLIC_URL));
  app.use('/api', api());
  serveWeb(app, config.WEB_DIR);
  app.use(problemHandler(log));
  return app;

  function api(): Express {
    // Members look at what others get: nothing they are answered with acts for a reader.
    const shown = forShowing(context);
    const routes = express();
    routes.disable('x-powered-by');
    routes.set('trust proxy', config.TRUST_PROXY);
    const cookie = { httpOnly: true, sameSite: 'lax', secure: config.COOKIE_SECURE, path: '/' } as const;
    const csrf = doubleCsrf({
      getSecret: () => config.SECRET,
      getSessionIdentifier: (request) => request.session.id,
      cookieName: 'convite.csrf',
      cookieOptions: cookie,
      getCsrfTokenFromRequest: (request) => request.headers['x-csrf-token'],
    });
    routes.use((_request, response, next) => {
      response.set('cache-control', 'no-store');
      next();
    });
    routes.use(cookieParser());
    routes.use(
      session({
        name: 'convite.sid',
        secret: config.SECRET,
        store: sessions,
        resave: false,
        saveUninitialized: false,
        rolling: true,
        cookie: { ...cookie, maxAge: idleHours * 3_600_000 },
      }),
    );
    const hasBackstage = Boolean(config.BACKSTAGE_URL);
    // JSON bodies and SameSite keep other sites from posting what is asked for before there is a session.
    routes.use((request, response, next) =>
      isBeforeSession(request) ? next() : csrf.doubleCsrfProtection(request, response, next),
    );
    routes.use(readMember(shown));
    routes.use(
      '/session',
      sessionRoutes(shown, {
        hasBackstage,
        csrfToken: (request, response) => csrf.generateCsrfToken(request, response),
      }),
    );
    routes.use('/account', accountRoutes(shown));
    // Who it is and what they may do comes before anything large is read.
    routes.use(readOrMarket);
    routes.use(largeRequests(large, clock));
    routes.use(readJsonBody('3mb', large === null));
    routes.use('/events', eventRoutes(shown));
    routes.use('/digests', digestRoutes(shown));
    routes.use(boardRoutes(shown, hub));
    routes.use(beginningRoutes(shown));
    routes.use('/people-imports', peopleImportRoutes(shown));
    routes.use('/segments', segmentRoutes(shown));
    routes.use('/vocabulary', vocabularyRoutes(shown));
    routes.use('/pressure', pressureRoutes(shown));
    routes.use('/by-hand', manualRoutes(shown));
    routes.use('/wordings', wordingRoutes(shown));
    routes.use('/pictures', pictureRoutes(shown));
    routes.use('/releases', releaseRoutes(shown));
    routes.use('/plans', planRoutes(shown));
    routes.use('/senders', senderRoutes(shown, { ask: askNames, own: mailNamesOf(config) }));
    routes.use('/counts', countRoutes(shown));
    routes.use('/personal-links', personalLinkRoutes(shown));
    routes.use('/webhooks', webhookRoutes(shown));
    routes.use('/sign-up-forms', signupRoutes(shown));
    routes.use(subscriberRoutes(shown, { mailOwnLink: (id, actor) => mailOwnLink(context, id, newLinkWords, actor) }));
    routes.use(settingsRoutes(shown));
    routes.use(calendarRoutes(shown));
    if (config.BACKSTAGE_URL) routes.use('/backstage', backstageRoutes(shown, clock, config.BACKSTAGE_URL));
    routes.use((_request, response) => {
      response
        .status(404)
        .json({ type: 'about:blank', title: 'Not Found', status: 404, detail: 'There is no such address.' });
    });
    routes.use(problemHandler(log));
    return routes;
  }
}

/** What is asked by the interface and by programs. */
const logRequests = (log: Logger): RequestHandler =>
  pinoHttp({
    logger: log,
    customLogLevel: (_request, response) => (response.statusCode >= 500 ? 'error' : 'debug'),
    wrapSerializers: false,
    serializers,
  });

/** Alive: the process answers. Ready: the database answers too; what else is not there is said beside it. */
function healthRoutes(app: Express, { store }: Context): void {
  app.get('/healthz', (_request, response) => {
    response.json({ ok: true });
  });
  app.get('/readyz', async (_request, response) => {
    try {
      await store.live.ping();
      const troubles = await readTroubles(store);
      const workers = await store.leases.liveWorkers();
      response.json({ ok: true, workers, troubles: troubles.map(({ part, text }) => ({ part, text })) });
    } catch {
      response.status(503).json({ ok: false, detail: 'The database does not answer.' });
    }
  });
}

/** The built interface; every other address is a place inside it. */
function serveWeb(app: Express, directory: string): void {
  const indexFile = join(directory, 'index.html');
  if (!existsSync(indexFile)) return;
  const index = readFileSync(indexFile, 'utf8');
  // Only what is the same for everybody is compressed: nothing secret shares a length with what somebody typed.
  app.use(
    staticFiles(directory, {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: {
        maxAge: '1y',
        immutable: true,
        setHeaders: (response, path) =>
          void (path.endsWith('.html') && response.setHeader('cache-control', 'no-store')),
      },
    }),
  );
  app.get('/{*path}', (_request, response) => {
    response
      .type('html')
      .set('cache-control', 'no-store')
      .send(index.replaceAll('CSP_NONCE', nonceOf(response)));
  });
}
