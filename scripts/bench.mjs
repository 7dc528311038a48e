#!/usr/bin/env node
// `npm run bench`: speed and memory as ratios within one run, since machines are noisy. Prints a table.
// `npm run bench -- scale [people] [deliveries]`: what every screen asks, in a house that has grown large.
// `npm run bench -- galera [people]`: a cluster of three nodes, one of which is killed while 20,000 messages go out.
// `npm run bench -- screens`: how long each screen of the demonstration takes in a browser.
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { needFreePort, needModules, needProgram, root } from './tools/machine.mjs';

needProgram('mariadbd', 'mariadb-server');
needModules();
const { startDatabase } = await import('./tools/database.mjs');
const { logIn, openStage } = await import('./tools/processes.mjs');

const port = Number(process.env.CONVITE_BENCH_PORT ?? 4800);
const [which, ...rest] = process.argv.slice(2);
if (which === 'screens') {
  const { benchScreens } = await import('./bench-screens.mjs');
  process.exit(await benchScreens());
}
if (which === 'galera') {
  const { benchGalera } = await import('./bench-galera.mjs');
  process.exit(await benchGalera(Number(rest[0] ?? 20_000), port));
}
const folder = join(root, '.test/bench');
await needFreePort(port, 'the bench’s database', 'CONVITE_BENCH_PORT');
const stage = openStage(join(folder, 'pids.json'));
rmSync(join(folder, 'mariadb'), { recursive: true, force: true });
const database = await startDatabase(stage, {
  folder,
  port,
  databases: ['convite_spec'],
  logFile: logIn(root, 'bench').replace('/log/', '/.test/'),
});
const [file, args] = which === 'scale' ? ['scale/bench-scale.ts', rest] : ['bench.ts', process.argv.slice(2)];
const result = spawnSync(process.execPath, ['--import', 'tsx', `packages/server/src/testing/${file}`, ...args], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, SPEC_DATABASE_URL: database.urlOf('convite_spec') },
});
await stage.stopAll();
process.exit(result.status ?? 1);
