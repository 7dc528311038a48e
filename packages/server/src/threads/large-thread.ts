// The thread that works on large requests of members and programs: the application once more, with its own connections.
import inject from 'light-my-request';
import { buildApp } from '../app';
import { assemble, gatewayTokenOf } from '../assemble';
import { readConfig } from '../config';
import { openLiveHub } from '../http/live-hub';
import { sessionStore } from '../store/session-store';
import { answerRequests } from './answer-requests';
import type { LargeAnswer, LargeWork } from './large-requests';

const connections = 3;

let opened: ReturnType<typeof open> | undefined;

/** Opened once; where the database was away just then, again with the next request. */
const ready = (env: LargeWork['env']): ReturnType<typeof open> =>
  (opened ??= open(env).catch((error: unknown) => {
    opened = undefined;
    throw error;
  }));

async function open(env: LargeWork['env']) {
  const config = readConfig(env);
  const { db, clock, context, log } = await assemble(config, 'server, large requests', connections);
  const app = buildApp({
    context,
    clock,
    config,
    sessions: sessionStore(db),
    hub: openLiveHub(context.store, log),
    gatewayToken: gatewayTokenOf(config),
    log,
    large: null,
  });
  return { app, clock };
}

answerRequests(async ({ env, request }: LargeWork): Promise<LargeAnswer> => {
  const { app, clock } = await ready(env);
  clock.shiftTo(request.clockOffsetMs);
  const { method, url, headers, body, address } = request;
  const answer = await inject(app, {
    method: method as 'POST',
    url,
    headers: { ...headers },
    payload: Buffer.from(body),
    remoteAddress: address,
  });
  return {
    status: answer.statusCode,
    headers: Object.fromEntries(
      Object.entries(answer.headers).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
    ),
    body: answer.rawPayload,
  };
});
