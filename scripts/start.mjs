#!/usr/bin/env node
// `npm start`: everything from a fresh clone to a running Convite with its demonstration.
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { giveUp, needFreePort, needModules, needNode, needProgram, root } from './tools/machine.mjs';

if (process.argv.includes('--help')) {
  console.log(
    'npm start              start Convite with its demonstration\nnpm start -- --fresh   begin again with a new demonstration\nnpm start -- --empty   begin again with an empty house, as a newcomer finds it\n\nCONVITE_PORT (4100)    the address; the next ports are used too\nCONVITE_DATA (.data)   the private folder\nDATABASE_URL           use this database and start none',
  );
  process.exit(0);
}
const base = Number(process.env.CONVITE_PORT ?? 4100);
if (!Number.isInteger(base) || base < 1024 || base > 65_000)
  giveUp('CONVITE_PORT must be a number from 1024 to 65000.');
const folder = resolve(root, process.env.CONVITE_DATA ?? '.data');
const databaseUrl = process.env.DATABASE_URL;

needNode();
if (!databaseUrl) needProgram('mariadbd', 'mariadb-server');
needModules();
const { buildServer, buildWeb } = await import('./tools/build.mjs');
const { emptyHouse, portsFrom, startEnsemble } = await import('./tools/ensemble.mjs');
const { openStage } = await import('./tools/processes.mjs');
await buildServer();
await buildWeb();

// Ends what a killed start left behind, before its ports are asked for.
openStage(join(folder, 'pids.json'));
const isEmpty = process.argv.includes('--empty');
if (isEmpty || process.argv.includes('--fresh')) {
  if (databaseUrl)
    giveUp(
      '--fresh and --empty empty only the database that Convite starts itself. Empty yours by hand, or leave DATABASE_URL unset.',
    );
  rmSync(folder, { recursive: true, force: true });
}
const ports = portsFrom(base);
await needFreePort(ports.server, 'the web address', 'CONVITE_PORT');
if (!databaseUrl) await needFreePort(ports.database, 'the database', 'CONVITE_PORT');
await needFreePort(ports.standins, 'the simulated outside world', 'CONVITE_PORT');
await needFreePort(ports.inbound, 'mail coming in', 'CONVITE_PORT');
await needFreePort(ports.smtp, 'the simulated mail server', 'CONVITE_PORT');

const ensemble = await startEnsemble({
  folder,
  ports,
  databaseUrl,
  secret: secretOf(folder),
  ...(isEmpty && { env: emptyHouse }),
  onCrash: (name, how) =>
    console.error(
      `\nThe ${name} process ended (${how}); see ${join(folder, 'log', `${name}.log`)}. Stop with Ctrl+C and start again.`,
    ),
}).catch((error) => giveUp(error.message));

console.log(`
Convite is up:   ${ensemble.url}

Sign in as       ${
  isEmpty
    ? emptyHouse.OWNER_EMAIL
    : ['marketer', 'owner', 'viewer'].map((role) => `${role}@serradabruma.example`).join('\n                 ')
}
with             under-the-stars

Logs are in ${join(folder, 'log')}. Ctrl+C ends everything.`);

let isStopping = false;
const stop = async () => {
  if (isStopping) return;
  isStopping = true;
  console.log('\nStopping …');
  await ensemble.stop();
  process.exit(0);
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
process.on('SIGHUP', stop);

/** The key of sessions and links, made once and kept with the data. */
function secretOf(dataFolder) {
  const file = join(dataFolder, 'secret');
  if (!existsSync(file)) {
    mkdirSync(dataFolder, { recursive: true });
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  }
  return readFileSync(file, 'utf8').trim();
}
