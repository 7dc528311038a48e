import { hostname } from 'node:os';
import { assemble, probesOf, stopOnSignal } from './assemble';
import { readConfig } from './config';
import { clockProbe, keepReporting } from './services/health';
import { startWorker } from './worker/worker';

/** Sends under way for each connection to the mail server: one on the wire, one made ready behind it. */
const sendsPerConnection = 2;
/** To the database: four sendings may be written down for a minute each, and the rest of the worker goes on. */
const connections = 12;

const config = readConfig(process.env);
const { db, clock, context, ends, log } = await assemble(config, 'worker', connections);
const worker = await startWorker({
  context,
  clock,
  ...ends,
  leaseSeconds: config.LEASE_SECONDS,
  emailConcurrency: config.SMTP_CONNECTIONS * sendsPerConnection,
  log,
});

const reporter = `worker ${hostname()} ${process.pid}`.slice(0, 60);
const reporting = keepReporting(context.store, reporter, [...probesOf(config), clockProbe(context.store)], (error) =>
  log.warn({ error }, 'cannot report'),
);

stopOnSignal(log, async () => {
  reporting.stop();
  await worker.stop();
  await db.destroy();
});
