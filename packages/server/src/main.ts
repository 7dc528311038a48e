import { createServer } from 'node:http';
import { buildApp } from './app';
import { assemble, gatewayTokenOf, stopOnSignal } from './assemble';
import { readConfig } from './config';
import { openLiveHub } from './http/live-hub';
import { openInbound } from './mail/inbound';
import { receiveMail } from './services/receive-mail';
import { sessionStore } from './store/session-store';

const clockEveryMs = 500;

const config = readConfig(process.env);
const { db, clock, context, ends, log } = await assemble(config, 'server');
const hub = openLiveHub(context.store, log);
const app = buildApp({
  context,
  clock,
  config,
  sessions: sessionStore(db),
  hub,
  gatewayToken: gatewayTokenOf(config),
  log,
});
const inbound = await openInbound({
  host: config.INBOUND_HOST,
  port: config.INBOUND_PORT,
  mailDomain: config.MAIL_DOMAIN,
  receive: (mail) => receiveMail(context, mail),
  log,
});
// Only the demonstration has a clock that moves; another server may have moved it.
const clockTimer = config.BACKSTAGE_URL
  ? setInterval(() => void context.store.live.clockOffsetMs().then(clock.shiftTo, () => undefined), clockEveryMs)
  : undefined;

const http = createServer(app);
http.listen(config.PORT, config.HOST, () => log.info({ port: config.PORT }, 'server up'));

stopOnSignal(log, async () => {
  clearInterval(clockTimer);
  hub.close();
  await new Promise((resolve) => http.close(resolve));
  await inbound.close();
  await ends.mail.close();
  await db.destroy();
});
