// The whole of Convite as processes: database, stand-ins, server, workers. Used by start, tests, bench and pictures.
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { startDatabase } from './database.mjs';
import { root } from './machine.mjs';
import { logIn, openStage, waitFor } from './processes.mjs';

const node = (name) => ['--enable-source-maps', join(root, `dist/server/${name}.mjs`)];

/** Ports beside a base port. */
export const portsFrom = (base) => ({
  server: base,
  database: base + 1,
  standins: base + 2,
  inbound: base + 25,
  smtp: base + 26,
});

/** The environment of every process. */
export function environment({ ports, databaseUrl, secret, folder }) {
  return {
    DATABASE_URL: databaseUrl,
    PORT: String(ports.server),
    PUBLIC_URL: `http://127.0.0.1:${ports.server}`,
    SECRET: secret,
    COOKIE_SECURE: 'false',
    SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
    MAIL_DOMAIN: 'convite.serradabruma.example',
    INBOUND_PORT: String(ports.inbound),
    TEXT_GATEWAY_URL: `http://127.0.0.1:${ports.standins}/gateway`,
    BACKSTAGE_URL: `http://127.0.0.1:${ports.standins}/control`,
    WEB_CALENDAR_URL: `http://127.0.0.1:${ports.standins}/calendar`,
    WEB_DIR: join(root, 'dist/web'),
    STANDINS_PORT: String(ports.standins),
    STANDINS_SMTP_PORT: String(ports.smtp),
    STANDINS_DATA: join(folder, 'standins'),
    CONVITE_DEMO: 'true',
  };
}

/** A house without the demonstration, as a newcomer finds it. */
export const emptyHouse = {
  CONVITE_DEMO: 'false',
  OWNER_EMAIL: 'owner@house.example',
  OWNER_PASSWORD: 'under-the-stars',
};

/** Starts everything, waits until it answers, and returns how to stop it. */
export async function startEnsemble({ folder, ports, secret, databaseUrl, env: more = {}, workers = 1, onCrash }) {
  mkdirSync(join(folder, 'log'), { recursive: true });
  const stage = openStage(join(folder, 'pids.json'));
  try {
    const url =
      databaseUrl ??
      (
        await startDatabase(stage, {
          folder,
          port: ports.database,
          databases: ['convite'],
          logFile: logIn(folder, 'mariadb'),
        })
      ).urlOf('convite');
    const env = { ...environment({ ports, databaseUrl: url, secret, folder }), ...more };
    const setup = spawnSync(process.execPath, node('setup'), {
      cwd: root,
      env: { ...process.env, ...env },
      encoding: 'utf8',
    });
    if (setup.status !== 0)
      throw new Error(`The database could not be set up: ${(setup.stderr || setup.stdout).trim().slice(-1500)}`);
    const run = (name, as = name) => {
      const one = stage.start(as, process.execPath, node(name), { env, logFile: logIn(folder, as) });
      one.onCrash = (how) => onCrash?.(as, how);
      return one;
    };
    const standins = run('standins');
    const server = run('main', 'server');
    for (let number = 1; number <= workers; number += 1) run('worker', workers === 1 ? 'worker' : `worker-${number}`);
    await waitFor(`http://127.0.0.1:${ports.standins}/healthz`, standins);
    await waitFor(`http://127.0.0.1:${ports.server}/readyz`, server);
    return { stage, env, url: `http://127.0.0.1:${ports.server}`, stop: () => stage.stopAll() };
  } catch (error) {
    await stage.stopAll();
    throw error;
  }
}
