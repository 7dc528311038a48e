import { createServer } from 'node:http';
import express from 'express';
import type { StandinsConfig } from './config';
import { controlRoutes } from './control';
import type { Faults } from './faults';
import { openMailServer } from './mail-server';
import { openMailStore } from './mail-store';
import { openOutgoing } from './outgoing';
import { openPhones } from './phones';
import { webCalendar } from './web-calendar';

/** Starts the simulated outside world: mail server, text gateway and phones, web calendar. */
export async function startStandins(config: StandinsConfig): Promise<{ close(): Promise<void> }> {
  const faults: Faults = { mail: 'none', text: 'none' };
  const mail = openMailStore(config.dataDir);
  const outgoing = openOutgoing(config);
  const phones = openPhones(config.dataDir, faults);
  const smtp = openMailServer(mail, faults, (message) => void outgoing.sendBounce(message).catch(() => undefined));
  smtp.on('error', () => undefined);

  const app = express();
  app.use(express.json({ limit: '100kb' }));
  app.get('/healthz', (_request, response) => {
    response.json({ ok: true });
  });
  app.use('/gateway', phones.gateway);
  app.use('/calendar', webCalendar());
  app.use('/control', controlRoutes(mail, faults, outgoing), phones.control);
  const http = createServer(app);
  await new Promise<void>((resolve, reject) => {
    smtp.once('error', reject);
    smtp.listen(config.smtpPort, config.host, () => resolve());
  });
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject);
    http.listen(config.httpPort, config.host, () => resolve());
  });
  return {
    async close() {
      await new Promise<void>((resolve) => smtp.close(() => resolve()));
      http.closeAllConnections();
      await new Promise((resolve) => http.close(resolve));
    },
  };
}
