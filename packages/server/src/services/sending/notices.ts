import type { EventChanges } from '@convite/contract';
import {
  differencesBetween,
  findOccurrence,
  isSameOn,
  keyOf,
  matters,
  wallTimeAt,
  type EventVersion,
  type WordingDocument,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, notFound, refuseProblems, refuseUnconfirmed } from '../failure';
import { countWaiting, tellWaiting, whoWaits } from '../registration/tell-waiting';
import { houseWording } from '../wording/house-wording';
import { checkWording } from '../countdown/check-wording';
import { once } from './once';
import { refuseUnsendable } from './refuse-unsendable';

const channels = ['email', 'text'] as const;

/** The history of an event, who holds which version, and what a notice would do now. */
export async function describeChanges(context: Context, eventId: number): Promise<EventChanges> {
  const event = await getEvent(context, eventId);
  const { store } = context;
  const versions = await store.events.versions(eventId);
  const { holders, toTell, waiting } = await store.eventTallies.find(eventId);
  return {
    versions: versions.map((version, index) => {
      const before = versions[index - 1];
      const differences = before ? differencesBetween(before, version) : [];
      return {
        number: version.number,
        sequence: version.sequence,
        at: version.at.toISOString(),
        by: version.by,
        differences,
        matters: matters(differences),
      };
    }),
    holders,
    toTell,
    waiting: waiting.toTell,
    isNoticeUnderWay: await store.firings.isNoticeUnderWay(eventId),
    suggestedWording: await houseWording(
      store,
      event.version.calledOff ? 'callOff' : (await formOf(store, event)).method === 'CANCEL' ? 'dateOff' : 'change',
    ),
  };
}

/** Sends the newest version to everybody who holds an older one. @throws Failure 409 to confirm a count, 422 for nobody */
export async function sendNotice(
  context: Context,
  eventId: number,
  wording: WordingDocument,
  confirmedCount: number | null,
  actor: Actor,
  key: string | null = null,
): Promise<void> {
  refuseProblems(checkWording(wording, 'email'));
  await once(context, key, async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    if (await tx.firings.isNoticeUnderWay(eventId))
      throw new Failure(409, 'under-way', 'A notice is under way already; wait until it is done.');
    const { askAbove } = await tx.house.settings();
    const count = await createNotices(tx, event, wording, confirmedCount, context.clock.now());
    refuseUnconfirmed(count, confirmedCount, askAbove);
    await tx.house.audit(
      nowOf(context),
      actor,
      'notice: sent',
      `${event.version.facts.title}, version ${event.version.number}, ${count} people`,
    );
    await tx.live.touch('board', `event:${eventId}`);
    return count;
  });
}

/**
 * Plans the notice firings of the event's newest version, one for each channel that somebody was invited by.
 * @returns how many people they reach; more than a hundred must be confirmed (throws Failure 409)
 */
export async function createNotices(
  store: StoreSubjects,
  event: StoredEvent,
  wording: WordingDocument,
  confirmedCount: number | null,
  nowMs: number,
): Promise<number> {
  const { number, calledOff } = event.version;
  const count = (): Promise<number[]> =>
    Promise.all(channels.map((channel) => store.expansions.countNotice(event.id, number, channel)));
  const waiting = await whoWaits(store, event);
  const invitees = (await count()).reduce((sum, people) => sum + people, 0);
  const { email, text } = countWaiting(waiting);
  const total = invitees + email + text;
  const { askAbove } = await store.house.settings();
  if (total > 0) refuseUnconfirmed(total, confirmedCount, askAbove);
  if (total > 0) await refuseUnsendable(store, 'email');
  const form = await formOf(store, event);
  const gone = await goneDates(store, event, nowMs);
  await letGo(store, event, gone, nowMs);
  const counts = await count();
  const textWording = await houseWording(store, calledOff ? 'callOffText' : 'changeText');
  for (const [index, channel] of channels.entries()) {
    if (!counts[index]) continue;
    await store.firings.create({
      kind: 'notice',
      eventId: event.id,
      channel,
      dueMs: nowMs,
      state: 'set',
      content: {
        kind: 'notice',
        ...form,
        isByDate: false,
        document: channel === 'email' ? wording : textWording,
        version: number,
        stampMs: nowMs,
      },
    });
  }
  for (const key of gone) {
    const document = form.occurrence === key ? wording : await houseWording(store, 'dateOff');
    const content = { kind: 'notice', method: 'CANCEL', occurrence: key, isByDate: true, document } as const;
    await store.firings.create({
      kind: 'notice',
      eventId: event.id,
      channel: 'email',
      dueMs: nowMs,
      state: 'set',
      content: { ...content, version: number, stampMs: nowMs },
    });
  }
  await tellWaiting(store, event, waiting, wording, nowMs);
  return total;
}

/** Dates that people come to by date, from yesterday on. */
const heldDates = (
  { registrations }: Pick<StoreSubjects, 'registrations'>,
  { id, version }: StoredEvent,
  nowMs: number,
): Promise<string[]> => registrations.held(id, keyOf(wallTimeAt(nowMs - 86_400_000, version.facts.zone)));

/** Those of them that do not take place any more. */
async function goneDates(
  store: Pick<StoreSubjects, 'registrations'>,
  event: StoredEvent,
  nowMs: number,
): Promise<string[]> {
  const { facts, calledOff } = event.version;
  // Called off as a whole, everybody hears of it in the same words.
  if (calledOff) return [];
  return (await heldDates(store, event, nowMs)).filter((key) => findOccurrence(facts, key)?.calledOff ?? true);
}

/** Whoever came to such a date comes no more; for whom that is all that changed, nothing else is to be told. */
async function letGo(store: StoreSubjects, event: StoredEvent, gone: readonly string[], nowMs: number): Promise<void> {
  for (const key of gone) await store.registrations.letGo(event.id, key, event.version.number, new Date(nowMs));
  const before = gone.length ? await store.events.version(event.id, event.version.number - 1) : null;
  if (before) await carryUnconcerned(store, { ...event, version: before }, event.version, nowMs);
}

/** People who come by date hear only of what changes their dates: the others hold the new version as they held the old. */
export async function carryUnconcerned(
  store: Pick<StoreSubjects, 'registrations'>,
  event: StoredEvent,
  next: EventVersion,
  nowMs: number,
): Promise<void> {
  const held = await heldDates(store, event, nowMs);
  const changed = held.filter((key) => !isSameOn(event.version.facts, next.facts, key));
  await store.registrations.carryUnconcerned(event.id, event.version.number, next.number, changed);
}

/**
 * How a change is said to calendars. The whole entry again is always right; where all that changed, for everybody who is
 * behind, is one date called off, calling off that date says it best (RFC 5546 §3.2.5).
 */
export async function formOf(
  store: Pick<StoreSubjects, 'events' | 'guests'>,
  event: StoredEvent,
): Promise<{ method: 'REQUEST' | 'CANCEL'; occurrence: string }> {
  if (event.version.calledOff) return { method: 'CANCEL', occurrence: '' };
  const held = (await store.guests.holders(event.id)).flatMap(({ version }) => version ?? []);
  const behind = held.filter((version) => version > 0 && version < event.version.number);
  if (behind.length === 0) return { method: 'REQUEST', occurrence: '' };
  const oldest = await store.events.version(event.id, Math.min(...behind));
  const off = oldest && onlyDateOff(oldest, event.version);
  return off ? { method: 'CANCEL', occurrence: off } : { method: 'REQUEST', occurrence: '' };
}

/** The one date whose calling off is all that differs; null when anything else does. */
function onlyDateOff(before: EventVersion, after: EventVersion): string | null {
  const differences = differencesBetween(before, after);
  const known = new Set(before.facts.series?.exceptions.filter(({ calledOff }) => calledOff).map(({ at }) => at));
  const off = (after.facts.series?.exceptions ?? []).filter(({ calledOff, at }) => calledOff && !known.has(at));
  return differences.length === 1 && differences[0]?.field === 'occurrence' && off.length === 1 && off[0]
    ? keyOf(off[0].at)
    : null;
}
