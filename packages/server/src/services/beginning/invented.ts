import { addDays, wallTimeAt } from '@convite/core';
import { inventEvents } from '../../demo/events';
import { inventPeople } from '../../demo/people';
import { seededRandom } from '../../demo/random';
import type { StoreSubjects } from '../../store/store';
import { planCues } from '../countdown/plan-firings';
import { nowOf, type Actor, type Context } from '../context';
import { insertEvents } from '../events/events';
import { Failure } from '../failure';

const howManyPeople = 60;
const howManyEvents = 3;
const origin = { source: 'by-hand', how: 'is invented', by: '' } as const;

/**
 * Fills an empty house with invented people and events, to try things out: nothing ever leaves for them.
 * @throws Failure 409 where there are people, or events, already
 */
export async function loadInvented(context: Context, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const own = await tx.beginning.hasOwn();
    if (own.people || own.events || (await tx.beginning.hasInvented()))
      throw new Failure(409, 'not-empty', 'There are people or events already; invented ones are for an empty house.');
    const listId = await tx.lists.create('Invented people');
    await tx.beginning.noteInvented('list', [listId]);
    const ids = await addPeople(context, tx, listId);
    await tx.beginning.noteInvented('person', ids);
    await tx.beginning.noteInvented('event', await addEvents(context, tx, ids, actor));
    await tx.house.audit(nowOf(context), actor, 'settings: invented data loaded', `${ids.length} people`);
    await tx.live.touch('board', 'events', 'subscribers');
  });
}

/** Takes all that was invented out again, with what was sent and answered about it. */
export async function removeInvented(context: Context, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    await tx.beginning.removeInvented();
    await tx.house.audit(nowOf(context), actor, 'settings: invented data taken out', '');
    await tx.live.touch('board', 'events', 'subscribers');
  });
}

async function addPeople(context: Context, tx: StoreSubjects, listId: number): Promise<number[]> {
  const people = inventPeople(seededRandom(7), howManyPeople, context.clock.now());
  const joined = await tx.newcomers.addToList(
    listId,
    people.map(({ email, name, mobile, zone, textConsent }) => ({ email, name, mobile, zone, textConsent })),
    origin,
    nowOf(context),
  );
  return joined.map(({ subscriberId }) => subscriberId);
}

/** Published for who is invited alone, with guests who answered and cues that are set. */
async function addEvents(
  context: Context,
  tx: StoreSubjects,
  people: readonly number[],
  actor: Actor,
): Promise<number[]> {
  const nowMs = context.clock.now();
  const { zone } = await tx.house.settings();
  const first = addDays(wallTimeAt(nowMs, zone).slice(0, 10), 1);
  const plans = inventEvents(nowMs, null)
    .filter(({ status, before, slotMinutes }) => status === 'published' && !before && !slotMinutes)
    .filter(({ facts }) => facts.series !== null || startOf(facts.span) > first)
    .slice(0, howManyEvents);
  const ids = await insertEvents(
    context,
    tx,
    plans.map(({ facts }) => ({ facts, reach: 'invited', status: 'published', by: actor.name })),
  );
  for (const [index, id] of ids.entries()) {
    const plan = plans[index];
    const event = await tx.events.find(id);
    if (!plan || !event) continue;
    const reply = (n: number) => (n % 3 === 0 ? 'accepted' : n % 7 === 0 ? 'declined' : 'needs-action');
    await tx.invitees.addGuests(
      people.map((subscriberId, n) => ({ eventId: id, subscriberId, reply: reply(n + index), holdsVersion: 1 })),
      nowOf(context),
    );
    for (const cue of plan.cues)
      await tx.cues.create(id, { ...cue, audience: { ...cue.audience, lists: [], exceptLists: [] } });
    await planCues(tx, event, await tx.cues.ofEvent(id), nowMs);
  }
  return ids;
}

const startOf = (span: { readonly kind: string; readonly start?: string; readonly firstDay?: string }): string =>
  (span.start ?? span.firstDay ?? '').slice(0, 10);
