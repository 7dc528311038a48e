import { createHmac } from 'node:crypto';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { shiftableClock, type ShiftableClock } from './clock';
import type { Config } from './config';
import { openLog } from './log';
import { loadFrames } from './mail/frame';
import type { EmailMessage, End, TextMessage } from './mail/message';
import { smtpSender } from './mail/smtp-sender';
import { openCalendarReader } from './net/calendar-reader';
import { probeHttp, probeSmtp } from './net/probe';
import { makeSeal } from './services/accounts/seal';
import type { Context } from './services/context';
import type { Probe } from './services/health';
import { keepLinkGeneration } from './services/sending/link-generation';
import { makeLinks } from './services/sending/links';
import { isOutage, openDatabase } from './store/database';
import { migrate } from './store/migrate';
import { openStore } from './store/store';
import { noTextGateway, textGateway } from './text/gateway';

/** The parts that servers and workers share, put together from the configuration. */
export interface Parts {
  readonly db: Knex;
  readonly clock: ShiftableClock;
  readonly context: Context;
  readonly ends: Ends;
  readonly log: Logger;
}

export async function assemble(config: Config, name: string, connections?: number): Promise<Parts> {
  const log = openLog(name, config.LOG_LEVEL);
  outliveFaults(log);
  const db = openDatabase(config.DATABASE_URL, connections);
  await untilThere(log, () => migrate(config.DATABASE_URL, (sentence) => log.info(sentence)));
  const store = openStore(db);
  const clock = shiftableClock();
  clock.shiftTo(await store.live.clockOffsetMs());
  const links = makeLinks({
    publicUrl: config.PUBLIC_URL,
    secret: config.SECRET,
    mailDomain: config.MAIL_DOMAIN,
    generation: (await keepLinkGeneration(store)).now,
  });
  const ends = openEnds(config);
  const calendars = openCalendarReader(log);
  return {
    db,
    clock,
    log,
    ends,
    context: {
      store,
      clock,
      links,
      frames: await loadFrames(),
      seal: makeSeal(config.SECRET),
      calendars,
      mail: ends.mail,
      text: ends.text,
    },
  };
}

/** Nothing unhandled ends a process: it is a fault to be mended, and everybody else's work goes on meanwhile. */
function outliveFaults(log: Logger): void {
  process.on('unhandledRejection', (error) => log.error({ error }, 'fault: a rejection that nobody handles'));
  process.on('uncaughtException', (error) => log.error({ error }, 'fault: an exception that nobody catches'));
}

const againMs = 1000;

/** A process that starts during an outage of the database waits it out. */
async function untilThere(log: Logger, work: () => Promise<void>): Promise<void> {
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isOutage(error)) throw error;
      log.warn({ error }, 'the database is away; waiting for it');
      await new Promise((resolve) => setTimeout(resolve, againMs));
    }
  }
}

/** The secret part of the address that the gateway posts back to. */
export const gatewayTokenOf = ({ SECRET }: Config): string =>
  createHmac('sha256', SECRET).update('gateway').digest('hex').slice(0, 32);

/** The two ways out. */
export interface Ends {
  readonly mail: End<EmailMessage>;
  readonly text: End<TextMessage>;
}

function openEnds(config: Config): Ends {
  const { DKIM_DOMAIN, DKIM_SELECTOR, DKIM_PRIVATE_KEY, TEXT_GATEWAY_URL } = config;
  const dkim =
    DKIM_DOMAIN && DKIM_SELECTOR && DKIM_PRIVATE_KEY
      ? { domainName: DKIM_DOMAIN, keySelector: DKIM_SELECTOR, privateKey: DKIM_PRIVATE_KEY }
      : undefined;
  return {
    mail: smtpSender({
      url: config.SMTP_URL,
      connections: config.SMTP_CONNECTIONS,
      helo: config.SMTP_HELO,
      ca: config.SMTP_CA_FILE,
      dkim,
    }),
    text: TEXT_GATEWAY_URL
      ? textGateway({
          url: TEXT_GATEWAY_URL,
          key: config.TEXT_GATEWAY_KEY,
          callbackUrl: `${config.PUBLIC_URL}/gateway/${gatewayTokenOf(config)}`,
        })
      : noTextGateway,
  };
}

/** What a worker asks of the ways out. */
export function probesOf(config: Config): Probe[] {
  const { hostname, port, protocol } = new URL(config.SMTP_URL);
  const isSecure = protocol === 'smtps:';
  const mail = { host: hostname, port: Number(port || (isSecure ? 465 : 25)), isSecure, ca: config.SMTP_CA_FILE };
  const { TEXT_GATEWAY_URL: gateway } = config;
  return [
    { part: 'mail-server', ask: () => probeSmtp(mail) },
    ...(gateway ? [{ part: 'text-gateway', ask: () => probeHttp(gateway) } as const] : []),
  ];
}

/** Calls `stop` once on the first SIGTERM or SIGINT, then ends the process; a second signal ends it at once. */
export function stopOnSignal(log: Logger, stop: () => Promise<void>): void {
  let isStopping = false;
  const onSignal = (signal: string): void => {
    if (isStopping) process.exit(1);
    isStopping = true;
    log.info({ signal }, 'stopping');
    stop().then(
      () => process.exit(0),
      (error: unknown) => {
        log.error({ error }, 'could not stop cleanly');
        process.exit(1);
      },
    );
  };
  process.on('SIGTERM', onSignal);
  process.on('SIGINT', onSignal);
}
