import { createServer } from 'node:http';
import * as z from 'zod';
import { buildApp } from '../app';
import { readConfig } from '../config';
import { demoTeam } from '../demo/load';
import { openLiveHub } from '../http/live-hub';
import { hashPassword } from '../services/accounts/passwords';
import type { Links } from '../services/sending/links';
import { sessionStore } from '../store/session-store';
import { openLargeRequests } from '../threads/large-requests';
import { addPeople, mailDomain, openStage, secret, type Stage } from './stage';

const publicUrl = 'http://convite.example';
export const gatewayToken = 't'.repeat(32);
/** What a browser says of a form. */
export const form = { 'content-type': 'application/x-www-form-urlencoded' };
/** The path of one of our links. */
export const pathOf = (url: string): string => url.replace(publicUrl, '');

export interface Answer {
  readonly status: number;
  readonly headers: Headers;
  readonly body: Record<string, unknown> & string;
}

/** A browser that keeps its cookies, at an address of its own. */
export interface Visitor {
  call(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<Answer>;
  signIn(role: string, password?: string): Promise<number>;
  /** What the browser sends along. */
  cookies(): string;
  /** Loses the token that writing needs. */
  forget(): void;
}

/** The whole server over an empty Convite with some people and the demonstration's team. */
export interface HttpStage {
  readonly stage: Stage;
  readonly base: string;
  visitor(): Visitor;
  close(): Promise<void>;
}

/** @param links others than those of a Convite whose links were never ended */
export async function openHttpStage(people = 150, links?: Links, largeWithinMs?: number): Promise<HttpStage> {
  const stage = await openStage(links);
  for (const { password, ...member } of demoTeam)
    await stage.context.store.members.create({ ...member, passwordHash: await hashPassword(password) });
  const env = {
    DATABASE_URL: stage.databaseUrl,
    PUBLIC_URL: publicUrl,
    SECRET: secret,
    SMTP_URL: 'smtp://x',
    MAIL_DOMAIN: mailDomain,
    TEXT_GATEWAY_URL: 'http://x',
    COOKIE_SECURE: 'false',
    WEB_DIR: '/nowhere',
    TRUST_PROXY: '1',
  };
  const config = readConfig(env);
  const large = openLargeRequests(env, stage.log, largeWithinMs);
  const hub = openLiveHub(stage.context.store, stage.log);
  const { context, clock, log } = stage;
  const server = createServer(
    buildApp({ context, clock, config, sessions: sessionStore(stage.db), hub, gatewayToken, log, large }),
  );
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const base = `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`;
  if (people) await addPeople(stage, people);
  let visitors = 0;
  return {
    stage,
    base,
    visitor: () => {
      visitors += 1;
      return visitorAt(base, `10.0.${Math.floor(visitors / 256)}.${visitors % 256}`);
    },
    async close() {
      hub.close();
      await large.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await stage.close();
    },
  };
}

function visitorAt(base: string, address: string): Visitor {
  const jar = new Map<string, string>();
  const cookies = (): string => [...jar].map(([name, value]) => `${name}=${value}`).join('; ');
  let csrf = '';
  const call: Visitor['call'] = async (method, path, body, headers = {}) => {
    const response = await fetch(base + path, {
      method,
      redirect: 'manual',
      headers: {
        cookie: cookies(),
        'x-csrf-token': csrf,
        'x-forwarded-for': address,
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [pair = ''] = cookie.split(';');
      jar.set(pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1));
    }
    const text = await response.text();
    return {
      status: response.status,
      headers: response.headers,
      body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as Record<string, unknown> &
        string,
    };
  };
  const signIn = async (role: string, password = 'under-the-stars'): Promise<number> => {
    const { status, body } = await call('POST', '/api/session', {
      email: `${role}@serradabruma.example`,
      password,
    });
    const { csrfToken } = z.object({ csrfToken: z.string().default('') }).parse(body['me'] ?? body);
    csrf = csrfToken;
    return status;
  };
  return { call, signIn, cookies, forget: () => (csrf = 'nothing') };
}
