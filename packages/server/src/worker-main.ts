import { assemble, stopOnSignal } from './assemble';
import { readConfig } from './config';
import { startWorker } from './worker/worker';

/** Sends under way for each connection to the mail server: one on the wire, one made ready behind it. */
const sendsPerConnection = 2;

const config = readConfig(process.env);
const { db, clock, context, ends, log } = await assemble(config, 'worker');
const worker = await startWorker({
  context,
  clock,
  ...ends,
  leaseSeconds: config.LEASE_SECONDS,
  emailConcurrency: config.SMTP_CONNECTIONS * sendsPerConnection,
  log,
});

stopOnSignal(log, async () => {
  await worker.stop();
  await db.destroy();
});
