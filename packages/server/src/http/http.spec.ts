import { createServer, type Server } from 'node:http';
import { buildApp } from '../app';
import { readConfig } from '../config';
import { demoTeam } from '../demo/load';
import { hashPassword } from '../services/accounts';
import { sessionStore } from '../store/session-store';
import {
  publishedEvent,
  addPeople,
  eventFacts,
  mailDomain,
  openStage,
  secret,
  until,
  type Stage,
} from '../testing/stage';
import { openLiveHub } from './live-hub';

describe('the HTTP interface', () => {
  let stage: Stage;
  let server: Server;
  let base: string;
  let close: () => Promise<void>;

  beforeAll(async () => {
    stage = await openStage();
    for (const { password, ...member } of demoTeam)
      await stage.context.store.house.createUser({ ...member, passwordHash: await hashPassword(password) });
    const config = readConfig({
      DATABASE_URL: stage.databaseUrl,
      PUBLIC_URL: 'http://convite.example',
      SECRET: secret,
      SMTP_URL: 'smtp://x',
      MAIL_DOMAIN: mailDomain,
      TEXT_GATEWAY_URL: 'http://x',
      COOKIE_SECURE: 'false',
      WEB_DIR: '/nowhere',
      TRUST_PROXY: '1',
    });
    const hub = openLiveHub(stage.context.store, stage.log);
    const app = buildApp({
      context: stage.context,
      clock: stage.clock,
      config,
      sessions: sessionStore(stage.db),
      hub,
      gatewayToken: 't'.repeat(32),
      log: stage.log,
    });
    server = createServer(app);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    base = `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`;
    close = async () => {
      hub.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await stage.close();
    };
    await addPeople(stage, 150);
  });
  afterAll(() => close());

  let visitors = 0;
  /** A browser that keeps its cookies, at an address of its own. */
  function visitor() {
    const address = `10.0.0.${(visitors += 1)}`;
    const cookies = new Map<string, string>();
    let csrf = '';
    const call = async (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
      const response = await fetch(base + path, {
        method,
        redirect: 'manual',
        headers: {
          cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; '),
          'x-csrf-token': csrf,
          'x-forwarded-for': address,
          ...(body !== undefined && { 'content-type': 'application/json' }),
          ...headers,
        },
        ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
      });
      for (const cookie of response.headers.getSetCookie()) {
        const [pair = ''] = cookie.split(';');
        cookies.set(pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1));
      }
      const text = await response.text();
      return {
        status: response.status,
        headers: response.headers,
        body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as Record<string, unknown> &
          string,
      };
    };
    const signIn = async (role: string): Promise<number> => {
      const { status, body } = await call('POST', '/api/session', {
        email: `${role}@serradabruma.example`,
        password: 'under-the-stars',
      });
      csrf = String(body['csrfToken'] ?? '');
      return status;
    };
    return { call, signIn, forget: () => (csrf = 'nothing') };
  }

  it('lets nobody in without signing in, nor with a wrong password, and writes nothing without its token', async () => {
    const { call, signIn, forget } = visitor();
    expect((await call('GET', '/api/events')).status).toBe(401);
    expect(
      (await call('POST', '/api/session', { email: 'owner@serradabruma.example', password: 'wrong' })).status,
    ).toBe(401);
    expect(await signIn('marketer')).toBe(200);
    expect((await call('GET', '/api/events')).status).toBe(200);
    forget();
    expect((await call('POST', '/api/lists', { name: 'No token' })).status).toBe(403);
  });

  it('keeps each role to what it may do', async () => {
    const viewer = visitor();
    await viewer.signIn('viewer');
    expect((await viewer.call('GET', '/api/board')).status).toBe(200);
    const refused = await viewer.call('POST', '/api/lists', { name: 'Mine' });
    expect([refused.status, refused.body['detail']]).toEqual([403, 'A viewer may look, but not do this.']);
    const marketer = visitor();
    await marketer.signIn('marketer');
    expect((await marketer.call('POST', '/api/lists', { name: 'Mine' })).status).toBe(201);
    expect((await marketer.call('PUT', '/api/settings', {})).status).toBe(403);
    const owner = visitor();
    await owner.signIn('owner');
    expect((await owner.call('PUT', '/api/team/2', { role: 'viewer' })).body['detail']).toBe(
      'There must be at least one owner.',
    );
  });

  it('limits attempts to sign in', async () => {
    const { call } = visitor();
    const statuses: number[] = [];
    for (let attempt = 0; attempt < 24; attempt += 1)
      statuses.push((await call('POST', '/api/session', { email: 'x@y.example', password: 'z' })).status);
    expect(statuses[0]).toBe(401);
    expect(statuses.at(-1)).toBe(429);
  });

  it('answers bad input with problem+json that says what and where', async () => {
    const { call, signIn } = visitor();
    await signIn('marketer');
    const bad = await call('POST', '/api/events', { ...eventFacts, title: '', zone: 'Mars' });
    expect(bad.headers.get('content-type')).toContain('application/problem+json');
    expect([bad.status, bad.body['problems']]).toEqual([
      422,
      [
        { code: 'required', path: 'title' },
        { code: 'unknown-zone', path: 'zone', facts: { zone: 'Mars' } },
      ],
    ]);
    expect((await call('POST', '/api/events', '{"title":')).status).toBe(400);
    expect((await call('POST', '/api/events', { title: 5 })).status).toBe(422);
    expect((await call('GET', '/api/events/99999')).status).toBe(404);
    expect((await call('GET', '/api/events/abc')).status).toBe(422);
    const event = await publishedEvent(stage);
    const invitation = {
      lists: [stage.list],
      channel: 'email',
      wording: { subject: 's', body: 'b {{nope}}' },
      confirmedCount: null,
    };
    expect((await call('POST', `/api/events/${event}/invitations`, invitation)).body['problems']).toEqual([
      { code: 'unknown-field', path: 'body', facts: { name: 'nope' } },
    ]);
    const asked = await call('POST', `/api/events/${event}/invitations`, {
      ...invitation,
      wording: { subject: 's', body: 'b' },
    });
    expect(asked.status).toBe(409);
    expect(Number(asked.body['count'])).toBeGreaterThan(100);
    expect(
      (
        await call('POST', `/api/events/${event}/invitations`, {
          ...invitation,
          wording: { subject: 's', body: 'b' },
          confirmedCount: Number(asked.body['count']) - 1,
        })
      ).status,
    ).toBe(409);
    const stale = await call('PUT', `/api/events/${event}`, { facts: { ...eventFacts, title: 'Other' }, basedOn: 0 });
    expect([stale.status, stale.body['title']]).toEqual([409, 'changed-meanwhile']);
  });

  it('serves pages under a policy without unsafe-inline, and an .ics with the right headers (RFC 6266)', async () => {
    const { call } = visitor();
    const event = await stage.context.store.events.find(
      await publishedEvent(stage, { title: 'Noite das Estrelas <b>& café</b>' }),
    );
    const page = await call('GET', `/e/${event?.publicKey}`);
    expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(page.headers.get('content-security-policy')).not.toContain('unsafe');
    expect(page.body).toContain('&lt;b&gt;&amp; café&lt;/b&gt;');
    expect(page.body).not.toContain('<b>&');
    const ics = await call('GET', `/e/${event?.publicKey}/event.ics`);
    expect(ics.headers.get('content-type')).toContain('text/calendar');
    expect(ics.headers.get('content-disposition')).toContain("filename*=UTF-8''Noite-das-Estrelas-b-caf%C3%A9-b-.ics");
    expect(ics.body).toContain('METHOD:PUBLISH');
    expect((await call('GET', '/e/nothing')).status).toBe(404);
  });

  it('opts out only by POST, with one click (RFC 8058), since scanners fetch every link', async () => {
    const { call } = visitor();
    const path = stage.context.links.optOut(5).replace('http://convite.example', '');
    const state = async () =>
      (await stage.context.store.subscribers.page({ search: 'p5@', after: 0, limit: 1 })).rows[0]?.state;
    expect((await call('GET', path)).status).toBe(200);
    expect(await state()).toBe('subscribed');
    expect((await call('POST', path.replace(/.$/, 'x'))).status).toBe(404);
    expect(
      (await call('POST', path, 'List-Unsubscribe=One-Click', { 'content-type': 'application/x-www-form-urlencoded' }))
        .status,
    ).toBe(200);
    expect(await state()).toBe('opted-out');
  });

  it('takes receipts and STOP from the gateway, and from nobody else', async () => {
    const { call } = visitor();
    const consent = async () =>
      (await stage.context.store.subscribers.page({ search: 'p7@', after: 0, limit: 1 })).rows[0]?.textConsent;
    expect((await call('POST', '/gateway/wrong/incoming', { from: '+447700900007', text: 'STOP' })).status).toBe(404);
    expect(await consent()).toBeTrue();
    expect(
      (await call('POST', `/gateway/${'t'.repeat(32)}/incoming`, { from: '+447700900007', text: ' Stop please' }))
        .status,
    ).toBe(204);
    await until('consent is gone', async () => (await consent()) === false);
  });

  it('says whether it is alive and ready', async () => {
    const { call } = visitor();
    expect((await call('GET', '/healthz')).status).toBe(200);
    expect((await call('GET', '/readyz')).body['ok']).toBeTrue();
  });
});
