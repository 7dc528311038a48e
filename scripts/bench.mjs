#!/usr/bin/env node
// `npm run bench`: speed and memory as ratios within one run, since machines are noisy. Prints a table as each part ends.
// `npm run bench -- scale [people] [deliveries]`: what every screen asks, in a house that has grown large.
// `npm run bench -- galera [people]`: a cluster of three nodes, one of which is killed while 20,000 messages go out.
// `npm run bench -- screens [address]`: how long each screen of the demonstration takes in a browser.
// With BENCH_TINY=true each takes a few rows: that it works, not how fast. Ends with 1 when a part did less than it should.
import { rmSync } from 'node:fs';
import { needFreePort, needModules, needProgram, root } from './tools/machine.mjs';

needProgram('mariadbd', 'mariadb-server');
needModules();
const { buildServer } = await import('./tools/build.mjs');
const { startDatabase } = await import('./tools/database.mjs');
const { endWith, logIn, openStage } = await import('./tools/processes.mjs');
const { quickFolder } = await import('./tools/quick-folder.mjs');
const { runWithin } = await import('./tools/run.mjs');

const port = Number(process.env.CONVITE_BENCH_PORT ?? 4800);
const isTiny = process.env.BENCH_TINY === 'true';
const longestSeconds = isTiny ? 240 : 4 * 3600;
const [which, ...rest] = process.argv.slice(2);
if (which === 'screens') {
  const { benchScreens } = await import('./bench-screens.mjs');
  process.exit(await benchScreens(port + 50, rest[0]));
}
if (which === 'galera') {
  const { benchGalera } = await import('./bench-galera.mjs');
  process.exit(await benchGalera(Number(rest[0] ?? (isTiny ? 600 : 20_000)), port));
}
// Figures of a million rows are those of a disk.
const folder = which === 'scale' && !isTiny ? `${root}/.test/bench` : quickFolder(`.bench-${which ?? 'all'}`);
await buildServer();
await needFreePort(port, 'the bench’s database', 'CONVITE_BENCH_PORT');
const stage = openStage(`${folder}/pids.json`);
endWith(stage);
rmSync(`${folder}/mariadb`, { recursive: true, force: true });
const database = await startDatabase(stage, {
  folder,
  port,
  databases: ['convite_spec'],
  logFile: logIn(folder, '..').replace(/\/log\/\.\.\.log$/, '/mariadb.log'),
});
const [file, args] = which === 'scale' ? ['scale/bench-scale.ts', rest] : ['bench.ts', process.argv.slice(2)];
// In a group of its own: whatever it starts ends with it.
const result = await runWithin(
  longestSeconds,
  process.execPath,
  ['--import', 'tsx', `packages/server/src/testing/${file}`, ...args],
  { env: { SPEC_DATABASE_URL: database.urlOf('convite_spec') }, show: (text) => process.stdout.write(text) },
);
await stage.stopAll();
rmSync(`${folder}/mariadb`, { recursive: true, force: true });
process.exit(result.code);
