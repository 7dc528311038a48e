import { recountDelayMs } from '@convite/core';
import { noTally, type EventTally } from '../../store/event-tallies';
import type { Store } from '../../store/store';
import type { Context } from '../context';
import { countWaiting, whoWaits } from '../registration/tell-waiting';
import { countAudiences } from './count-audiences';
import { countNextSegment } from './segments';

/** Looks for what changed since, and counts anew what screens show of it; large counts less often. */
export interface Counter {
  /** One look. @returns whether anything was counted */
  look(isStopped: () => boolean): Promise<boolean>;
}

/** Events that nobody counted yet are looked for so often: those that were there before counts were kept. */
const lookForUncountedEveryMs = 60_000;
const uncountedAtOnce = 50;
const lookAtListsEveryMs = 2000;
/** A change that is committed late by another process is not missed. */
const lookBackSeconds = 30;

/** @param sinceSeconds what changed so long ago, by the database's own clock, is looked at first */
export function openCounter(context: Pick<Context, 'store' | 'clock'>, sinceSeconds = 60): Counter {
  const { store, clock } = context;
  let seen: ReadonlyMap<string, number> | null = null;
  let lookedForUncountedAt = -Infinity;
  let lookedAtListsAt = -Infinity;
  /** Events to count, each with when, by this process's own clock. */
  const waiting = new Map<number, number>();

  return {
    async look(isStopped) {
      await lookAtEvents();
      await lookAtLists();
      const tallied = await tallyDue(isStopped);
      const counted = await countAudiences(context, isStopped);
      // What is to go out comes first.
      return counted || tallied || (!isStopped() && (await countNextSegment(context)));
    },
  };

  async function lookAtEvents(): Promise<void> {
    const now = await store.live.recent(seen === null ? sinceSeconds : lookBackSeconds);
    const touched = [...now].filter(([topic, version]) => topic.startsWith(eventTopic) && seen?.get(topic) !== version);
    if (performance.now() - lookedForUncountedAt > lookForUncountedEveryMs) {
      lookedForUncountedAt = performance.now();
      for (const id of await store.eventTallies.uncounted(uncountedAtOnce)) waiting.set(id, 0);
    }
    const ids = touched.map(([topic]) => Number(topic.slice(eventTopic.length)));
    const tallies = await store.eventTallies.findMany(ids);
    const most = await store.firings.mostOf(ids);
    for (const id of ids) {
      const guests = sumOf(tallies.get(id) ?? noTally());
      if (!waiting.has(id)) waiting.set(id, performance.now() + (guests < fewGuests ? 0 : recountDelayMs(guests)));
      await store.firings.recountEvent(id, clock.now() + recountDelayMs(Math.max(guests, most.get(id) ?? 0)));
    }
    seen = now;
  }

  async function lookAtLists(): Promise<void> {
    if (performance.now() - lookedAtListsAt < lookAtListsEveryMs) return;
    lookedAtListsAt = performance.now();
    const lists = await store.lists.takeChanged();
    if (lists.length === 0) return;
    const digests = await store.digests.all();
    for (const id of lists)
      await store.firings.recountList(
        id,
        digests
          .filter(({ whom }) => whom.lists.includes(id) || whom.exceptLists.includes(id))
          .map((digest) => digest.id),
        clock.now(),
      );
  }

  async function tallyDue(isStopped: () => boolean): Promise<boolean> {
    const due = [...waiting].filter(([, at]) => at <= performance.now()).map(([id]) => id);
    for (const id of due) {
      if (isStopped()) break;
      waiting.delete(id);
      await tallyGuests(store, id, new Date(clock.now()));
    }
    return due.length > 0;
  }
}

const eventTopic = 'event:';

/** So few are counted at once, whenever something changes: a reply shows within a second. */
const fewGuests = 20_000;

const sumOf = ({ replies }: EventTally): number => Object.values(replies).reduce((sum, count) => sum + count, 0);

/** Counts an event's guests, and tells the screens when anything is other than it was. */
export async function tallyGuests(store: Store, eventId: number, now: Date): Promise<void> {
  const version = await store.events.versionNow(eventId);
  if (version === null) return;
  const holders = await store.guests.holders(eventId);
  const replies = await store.guests.counts(eventId);
  /** Whom a notice of that version would reach; where nobody holds any, nobody is looked for. */
  const toTell = async (of: number): Promise<EventTally['toTell']> =>
    holders.some((one) => one.version !== null && one.version < of)
      ? {
          email: await store.expansions.countNotice(eventId, of, 'email'),
          text: await store.expansions.countNotice(eventId, of, 'text'),
        }
      : { email: 0, text: 0 };
  const tally: EventTally = {
    replies,
    byDate: await store.guests.countsByDate(eventId, replies),
    holders,
    toTell: await toTell(version),
    holding: await toTell(version + 1),
    waiting: await tallyWaiting(store, eventId),
  };
  const { email, text } = tally.waiting.toTell;
  const behind = holders
    .filter((one) => one.version !== null && one.version < version)
    .reduce((sum, { count }) => sum + count, email + text);
  const before = await store.eventTallies.find(eventId);
  await store.eventTallies.keep(eventId, tally, behind, now);
  if (JSON.stringify(before) !== JSON.stringify(tally)) await store.live.touch('board', 'events', `counts:${eventId}`);
}

async function tallyWaiting(store: Store, eventId: number): Promise<EventTally['waiting']> {
  const all = await store.waitlist.untold(eventId);
  const event = all.length ? await store.events.find(eventId) : null;
  return { all: countWaiting(all), toTell: countWaiting(event ? await whoWaits(store, event) : []) };
}
