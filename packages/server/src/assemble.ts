import { createHmac } from 'node:crypto';
import type { Knex } from 'knex';
import { pino, type Logger } from 'pino';
import { shiftableClock, type ShiftableClock } from './clock';
import type { Config } from './config';
import { loadFrame } from './mail/frame';
import type { EmailMessage, End, TextMessage } from './mail/message';
import { smtpSender } from './mail/smtp-sender';
import type { Context } from './services/context';
import { makeLinks } from './services/links';
import { openDatabase } from './store/database';
import { migrate } from './store/migrate';
import { openStore } from './store/store';
import { textGateway } from './text/gateway';

/** The parts that servers and workers share, put together from the configuration. */
export interface Parts {
  readonly db: Knex;
  readonly clock: ShiftableClock;
  readonly context: Context;
  readonly ends: Ends;
  readonly log: Logger;
}

export async function assemble(config: Config, name: string): Promise<Parts> {
  const log = pino({ name, level: config.LOG_LEVEL });
  const db = openDatabase(config.DATABASE_URL);
  await migrate(db);
  const store = openStore(db);
  const clock = shiftableClock();
  clock.shiftTo(await store.live.clockOffsetMs());
  const links = makeLinks({ publicUrl: config.PUBLIC_URL, secret: config.SECRET, mailDomain: config.MAIL_DOMAIN });
  const ends = openEnds(config);
  return { db, clock, log, ends, context: { store, clock, links, frame: await loadFrame(), mail: ends.mail } };
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
  const { DKIM_DOMAIN, DKIM_SELECTOR, DKIM_PRIVATE_KEY } = config;
  const dkim =
    DKIM_DOMAIN && DKIM_SELECTOR && DKIM_PRIVATE_KEY
      ? { domainName: DKIM_DOMAIN, keySelector: DKIM_SELECTOR, privateKey: DKIM_PRIVATE_KEY }
      : undefined;
  return {
    mail: smtpSender({ url: config.SMTP_URL, connections: config.SMTP_CONNECTIONS, dkim }),
    text: textGateway({
      url: config.TEXT_GATEWAY_URL,
      key: config.TEXT_GATEWAY_KEY,
      callbackUrl: `${config.PUBLIC_URL}/gateway/${gatewayTokenOf(config)}`,
    }),
  };
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
