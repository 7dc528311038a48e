#!/usr/bin/env node
// `npm run soak -- 30 [seed]`: two servers and three workers over one database for so many minutes, while every few
// seconds something is killed, stopped or misbehaves. At the end every message is counted: nothing may be lost, and
// nothing doubled but what was cut off in mid-send and had to be said again under the same Message-ID.
import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needModules, needNode, needProgram, root } from './tools/machine.mjs';

needNode();
needProgram('mariadbd', 'mariadb-server');
needModules();
const { createConnection } = await import('mysql2/promise');
const { buildServer } = await import('./tools/build.mjs');
const { startDatabase } = await import('./tools/database.mjs');
const { environment, portsFrom } = await import('./tools/ensemble.mjs');
const { endWith, logIn, openStage, waitFor } = await import('./tools/processes.mjs');
const { quickFolder } = await import('./tools/quick-folder.mjs');
const { bringPeople, openActs, openBrowser, Overtaken, Refused, said } = await import('./tools/soak-acts.mjs');
const { openWorld } = await import('./tools/soak-world.mjs');

const minutes = Number(process.argv[2] ?? 5);
const seed = Number(process.argv[3] ?? Date.now() % 1_000_000);
const base = Number(process.env.CONVITE_SOAK_PORT ?? 4700);
const folder = quickFolder(`.soak-${base}`);
const peopleOnAList = 40;
const listCount = 4;
const owner = { email: 'owner@soak.example', password: 'a password for the soak' };
/** What a soak must have done to prove anything: so many messages a minute, each act so often, and few that failed. */
const least = { sentAMinute: 150, ofEachAct: Math.max(1, Math.floor(minutes)), failedShare: 0.6 };

rmSync(folder, { recursive: true, force: true });
mkdirSync(join(folder, 'log'), { recursive: true });
await buildServer();
const random = seeded(seed);
const pick = (some) => some[Math.floor(random() * some.length)];
const ports = portsFrom(base);
const stage = openStage(join(folder, 'pids.json'));
endWith(stage);
const world = await openWorld({ smtpPort: ports.smtp, gatewayPort: ports.standins, random });
const tally = { acts: {}, done: {}, overtaken: {}, failedActs: {}, refused: {}, faults: {} };
/** The words of the first of each kind that was refused. */
const refusals = new Map();
const count = (of, name) => (of[name] = (of[name] ?? 0) + 1);

/** MariaDB, which may be stopped and started again. */
let database = await startDatabase(stage, {
  folder,
  port: ports.database,
  databases: ['convite'],
  logFile: logIn(folder, 'mariadb'),
});
const databaseUrl = database.urlOf('convite');
const env = {
  ...environment({ ports, databaseUrl, secret: 'only for the soak '.repeat(3), folder }),
  CONVITE_DEMO: 'false',
  OWNER_EMAIL: owner.email,
  OWNER_PASSWORD: owner.password,
  ORGANISATION: 'Soak',
  TEXT_GATEWAY_URL: `http://127.0.0.1:${ports.standins}`,
  LEASE_SECONDS: '5',
};
const setUp = spawnSync(process.execPath, ['dist/server/setup.mjs'], { cwd: root, env: { ...process.env, ...env } });
if (setUp.status !== 0) throw new Error(`${setUp.stdout}${setUp.stderr}`);

const serverPorts = [ports.server, base + 10];
const inboundPorts = [ports.inbound, base + 35];
const processes = [
  ...serverPorts.map((port, index) => ({
    name: `server-${index + 1}`,
    entry: 'main',
    env: { PORT: String(port), INBOUND_PORT: String(inboundPorts[index]) },
  })),
  ...[1, 2, 3].map((number) => ({ name: `worker-${number}`, entry: 'worker', env: {} })),
];
for (const one of processes) startProcess(one);
for (const [index, port] of serverPorts.entries())
  await waitFor(`http://127.0.0.1:${port}/readyz`, processes[index].now);

const browser = openBrowser(serverPorts.map((port) => `http://127.0.0.1:${port}`));
await browser.signIn(owner.email, owner.password);
const lists = await fillLists();
const acts = openActs({ browser, world, random, pick, inboundPorts, lists, startOfClockMs: Date.now() });

/** How often each is done, against the others. */
const chances = { newEvent: 3, change: 4, reply: 12, moveClock: 3, callOff: 1 };
console.log(`Soaking for ${minutes} minutes, seed ${seed} …`);
const startedAt = Date.now();
const endAt = startedAt + minutes * 60_000;
/** A short soak on a busy machine goes on until it has done each act, but no longer than this. */
const latestEndAt = endAt + 90_000;
await Promise.all([keepActing(), keepBreaking()]);
await heal();
await settle();
const sum = await account();
await stage.stopAll();
world.close();
console.log(JSON.stringify({ minutes, seed, ...tally, ...sum }, null, 2));
console.log(
  `sent ${sum.sent}, lost ${sum.lost}, repeated after being cut off ${sum.repeated}, doubled ${sum.doubled}, processes that ended by themselves ${sum.crashed}`,
);
const wrong = judge(sum);
for (const one of wrong) console.error(`WRONG: ${one}`);
process.exit(wrong.length ? 1 : 0);

/** What is wrong with what came out, and with how little it proves. */
function judge({ sent, compared, lost, doubled, crashed, unfinished }) {
  const total = (of) => Object.values(of).reduce((sum, n) => sum + n, 0);
  return [
    ...(lost ? [`${lost} messages were lost`] : []),
    ...(doubled ? [`${doubled} messages were sent twice without need`] : []),
    ...(crashed ? [`${crashed} processes ended by themselves`] : []),
    ...(unfinished ? [`${unfinished} messages were still on their way after everything was well again`] : []),
    ...(sent < least.sentAMinute * minutes ? [`only ${sent} messages were sent in ${minutes} minutes`] : []),
    ...(compared < sent ? [`only ${compared} rows were held against what the world took`] : []),
    ...(world.texts.size === 0 ? ['no text was sent'] : []),
    ...(total(tally.faults) === 0 ? ['nothing was broken meanwhile'] : []),
    ...undone().map((name) => `“${name}” was done ${tally.done[name] ?? 0} times`),
    ...(total(tally.failedActs) > least.failedShare * total(tally.acts)
      ? [`${total(tally.failedActs)} of ${total(tally.acts)} acts failed`]
      : []),
    ...[...refusals].map(([name, words]) => `“${name}” was refused ${tally.refused[name]} times: ${words}`),
  ];
}

function startProcess(one) {
  one.now = stage.start(
    one.name,
    process.execPath,
    ['--enable-source-maps', join(root, `dist/server/${one.entry}.mjs`)],
    {
      env: { ...env, ...one.env },
      logFile: logIn(folder, one.name),
    },
  );
  one.now.onCrash = () => {
    if (!one.isKilled) count(tally.faults, `crash of ${one.name}`);
  };
  one.isKilled = false;
}

async function fillLists() {
  const settings = (await browser.call(0, 'GET', '/api/settings')).body;
  const saved = await browser.call(0, 'PUT', '/api/settings', {
    ...settings,
    postalAddress: 'Soak Street 1',
    zone: 'Europe/Lisbon',
    topics: ['soak'],
  });
  if (saved.status >= 400) throw new Error(`settings: ${saved.status} ${JSON.stringify(saved.body)}`);
  const ids = [];
  for (let list = 0; list < listCount; list += 1) {
    const people = Array.from({ length: peopleOnAList }, (_, n) => {
      // Neighbouring lists share half of their people.
      const id = list * (peopleOnAList / 2) + n;
      return { email: `p${id}@soak.example`, name: `Person ${id}`, mobile: `+4477009${String(id).padStart(5, '0')}` };
    });
    ids.push(await bringPeople(browser, `http://127.0.0.1:${serverPorts[0]}`, { name: `List ${list}`, people }));
  }
  const inAnHour = new Date(Date.now() + 3_600_000);
  const digest = await browser.call(0, 'POST', '/api/digests', {
    name: 'What is coming',
    weekday: inAnHour.getUTCDay() || 7,
    at: inAnHour.toISOString().slice(11, 16),
    zone: 'UTC',
    windowDays: 30,
    whom: { lists: [ids[0]] },
    wording: said('Coming', 'Hello'),
    isOn: true,
  });
  if (digest.status >= 400) throw new Error(`digest: ${digest.status} ${JSON.stringify(digest.body)}`);
  return ids;
}

/** The acts that were done less often than proves anything; few events are far enough to be called off. */
function undone() {
  return Object.keys(chances).filter((name) => name !== 'callOff' && (tally.done[name] ?? 0) < least.ofEachAct);
}

/** People act all the time, some at once; what fails because something is down is counted, and goes on. */
async function keepActing() {
  const wheel = Object.entries(chances).flatMap(([name, times]) => Array(times).fill(name));
  // Something is there to act on from the beginning.
  await Promise.all([act('newEvent'), act('newEvent'), act('newEvent')]);
  for (;;) {
    const missing = [...undone(), ...(world.texts.size === 0 ? ['newEvent', 'moveClock'] : [])];
    if (Date.now() >= (missing.length > 0 ? latestEndAt : endAt)) return;
    await Promise.all((Date.now() < endAt ? [pick(wheel), pick(wheel)] : missing).map(act));
    await sleep(300 + 700 * random());
  }
}
async function act(name) {
  count(tally.acts, name);
  try {
    if ((await acts[name]()) !== 'nothing to do') count(tally.done, name);
  } catch (error) {
    if (error instanceof Overtaken) count(tally.overtaken, name);
    else if (error instanceof Refused) {
      count(tally.refused, name);
      if (!refusals.has(name)) refusals.set(name, error.message);
    } else count(tally.failedActs, name);
  }
}

async function keepBreaking() {
  while (Date.now() < endAt - Math.min(20_000, minutes * 15_000)) {
    await sleep(2000 + 4000 * random());
    const fault = pick([kill, kill, kill, stopDatabase, freezeDatabase, refuse, hang, drop, loseReceipts, hangTexts]);
    count(tally.faults, fault.name);
    await fault();
  }
}
async function kill() {
  const one = pick(processes);
  if (one.now.hasEnded) return;
  one.isKilled = true;
  one.now.isStopping = true;
  one.now.child.kill('SIGKILL');
  await sleep(500 + 3000 * random());
  startProcess(one);
}
async function stopDatabase() {
  await stage.stop(database.server, pick(['SIGKILL', 'SIGTERM']));
  await sleep(1000 + 5000 * random());
  await startAgain();
}
async function freezeDatabase() {
  const { pid } = database.server.child;
  process.kill(pid, 'SIGSTOP');
  await sleep(1000 + 14_000 * random());
  process.kill(pid, 'SIGCONT');
}
async function withFault(kind, name, ms) {
  world.faults[kind] = name;
  await sleep(ms);
  world.faults[kind] = 'none';
}
async function refuse() {
  await withFault('mail', 'refusing', 1500 + 3000 * random());
}
async function hang() {
  await withFault('mail', 'hanging', 3000 + 9000 * random());
}
async function drop() {
  await withFault('mail', 'dropping', 200 + 800 * random());
}
async function loseReceipts() {
  await withFault('text', 'losing receipts', 5000);
}
async function hangTexts() {
  await withFault('text', 'hanging', 3000 + 9000 * random());
}

async function startAgain() {
  for (;;) {
    try {
      database = await startDatabase(stage, {
        folder,
        port: ports.database,
        databases: ['convite'],
        logFile: logIn(folder, 'mariadb'),
      });
      return;
    } catch {
      await sleep(500);
    }
  }
}

async function heal() {
  world.faults.mail = world.faults.text = 'none';
  if (database.server.hasEnded) await startAgain();
  for (const one of processes) if (one.now.hasEnded) startProcess(one);
}

/** Waits until nothing is on its way. What was put off for minutes is due now: the waits themselves are checked elsewhere. */
async function settle() {
  const sql = await createConnection({ uri: databaseUrl, timezone: 'Z' });
  for (let tries = 0; tries < 300; tries += 1) {
    await sql.query(
      "update delivery set next_at = '2000-01-01' where channel in ('email', 'text') and state = 'queued' and next_at > '2000-01-01'",
    );
    const [[open]] = await sql.query(
      "select (select count(*) from delivery where state in ('queued', 'sending')) + (select count(*) from firing where state = 'sending' or (state = 'set' and kind <> 'cue' and kind <> 'digest')) as n",
    );
    if (Number(open.n) === 0) break;
    await sleep(500);
  }
  await sql.end();
}

/** Holds what the database says against what the world took. */
async function account() {
  const sql = await createConnection({ uri: databaseUrl, timezone: 'Z' });
  const [rows] = await sql.query(
    'select d.id, d.channel, d.state, d.may_have_left, d.subscriber_id, f.kind, f.event_id from delivery d join firing f on f.id = d.firing_id',
  );
  const mailed = indexMails();
  const sum = {
    compared: rows.length,
    sent: 0,
    lost: 0,
    repeated: 0,
    doubled: 0,
    unfinished: 0,
    states: {},
    crashed: 0,
  };
  const invited = new Map();
  for (const row of rows) {
    count(sum.states, row.state);
    const times = row.channel === 'text' ? (world.texts.get(`d${row.id}`)?.length ?? 0) : (mailed.get(row.id) ?? 0);
    if (row.state === 'queued' || row.state === 'sending') sum.unfinished += 1;
    if (['sent', 'delivered', 'bounced'].includes(row.state)) {
      sum.sent += 1;
      if (times === 0) sum.lost += 1;
    }
    if (times > 1) sum[row.may_have_left ? 'repeated' : 'doubled'] += times - 1;
    if (row.kind === 'invitation' && times > 0) countIn(invited, `${row.event_id} ${row.subscriber_id}`);
  }
  // Two invitations of one event to one person, whatever two wishes they came from.
  for (const times of invited.values()) if (times > 1) sum.doubled += times - 1;
  const [[missed]] = await sql.query("select count(*) as n from firing where state = 'missed'");
  const [[failed]] = await sql.query("select count(*) as n from firing where state = 'failed'");
  await sql.end();
  sum.missedFirings = Number(missed.n);
  sum.failedFirings = Number(failed.n);
  sum.crashed = Object.entries(tally.faults).reduce(
    (n, [name, times]) => n + (name.startsWith('crash') ? times : 0),
    0,
  );
  return sum;
}
function indexMails() {
  const times = new Map();
  for (const [messageId, taken] of world.mails) {
    const id = Number(/^d(\d+)\./.exec(messageId)?.[1] ?? 0);
    times.set(id, (times.get(id) ?? 0) + taken.length);
  }
  return times;
}
function countIn(of, key) {
  of.set(key, (of.get(key) ?? 0) + 1);
}

/** The same numbers for the same seed. */
function seeded(from) {
  let state = from >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}
function sleep(ms) {
  return new Promise((resolve) => setTimeout(resolve, ms));
}
