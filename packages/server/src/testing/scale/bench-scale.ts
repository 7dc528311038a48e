import { nobodyChosen } from '@convite/contract';
import { saveDigest } from '../../services/digests/digests';
import { wholeEvent, whoOf, letter } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { readBoard } from '../../services/countdown/board';
import { actor, openStage, publishedEvent, scriptedEnd, until, workOn } from '../stage';
import { openCounter } from '../../services/audience/keep-counts';
import { sendNotice } from '../../services/sending/notices';
import { saveEvent } from '../../services/events/events';
import { expandFiring } from '../../services/sending/expand-firing';
import { houseWordings } from '../../services/sending/house-wordings';
import { sized } from '../bench-size';
import { asks } from './asks';
import { fillScale } from './fill';
import { planOf, watchStatements } from './statements';

// `npm run bench -- scale [people] [deliveries]`: what every screen asks, on a house that has grown large.
const people = Number(process.argv[2] ?? sized(1_000_000, 3000));
const deliveries = Number(process.argv[3] ?? sized(9_000_000, 9000));
const rounds = sized(7, 1);

const stage = await openStage();
const { context, db } = stage;
console.log(`Filling a database with ${people} people and ${deliveries} deliveries …`);
const since = performance.now();
const scale = await fillScale(db, people, deliveries);
for (const listId of Object.values(scale.lists)) await saveDigest(context, null, digestTo(listId), actor);
console.log(`Filled in ${seconds(performance.now() - since)} s.`);

const counting = performance.now();
const counter = openCounter(context, 3600);
while (await counter.look(() => false));
console.log(`All audiences counted in ${seconds(performance.now() - counting)} s, beside everything else.`);

const statementsOf = watchStatements(db);
const rows: { what: string; median: string; wanted: string; kept: string }[] = [];
for (const { what, wantedMs, run } of asks) note(what, await medianOf(() => run(context, scale)), wantedMs);
note('a notice to a tenth of all: from pressing to queued', await noticeToMany(), 3000);
await besideBareInsert();
await manyDueAtOnce();
console.table(rows);
console.log('The slowest statements:');
for (const statement of statementsOf().slice(0, 10))
  console.log(
    `${statement.longestMs.toFixed(0)} ms, ${statement.runs} runs: ${statement.text.replace(/\s+/g, ' ').slice(0, 200)}\n    ${await planOf(db, statement)}`,
  );
await stage.close();
const measured = rows.filter(({ median }) => !/NaN/.test(median)).length;
if (measured < asks.length + 5) console.error(`WRONG: only ${measured} of ${asks.length + 5} things were measured.`);
process.exit(measured < asks.length + 5 ? 1 : 0);

/** Said at once as well: what comes later may take longer than somebody waits. */
function note(what: string, ms: number, wantedMs: number): void {
  console.log(`${what}: ${ms.toFixed(1)} ms (${wantedMs} wanted)`);
  rows.push({ what, median: `${ms.toFixed(1)} ms`, wanted: `${wantedMs} ms`, kept: ms <= wantedMs ? 'yes' : 'NO' });
}

/** Writing a delivery down for everybody, beside a bare `INSERT … SELECT` of the same rows. */
async function besideBareInsert(): Promise<void> {
  const who = whoOf(
    { invitees: [], lists: [scale.lists.all], exceptLists: [], exceptReplies: [], topics: null },
    wholeEvent(1),
  );
  const firing = async (): Promise<number> =>
    (await context.store.firings.create({
      kind: 'notice',
      eventId: 1,
      channel: 'email',
      dueMs: 0,
      state: 'stopped',
    })) ?? 0;
  const timed = async (work: (firing: number) => Promise<unknown>): Promise<number> => {
    const id = await firing();
    const begunAt = performance.now();
    await work(id);
    const ms = performance.now() - begunAt;
    await db('delivery').where({ firing_id: id }).delete();
    return ms;
  };
  const bare = (id: number) =>
    db.raw(
      `insert into delivery (firing_id, subscriber_id, channel, state, next_at)
       select ?, m.subscriber_id, 'email', 'queued', now(3) from list_member m where m.list_id = ?`,
      [id, scale.lists.all],
    );
  const bareMs = await timed(bare);
  const oursMs = await timed((id) => context.store.expansions.expand(id, who, 'email', new Date()));
  note(`${people} deliveries written down, a bare insert taking ${bareMs.toFixed(0)} ms`, oursMs, 2 * bareMs);
}

/** Ten thousand cues of two hundred events, all due in the same second. */
async function manyDueAtOnce(): Promise<void> {
  const cues = sized(10_000, 60);
  const audience = { invitees: [], lists: [scale.lists.few], exceptLists: [], exceptReplies: [], topics: null };
  const moment = { kind: 'fixed', wall: '2030-01-01T10:00' };
  const [{ insertId: first = 0 } = {}] = await db.raw(
    `insert into cue (event_id, name, channel, moment, audience, wording_id, wording_version, is_draft)
     select 1 + seq % ${scale.events}, concat('Many ', seq), 'email', ?, ?, 1, 1, false from seq_1_to_${cues}`,
    [JSON.stringify(moment), JSON.stringify(audience)],
  );
  const dueAt = new Date(context.clock.now());
  await db.raw(
    `insert into firing (kind, event_id, cue_id, channel, due_at, state, priority)
     select 'cue', event_id, id, 'email', ?, 'set', 3 from cue where id >= ? order by id`,
    [dueAt, first],
  );
  note('the call board with ten thousand due', await medianOf(() => readBoard(context)), 200);
  const mail = scriptedEnd<EmailMessage>();
  const begunAt = performance.now();
  const worker = await workOn(stage, { mail });
  await until('the first message', () => mail.taken.length > 0, 60);
  note('ten thousand due at once: until the first message', performance.now() - begunAt, 1000);
  await until(
    'all stand in the queue',
    async () => ((await context.store.firings.nextDueMs()) ?? Infinity) > context.clock.now(),
    600,
  );
  note('… until all are written down, while the first are sent', performance.now() - begunAt, 200_000);
  await worker.stop();
}

/** Warm: asked once before. */
async function medianOf(ask: () => Promise<unknown>): Promise<number> {
  await ask();
  const times: number[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const begunAt = performance.now();
    await ask();
    times.push(performance.now() - begunAt);
  }
  return times.sort((a, b) => a - b)[(rounds - 1) / 2] ?? 0;
}

/** Everybody on the list of a tenth holds the first version of an event; it moves, and they are told. */
async function noticeToMany(): Promise<number> {
  const event = await publishedEvent(stage);
  await db.raw(
    `insert into invitee (event_id, subscriber_id, channel, reply, invited_at, holds_version)
     select ?, subscriber_id, 'email', 'accepted', now(3), 1 from list_member where list_id = ?`,
    [event, scale.lists.some],
  );
  const stored = await context.store.events.find(event);
  if (!stored) throw new Error('no event');
  await saveEvent(context, event, { facts: { ...stored.version.facts, venue: 'Dome 2' }, basedOn: 1 }, actor);
  const begunAt = performance.now();
  await sendNotice(context, event, houseWordings.change, Math.floor(people / 10), actor);
  await context.store.transact(async (tx) => {
    const id = await tx.firings.lockDue(context.clock.now());
    const firing = id === null ? null : await tx.firings.find(id);
    if (firing?.kind !== 'notice') throw new Error('no notice is due');
    await expandFiring(tx, firing, context.clock.now());
  });
  return performance.now() - begunAt;
}

function digestTo(listId: number) {
  return {
    name: `Digest ${listId}`,
    whom: { ...nobodyChosen, lists: [listId] },
    weekday: 5,
    at: '13:00',
    zone: 'Europe/Lisbon',
    windowDays: 10,
    senderId: null,
    wording: letter('Coming up', ''),
    isOn: true,
  } as const;
}
function seconds(ms: number): string {
  return (ms / 1000).toFixed(1);
}
