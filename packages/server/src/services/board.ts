import type { Board, BoardItem, FiringKind, Strip } from '@convite/contract';
import { occurrencesBetween, visibleState, wallTimeAt, type Occurrence } from '@convite/core';
import { wholeEvent } from '../store/audience-sql';
import type { StoredEvent } from '../store/events';
import type { StoredFiring } from '../store/firings';
import { audienceCounter, type AudienceCounter } from './audience-counter';
import type { Context } from './context';
import { digestAudience, issueContent } from './expand-firing';
import { findNeeds } from './find-needs';
import { readTroubles } from './health';
import { startOfFiring, talliesOf } from './list-cues';
import { byHandStates, whyNotByHand } from './why-not-by-hand';

const dayMs = 86_400_000;

/** The call board: what goes out next and went out last, in time order, and what needs a person. */
export async function readBoard(context: Context): Promise<Board> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const { zone } = await store.house.settings();
  const countGets = audienceCounter(store);
  const ahead = await store.firings.ahead(nowMs, 40);
  const behind = await store.firings.behind(nowMs, 15);
  // One that ends between the two reads has gone out: it stands once, as what it is now.
  const gone = new Set(behind.map(({ id }) => id));
  return {
    now: new Date(nowMs).toISOString(),
    zone,
    ahead: await describe(
      context,
      ahead.filter(({ id }) => !gone.has(id)),
      countGets,
    ),
    behind: await describe(context, behind, countGets),
    starts: (await startsBetween(context, nowMs - dayMs, nowMs + 28 * dayMs)).map(({ event, date }) => ({
      eventId: event.id,
      title: date.facts.title,
      at: new Date(date.startMs).toISOString(),
      zone: date.facts.zone,
    })),
    needs: await findNeeds(context),
    load: await readLoad(context, zone, countGets),
  };
}

/** Dates of published events that begin in the window and take place, in order. */
async function startsBetween(
  { store }: Context,
  fromMs: number,
  toMs: number,
): Promise<{ event: StoredEvent; date: Occurrence }[]> {
  const events = await store.events.aliveBetween(fromMs, toMs);
  return events
    .flatMap((event) => occurrencesBetween(event.version.facts, fromMs, toMs).map((date) => ({ event, date })))
    .filter(({ date }) => !date.calledOff)
    .sort((a, b) => a.date.startMs - b.date.startMs);
}

/** The strip: the one firing that goes next, and what is not there that should be. */
export async function readStrip(context: Context): Promise<Strip> {
  const { store, clock } = context;
  const { zone } = await store.house.settings();
  const next = await nextOf(context, await store.firings.ahead(clock.now(), 20));
  const [shown] = next ? await describe(context, [next], audienceCounter(store)) : [];
  return {
    now: new Date(clock.now()).toISOString(),
    zone,
    next: shown ?? null,
    troubles: await readTroubles(store),
  };
}

/** What goes now, or else what goes next: a firing whose last few were put off does not hide what comes. */
async function nextOf({ store, clock }: Context, ahead: readonly StoredFiring[]): Promise<StoredFiring | null> {
  for (const firing of ahead) {
    if (firing.state === 'set') return firing;
    if (firing.state === 'sending' && (await store.firings.isMoving(firing.id, clock.now()))) return firing;
  }
  return null;
}

async function describe(
  context: Context,
  firings: readonly StoredFiring[],
  countGets: AudienceCounter,
): Promise<BoardItem[]> {
  const { store, clock } = context;
  const tallies = await talliesOf(context, firings, countGets);
  const cueNames = await store.cues.names(firings.flatMap(({ cueId }) => (cueId === null ? [] : [cueId])));
  const digests = new Map((await store.digests.all()).map((digest) => [digest.id, digest]));
  const events = await store.events.findMany(firings.flatMap(({ eventId }) => eventId ?? []));
  const waiting = firings.filter(({ state }) => byHandStates.includes(state));
  const cues = await store.cues.findMany(waiting.flatMap(({ cueId }) => cueId ?? []));
  return Promise.all(
    firings.map(async (firing) => {
      const { id, kind, eventId, channel, dueMs, state, note } = firing;
      const digest = firing.digestId === null ? undefined : digests.get(firing.digestId);
      let tally = tallies.get(id) ?? { gets: 0, sent: 0, failed: 0, waiting: 0 };
      if (digest && !firing.isExpanded) {
        const content = await issueContent(store, digest, dueMs);
        const gets = content.events.length
          ? await countGets(digestAudience(digest, content), 'email', wholeEvent(null))
          : 0;
        tally = { ...tally, gets };
      }
      const title = digest?.name ?? cueNames.get(firing.cueId ?? 0) ?? kindWords[kind];
      const event = events.get(eventId ?? 0);
      const startMs = event && startOfFiring(event, firing);
      return {
        firingId: id,
        kind,
        title,
        eventId,
        eventTitle: event?.version.facts.title ?? '',
        occurrenceAt: startMs ? new Date(startMs).toISOString() : null,
        channel,
        dueAt: new Date(dueMs).toISOString(),
        state: visibleState(state, dueMs, clock.now()),
        note,
        tally,
        canSendByHand:
          byHandStates.includes(state) &&
          whyNotByHand(firing, event ?? null, cues.get(firing.cueId ?? 0) ?? null, clock.now()) === '',
      };
    }),
  );
}

const kindWords: Readonly<Record<FiringKind, string>> = {
  cue: 'Cue',
  digest: 'Digest',
  invitation: 'Invitation',
  notice: 'Notice',
  answer: 'Answer',
};

/** Messages a day by channel over four weeks, from a week ago, with the starts of events. */
async function readLoad(context: Context, zone: string, countGets: AudienceCounter): Promise<Board['load']> {
  const { store, clock } = context;
  const fromMs = clock.now() - 7 * dayMs;
  const days = new Map<string, { email: number; text: number; starts: string[] }>();
  for (let index = 0; index < 28; index += 1)
    days.set(wallTimeAt(fromMs + index * dayMs, zone).slice(0, 10), { email: 0, text: 0, starts: [] });
  for (const item of await describe(context, await store.firings.between(fromMs, fromMs + 28 * dayMs), countGets)) {
    const day = days.get(wallTimeAt(Date.parse(item.dueAt), zone).slice(0, 10));
    if (day && item.state !== 'stopped' && item.state !== 'missed') day[item.channel] += item.tally.gets;
  }
  for (const { date } of await startsBetween(context, fromMs, fromMs + 28 * dayMs))
    days.get(wallTimeAt(date.startMs, zone).slice(0, 10))?.starts.push(date.facts.title);
  return [...days].map(([day, counts]) => ({ day, ...counts }));
}
