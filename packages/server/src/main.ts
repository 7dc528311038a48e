import { createServer } from 'node:http';
import { hostname } from 'node:os';
import { buildApp } from './app';
import { assemble, gatewayTokenOf, stopOnSignal } from './assemble';
import { readConfig } from './config';
import { openLiveHub } from './http/live-hub';
import { openInbound } from './mail/inbound';
import { probeSmtp } from './net/probe';
import { clockProbe, keepReporting, type Probe } from './services/health';
import { isOurAddress, knownAs, receiveMail } from './services/replies/receive-mail';
import { sessionStore } from './store/session-store';
import { openLargeRequests } from './threads/large-requests';

const clockEveryMs = 500;

const config = readConfig(process.env);
const { db, clock, context, ends, log } = await assemble(config, 'server');
const hub = openLiveHub(context.store, log);
const large = openLargeRequests(process.env, log);
const app = buildApp({
  large,
  context,
  clock,
  config,
  sessions: sessionStore(db),
  hub,
  gatewayToken: gatewayTokenOf(config),
  log,
});
const inbound = openInbound({
  host: config.INBOUND_HOST,
  port: config.INBOUND_PORT,
  relays: config.INBOUND_RELAYS,
  authservId: config.INBOUND_AUTHSERV,
  isOurs: (address) => isOurAddress(context, address),
  knownAs: (address) => knownAs(context, address),
  receive: (mail) => receiveMail(context, mail),
  log,
});
// Only the demonstration has a clock that moves; another server may have moved it.
const clockTimer = config.BACKSTAGE_URL
  ? setInterval(() => void context.store.live.clockOffsetMs().then(clock.shiftTo, () => undefined), clockEveryMs)
  : undefined;

const http = createServer(app);
http.on('error', (error) => {
  log.fatal({ error }, 'cannot listen');
  process.exit(1);
});
http.listen(config.PORT, config.HOST, () => log.info({ port: config.PORT }, 'server up'));

const reporter = `server ${hostname()} ${process.pid}`.slice(0, 60);
const inboundAddress = { host: config.INBOUND_HOST, port: config.INBOUND_PORT, isSecure: false };
const probes: Probe[] = [{ part: 'inbound', ask: () => probeSmtp(inboundAddress) }, clockProbe(context.store)];
const reporting = keepReporting(context.store, reporter, probes, (error) => log.warn({ error }, 'cannot report'));

stopOnSignal(log, async () => {
  reporting.stop();
  clearInterval(clockTimer);
  hub.close();
  await large.close();
  await new Promise((resolve) => http.close(resolve));
  await inbound.close();
  await ends.mail.close();
  await db.destroy();
});
