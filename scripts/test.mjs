#!/usr/bin/env node
// `npm test`: everything that is checked, on its own ports and data. Ends with `N passed, N failed`.
// `npm test -- server e2e` runs only those parts.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needFreePort, needModules, needNode, needProgram, root } from './tools/machine.mjs';
import { runWithin } from './tools/run.mjs';

const base = Number(process.env.CONVITE_TEST_PORT ?? 4500);
const wanted = process.argv.slice(2);
const tally = { passed: 0, failed: 0 };
/** The longest that each may take, in seconds: about three times what it takes on two cores. Together under 90 minutes. */
const limits = { check: 300, specs: 900, web: 300, e2e: 1800, proof: 480 };
const webEnv = { CHROME_BIN: '/usr/bin/chromium', NG_CLI_ANALYTICS: 'false' };

needNode();
needProgram('mariadbd', 'mariadb-server');
needProgram('chromium', 'chromium');
if (isWanted('server')) needProgram('spamassassin', 'spamassassin');
needModules();
const { buildServer, buildWeb, ng } = await import('./tools/build.mjs');
const { startDatabase } = await import('./tools/database.mjs');
const { emptyHouse, portsFrom, startEnsemble } = await import('./tools/ensemble.mjs');
const { logIn, openStage } = await import('./tools/processes.mjs');
const { quickFolder } = await import('./tools/quick-folder.mjs');

const folder = quickFolder('.test');
// What a run that was killed left behind ends here.
for (const name of ['', 'e2e', 'e2e-other', 'e2e-empty']) openStage(join(folder, name, 'pids.json'));
rmSync(folder, { recursive: true, force: true });
mkdirSync(join(folder, 'log'), { recursive: true });
const stage = openStage(join(folder, 'pids.json'));
// For the browser tests: two houses with the demonstration, and one without it, for a newcomer.
const houses = [];
let building = null;
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => void finish(1));

const parts = {
  async lint() {
    // Two at a time, for two cores: eslint takes as long as all the others.
    const others = async () => {
      await check('format', 'npx', ['prettier', '--check', '--log-level=warn', '.']);
      for (const name of ['core', 'contract', 'server', 'standins'])
        await check(`types of ${name}`, 'npx', ['tsc', '-p', `packages/${name}`]);
      await check('types of e2e', 'npx', ['tsc', '-p', 'e2e']);
    };
    await Promise.all([check('lint', 'npx', ['eslint', '.', '--max-warnings=0']), others()]);
  },
  core: () => jasmine('jasmine.json', {}, ['--parallel=2']),
  // Specs wait more than they work: the services' beside all others, each half with a database that it may freeze.
  server: () => {
    // For the browser tests, which say whether it went well.
    if (isWanted('e2e')) build().catch(() => null);
    return Promise.all([
      serverSpecs('services', base + 1, 'packages/server/src/services/**/*.spec.ts'),
      serverSpecs('others', base + 2, 'packages/server/src/!(services)/**/*.spec.ts', 'packages/server/src/*.spec.ts'),
    ]);
  },
  async web() {
    const test = () => run(limits.web, process.execPath, [ng, 'test'], webEnv, join(root, 'packages/web'));
    let output = await test();
    // The builder has been seen to hang; a test that fails is not run again.
    if (output.isLate) output = await test();
    const [, passed = 0, failed = 1] = /^(\d+) passed, (\d+) failed$/m.exec(output.text) ?? [];
    add('web', Number(passed), Math.max(Number(failed), output.code === 0 ? 0 : 1));
  },
  async e2e() {
    await build();
    const house = await openHouse('e2e', base + 100);
    const otherHouse = await openHouse('e2e-other', base + 300);
    const empty = await openHouse('e2e-empty', base + 200, emptyHouse);
    const output = await run(
      limits.e2e,
      'npx',
      ['playwright', 'test', '-c', 'e2e', ...(process.env.E2E_ONLY ? [process.env.E2E_ONLY] : [])],
      { E2E_URL: house.url, E2E_OTHER_URL: otherHouse.url, E2E_EMPTY_URL: empty.url },
    );
    const count = (word) => Number(new RegExp(`(\\d+) ${word}`).exec(output.text)?.[1] ?? 0);
    add('e2e', count('passed'), count('failed') + count('did not run') + count('flaky') || (output.code === 0 ? 0 : 1));
    await proof(['scripts/bench.mjs', ['screens', house.url], { BENCH_TINY: 'true' }]);
    for (const one of houses.splice(0)) await one.stop();
  },
  /** What proves reliability and measures speed still works: each over a few rows, two at a time. */
  async proofs() {
    await build();
    const bench = (at, ...args) => [
      'scripts/bench.mjs',
      args,
      { BENCH_TINY: 'true', CONVITE_BENCH_PORT: String(base + at) },
    ];
    const lanes = [
      [bench(700, 'galera'), bench(900, 'scale')],
      [bench(920), ['scripts/soak.mjs', ['0.2', '7'], { CONVITE_SOAK_PORT: String(base + 1000) }]],
    ];
    await Promise.all(
      lanes.map(async (lane) => {
        for (const one of lane) await proof(one);
      }),
    );
  },
};

// Those of a line together: each takes one core most of the time, or waits.
for (const together of [['lint', 'web'], ['core'], ['server'], ['e2e'], ['proofs']])
  await Promise.all(together.filter(isWanted).map((name) => runPart(name)));
await finish(tally.failed || tally.passed === 0 ? 1 : 0);

function isWanted(part) {
  return wanted.length === 0 || wanted.includes(part);
}

async function runPart(name) {
  const startedAt = Date.now();
  console.log(`\n== ${name}`);
  try {
    await parts[name]();
  } catch (error) {
    console.error(error);
    add(name, 0, 1);
  }
  console.log(`== ${name}: ${Math.round((Date.now() - startedAt) / 1000)} s`);
}

/** Once, for whoever needs it first. */
function build() {
  building ??= buildServer().then(buildWeb);
  return building;
}

async function finish(code) {
  for (const house of houses) await house.stop();
  await stage.stopAll();
  for (const name of ['services', 'others', 'e2e', 'e2e-other', 'e2e-empty'])
    for (const part of ['mariadb', 'mariadb-tmp']) rmSync(join(folder, name, part), { recursive: true, force: true });
  console.log(`\n${tally.passed} passed, ${tally.failed} failed`);
  process.exit(code);
}

function add(name, passed, failed) {
  tally.passed += passed;
  tally.failed += failed;
  if (failed) console.log(`${name}: ${failed} failed`);
}

async function proof([script, args, env]) {
  const { code } = await run(limits.proof, process.execPath, [script, ...args], env);
  add(`proofs: ${script} ${args.join(' ')}`, code === 0 ? 1 : 0, code === 0 ? 0 : 1);
}

async function check(name, command, args) {
  const { code } = await run(limits.check, command, args);
  add(name, code === 0 ? 1 : 0, code === 0 ? 0 : 1);
}

async function openHouse(name, firstPort, env = {}) {
  const ports = portsFrom(firstPort);
  for (const port of Object.values(ports)) await needFreePort(port, 'the browser tests', 'CONVITE_TEST_PORT');
  const house = await startEnsemble({ folder: join(folder, name), ports, secret: 'only for tests '.repeat(3), env });
  houses.push(house);
  return house;
}

async function serverSpecs(half, port, ...files) {
  await needFreePort(port, 'the specs’ database', 'CONVITE_TEST_PORT');
  const database = await startDatabase(stage, {
    folder: join(folder, half),
    port,
    databases: ['convite_spec'],
    logFile: logIn(folder, `mariadb-${half}`),
  });
  const env = {
    SPEC_DATABASE_URL: database.urlOf('convite_spec'),
    SPEC_DATABASE_PID: String(database.server.child.pid),
  };
  await jasmine('jasmine.server.json', env, files);
  await stage.stop(database.server);
}

async function jasmine(config, env, more = []) {
  const output = await run(
    limits.specs,
    process.execPath,
    ['--import', 'tsx', 'node_modules/jasmine/bin/jasmine.js', `--config=${config}`, ...more],
    env,
  );
  // What is pending did not run here, and counts as nothing.
  const [, specs = 0, failures = 1, pending = 0] =
    /(\d+) specs?, (\d+) failures?(?:, (\d+) pending)?/.exec(output.text) ?? [];
  // A failure outside a spec, such as in beforeAll, makes the run fail without counting.
  const failed = Math.max(Number(failures), output.code === 0 ? 0 : 1);
  add(config, Math.max(0, Number(specs) - Number(pending) - failed), failed);
}

/** Runs a command, showing and keeping what it says. */
function run(seconds, command, args, env = {}, cwd = root) {
  const show = (text) => process.stdout.write(text);
  return runWithin(seconds, command, args, { cwd, env: { FORCE_COLOR: '0', ...env }, show });
}
