import { saveDigest } from '../../services/digests/digests';
import { actor, openStage, publishedEvent } from '../stage';
import { openCounter } from '../../services/audience/keep-counts';
import { sendNotice } from '../../services/sending/notices';
import { saveEvent } from '../../services/events/events';
import { expandFiring } from '../../services/sending/expand-firing';
import { houseWordings } from '../../services/sending/house-wordings';
import { asks } from './asks';
import { fillScale } from './fill';
import { planOf, watchStatements } from './statements';

// `npm run bench -- scale [people] [deliveries]`: what every screen asks, on a house that has grown large.
const people = Number(process.argv[2] ?? 1_000_000);
const deliveries = Number(process.argv[3] ?? 9_000_000);
const rounds = 7;

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
for (const { what, wantedMs, run } of asks) {
  await run(context, scale);
  const times: number[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const begunAt = performance.now();
    await run(context, scale);
    times.push(performance.now() - begunAt);
  }
  note(what, times.sort((a, b) => a - b)[(rounds - 1) / 2] ?? 0, wantedMs);
}
note('a notice to a tenth of all: from pressing to queued', await noticeToMany(), 3000);
console.table(rows);
console.log('The slowest statements:');
for (const statement of statementsOf().slice(0, 10))
  console.log(
    `${statement.longestMs.toFixed(0)} ms, ${statement.runs} runs: ${statement.text.replace(/\s+/g, ' ').slice(0, 200)}\n    ${await planOf(db, statement)}`,
  );
await stage.close();
process.exit(0);

function note(what: string, ms: number, wantedMs: number): void {
  rows.push({ what, median: `${ms.toFixed(1)} ms`, wanted: `${wantedMs} ms`, kept: ms <= wantedMs ? 'yes' : 'NO' });
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
    listId,
    weekday: 5,
    at: '13:00',
    zone: 'Europe/Lisbon',
    windowDays: 10,
    subject: 'Coming up',
    intro: '',
    isOn: true,
  } as const;
}
function seconds(ms: number): string {
  return (ms / 1000).toFixed(1);
}
