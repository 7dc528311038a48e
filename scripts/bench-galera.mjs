// `npm run bench -- galera [people]`: two servers and four workers over a cluster of three nodes send an invitation, while
// people register for the last places, answer and edit at different nodes, and a node is killed and comes back. At the end
// everything is counted; beside it stands what the same processes send over one database.
import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { buildServer } from './tools/build.mjs';
import { startCluster } from './tools/cluster.mjs';
import { startDatabase } from './tools/database.mjs';
import { environment, portsFrom } from './tools/ensemble.mjs';
import { needProgram, root } from './tools/machine.mjs';
import { quickFolder } from './tools/quick-folder.mjs';
import { endWith, logIn, openStage, waitFor } from './tools/processes.mjs';
import { bringPeople, openActs, openBrowser, Refused, said } from './tools/soak-acts.mjs';
import { openWorld } from './tools/soak-world.mjs';

const folder = quickFolder('.galera');
const pidFile = join(quickFolder('.'), 'galera-pids.json');
const owner = { email: 'owner@cluster.example', password: 'a password for the cluster' };
/** That it works, not how fast. */
const isTiny = process.env.BENCH_TINY === 'true';
const places = 5;
const askers = 40;
const connections = 6;
const workerCount = 4;
/** What one worker may have under way, or done and not yet written down, when its node is gone. */
const onTheWire = connections + 40;

/** @param base first of the ports used */
export async function benchGalera(people, base) {
  needProgram('rsync', 'rsync');
  // Ends what an earlier run left behind, before its files go.
  openStage(pidFile);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'log'), { recursive: true, mode: 0o755 });
  await buildServer();
  const alone = isTiny ? null : await overOne(people, base);
  const cluster = await overThree(people, base);
  console.table([
    ...(alone ? [{ what: 'messages a second over one database', figure: alone.speed.toFixed(0) }] : []),
    { what: 'messages a second over three nodes, one of them killed meanwhile', figure: cluster.speed.toFixed(0) },
    { what: 'sent', figure: `${cluster.sent} of ${people}` },
    { what: 'lost', figure: String(cluster.lost) },
    { what: 'said twice without need', figure: String(cluster.doubled) },
    { what: `repeated, cut off with its node (at most ${onTheWire * workerCount})`, figure: String(cluster.repeated) },
    { what: `places given of ${places}, asked for by ${askers} at two servers`, figure: String(cluster.given) },
    { what: 'edits taken, and versions made', figure: `${cluster.edits}, ${cluster.versions}` },
    { what: 'answers by mail sent, and counted', figure: `${cluster.replies}, ${cluster.counted}` },
    { what: 'processes that ended by themselves', figure: String(cluster.crashed) },
  ]);
  const wrong = [
    ...(cluster.sent === people ? [] : [`${cluster.sent} of ${people} messages were sent`]),
    ...(cluster.compared === people ? [] : [`${cluster.compared} rows were held against what the world took`]),
    ...(cluster.lost ? [`${cluster.lost} messages were lost`] : []),
    ...(cluster.doubled ? [`${cluster.doubled} messages were sent twice without need`] : []),
    ...(cluster.crashed ? [`${cluster.crashed} processes ended by themselves`] : []),
    ...(cluster.repeated > onTheWire * workerCount ? [`${cluster.repeated} messages were repeated`] : []),
    ...(cluster.given === places ? [] : [`${cluster.given} of ${places} places were given`]),
    ...(cluster.versions === cluster.edits + 1 ? [] : ['edits were lost, or counted twice']),
    ...(cluster.edits > 0 ? [] : ['nobody edited anything']),
    ...(cluster.counted > 0 ? [] : ['no answer was counted']),
    ...(cluster.wasKilledMeanwhile ? [] : ['the node was killed when all had been sent already']),
  ];
  for (const one of wrong) console.error(`WRONG: ${one}`);
  return wrong.length ? 1 : 0;
}

/** With processes that end with it, however it ends. */
async function withStage(work) {
  const stage = openStage(pidFile);
  endWith(stage);
  try {
    return await work(stage);
  } finally {
    await stage.stopAll();
  }
}

function overOne(people, base) {
  console.log(`${people} messages over one database …`);
  return withStage((stage) => measureOne(stage, people, base));
}
function overThree(people, base) {
  console.log(`${people} messages over three nodes …`);
  return withStage((stage) => measureThree(stage, people, base));
}

async function measureOne(stage, people, base) {
  const database = await startDatabase(stage, {
    folder: join(folder, 'one'),
    port: base + 1,
    databases: ['convite'],
    logFile: logIn(folder, 'one'),
  });
  const house = await openHouse(stage, base, [database.urlOf('convite')]);
  const { speed } = await house.invite(people, async () => {});
  await house.close();
  return { speed };
}

async function measureThree(stage, people, base) {
  const cluster = await startCluster(stage, { folder: join(folder, 'nodes'), port: base + 40, database: 'convite' });
  const [first] = cluster.nodes;
  const house = await openHouse(
    stage,
    base,
    cluster.nodes.map(({ url }) => url),
  );
  const sum = { edits: 0, replies: 0, wasKilledMeanwhile: false };
  const sent = await house.invite(people, async ({ eventId, isOver, taken }) => {
    const asking = house.askForPlaces(eventId);
    const acting = (async () => {
      while (!(await isOver())) {
        if (await house.edit(eventId)) sum.edits += 1;
        if (await house.answer()) sum.replies += 1;
        await sleep(300);
      }
    })();
    while (taken() < people / 5 && !(await isOver())) await sleep(50);
    console.log(`A node is killed, as ${taken()} of ${people} messages have gone …`);
    await cluster.kill(first);
    sum.wasKilledMeanwhile = taken() < people;
    await sleep(Math.min(8000, people));
    await cluster.bringBack(first);
    console.log('… and is back.');
    await asking;
    await acting;
  });
  const counts = await house.account(sent.eventId, cluster.nodes[1].url);
  const crashed = house.crashes.length;
  await house.close();
  return { ...sent, ...sum, ...counts, crashed };
}

/** Servers and workers over some addresses, each beginning with another. */
async function openHouse(stage, base, urls) {
  const ports = portsFrom(base);
  const rotated = (by) => urls.map((_, index) => urls[(index + by) % urls.length]).join(',');
  const world = await openWorld({ smtpPort: ports.smtp, gatewayPort: ports.standins, random: Math.random });
  const env = {
    ...environment({ ports, databaseUrl: rotated(0), secret: 'only for the bench '.repeat(3), folder }),
    CONVITE_DEMO: 'false',
    OWNER_EMAIL: owner.email,
    OWNER_PASSWORD: owner.password,
    ORGANISATION: 'Cluster',
    SMTP_CONNECTIONS: String(connections),
    LEASE_SECONDS: '5',
  };
  const setUp = spawnSync(process.execPath, ['dist/server/setup.mjs'], { cwd: root, env: { ...process.env, ...env } });
  if (setUp.status !== 0) throw new Error(`${setUp.stdout}${setUp.stderr}`);
  const crashes = [];
  const run = (name, entry, more) => {
    const one = stage.start(name, process.execPath, ['--enable-source-maps', join(root, `dist/server/${entry}.mjs`)], {
      env: { ...env, ...more },
      logFile: logIn(folder, `${name}-${urls.length}`),
    });
    one.onCrash = () => crashes.push(name);
    return one;
  };
  const serverPorts = [ports.server, base + 10];
  const inboundPorts = [ports.inbound, base + 35];
  for (const [index, port] of serverPorts.entries()) {
    const more = { PORT: String(port), INBOUND_PORT: String(inboundPorts[index]), DATABASE_URL: rotated(index) };
    await waitFor(`http://127.0.0.1:${port}/readyz`, run(`server-${index + 1}`, 'main', more));
  }
  for (let index = 0; index < workerCount; index += 1)
    run(`worker-${index + 1}`, 'worker', { DATABASE_URL: rotated(index) });
  const bases = serverPorts.map((port) => `http://127.0.0.1:${port}`);
  const browser = openBrowser(bases);
  await browser.signIn(owner.email, owner.password);
  const call = async (at, method, path, body) => {
    const answer = await browser.call(at, method, path, body);
    if (answer.status >= 400) throw new Error(`${method} ${path}: ${answer.status} ${JSON.stringify(answer.body)}`);
    return answer.body;
  };
  let turn = 0;
  const acts = openActs({
    browser,
    world,
    random: Math.random,
    pick: (some) => some[Math.floor(Math.random() * some.length)],
    inboundPorts,
    lists: [],
    startOfClockMs: Date.now(),
  });

  return {
    crashes,
    /** Invites so many people; `meanwhile` goes on beside it. */
    async invite(people, meanwhile) {
      const settings = await call(0, 'GET', '/api/settings');
      await call(0, 'PUT', '/api/settings', { ...settings, postalAddress: 'Cluster Street 1', zone: 'Europe/Lisbon' });
      const everybody = Array.from({ length: people }, (_, n) => ({
        email: `p${n}@cluster.example`,
        name: `Person ${n}`,
      }));
      const list = await bringPeople(browser, bases[0], { name: 'All', people: everybody });
      const day = new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10);
      const { id: eventId } = await call(0, 'POST', '/api/events', {
        title: 'Cluster night',
        description: '',
        zone: 'Europe/Lisbon',
        span: { kind: 'timed', start: `${day}T20:00`, end: `${day}T22:00` },
        venue: 'Dome',
        joinLink: '',
        topics: [],
        registration: { places, closesMinutes: 60, confirms: false },
        reach: 'public',
      });
      await call(0, 'POST', `/api/events/${eventId}/publish`, { isSure: true });
      const wording = said('You are invited: {{event.title}}', 'Dear {{person.name}}, {{event.when}}. {{link.reply}}');
      const before = world.mails.size;
      await call(0, 'POST', `/api/events/${eventId}/invitations`, {
        lists: [list],
        channel: 'email',
        wording,
        confirmedCount: people,
        isSure: true,
      });
      for (let tries = 0; world.mails.size === before; tries += 1) {
        if (tries > 3000) throw new Error('nothing was sent within a minute');
        await sleep(20);
      }
      const startedAt = performance.now();
      let endedAt = 0;
      const isOver = async () => {
        if (endedAt === 0 && invitations(world) >= people) endedAt = performance.now();
        return endedAt > 0 || performance.now() - startedAt > 600_000;
      };
      const beside = meanwhile({ eventId, isOver, taken: () => invitations(world) });
      while (!(await isOver())) await sleep(100);
      await beside;
      return { eventId, speed: people / (((endedAt || performance.now()) - startedAt) / 1000) };
    },
    /** Many put themselves down at once, half at each server, while the node goes. */
    async askForPlaces(eventId) {
      const { pageUrl } = await call(0, 'GET', `/api/events/${eventId}`);
      const path = new URL(pageUrl).pathname;
      const forms = await Promise.all(bases.map(async (at) => (await fetch(at + path)).text()));
      const stamps = forms.map((text) => /name="stamp" value="([^"]+)"/.exec(text)?.[1] ?? '');
      // Whoever fills a form in within two seconds is asked to confirm by mail.
      await sleep(2500);
      await Promise.all(
        Array.from({ length: askers }, async (_, n) => {
          await sleep(n * (isTiny ? 50 : 250));
          const body = new globalThis.URLSearchParams({
            name: '',
            email: `a${n}@cluster.example`,
            stamp: stamps[n % 2],
          });
          for (let tries = 0; tries < 40; tries += 1) {
            const answer = await fetch(`${bases[n % 2]}${path}/register`, { method: 'POST', body }).catch(() => null);
            // 503: the database is away for a moment.
            if (answer && answer.status < 500) return;
            await sleep(500);
          }
        }),
      );
    },
    /** Somebody changes the title, at one server and then at the other. */
    async edit(eventId) {
      turn += 1;
      const read = await browser.call(turn, 'GET', `/api/events/${eventId}`).catch(() => null);
      if (read?.status !== 200) return false;
      const { facts, version } = read.body;
      const edit = { facts: { ...facts, description: `Edited ${turn} times` }, basedOn: version };
      const done = await browser.call(turn, 'PUT', `/api/events/${eventId}`, edit).catch(() => null);
      return done !== null && done.status < 300;
    },
    answer: () =>
      acts.reply().then(
        (did) => did !== 'nothing to do',
        (error) => {
          if (error instanceof Refused) throw error;
          return false;
        },
      ),
    /** Holds what the database says against what the world took. */
    async account(eventId, url) {
      const sql = await createConnection({ uri: url, timezone: 'Z' });
      for (let tries = 0; tries < 120; tries += 1) {
        const [[open]] = await sql.query("select count(*) as n from delivery where state in ('queued', 'sending')");
        if (Number(open.n) === 0) break;
        await sleep(500);
      }
      const [rows] = await sql.query(
        "select d.id, d.state, d.may_have_left from delivery d join firing f on f.id = d.firing_id where f.kind = 'invitation'",
      );
      const [[given]] = await sql.query(
        "select coalesce(sum(places), 0) as n from registration where event_id = ? and state = 'confirmed'",
        [eventId],
      );
      const [[versions]] = await sql.query('select count(*) as n from event_version where event_id = ?', [eventId]);
      const [[counted]] = await sql.query('select count(*) as n from reply where event_id = ?', [eventId]);
      await sql.end();
      const taken = new Map();
      for (const [messageId, times] of world.mails) {
        const id = Number(/^d(\d+)\./.exec(messageId)?.[1] ?? 0);
        taken.set(id, (taken.get(id) ?? 0) + times.length);
      }
      const sum = { compared: rows.length, sent: 0, lost: 0, doubled: 0, repeated: 0 };
      for (const { id, state, may_have_left } of rows) {
        const times = taken.get(id) ?? 0;
        if (state === 'sent') sum.sent += 1;
        if (state === 'sent' && times === 0) sum.lost += 1;
        if (times > 1) sum[may_have_left ? 'repeated' : 'doubled'] += times - 1;
      }
      return { ...sum, given: Number(given.n), versions: Number(versions.n), counted: Number(counted.n) };
    },
    async close() {
      await stage.stopAll();
      world.close();
    },
  };
}

const invitations = ({ mails }) => [...mails.keys()].filter((id) => /^d\d+\./.test(id)).length;
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
