import { boardQuery, type Board, type BoardItem, type BoardQuery, type Strip } from '@convite/contract';
import { dayAt, daysFrom, occurrencesBetween, ownDayOfSlot, visibleState, type Occurrence } from '@convite/core';
import type { StoredEvent } from '../../store/events';

import type { Context } from '../context';
import { readBeginning } from '../beginning/read-beginning';
import { findNeeds } from './find-needs';
import { foldZones, otherZonesOf, stepOf, type FoldedFiring } from './fold-zones';
import { readTroubles } from '../health';
import { foldedTally, noteOf, withSenders } from './list-cues';
import { startOfFiring } from './start-of-firing';
import { kindWords } from './kind-words';
import { standbyMsOf } from './standby';
import { byHandStates, whyNotByHand } from './why-not-by-hand';

const dayMs = 86_400_000;
/** What goes by each person's clock is one line for many firings. */
const zonesOnAverage = 4;

/** The call board: what goes out next and went out last, in time order, and what needs a person. */
export async function readBoard(context: Context, query: Partial<BoardQuery> = {}, isOwner = false): Promise<Board> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const { zone } = await store.house.settings();
  const asked = boardQuery.parse(query);
  const filter = {
    channel: asked.channel || undefined,
    kind: asked.kind || undefined,
    state: asked.state || undefined,
    eventId: asked.event || undefined,
  };
  const ahead = await store.firings.ahead(nowMs, asked.ahead * zonesOnAverage, filter);
  const behind = await store.firings.behind(nowMs, asked.behind * zonesOnAverage, filter);
  // One that ends between the two reads has gone out: it stands once, as what it is now.
  const gone = new Set(behind.map(({ id }) => id));
  const lines = foldZones(ahead.filter(({ id }) => !gone.has(id)));
  const past = foldZones(behind);
  return {
    now: new Date(nowMs).toISOString(),
    zone,
    ahead: await describeLines(context, lines.slice(0, asked.ahead)),
    behind: await describeLines(context, past.slice(0, asked.behind)),
    hasMore: {
      ahead: lines.length > asked.ahead || ahead.length === asked.ahead * zonesOnAverage,
      behind: past.length > asked.behind || behind.length === asked.behind * zonesOnAverage,
    },
    starts: (await startsBetween(context, nowMs - dayMs, nowMs + 28 * dayMs)).map(({ event, date }) => ({
      eventId: event.id,
      title: date.facts.title,
      at: new Date(date.startMs).toISOString(),
      zone: date.facts.zone,
    })),
    needs: await findNeeds(context, isOwner),
    beginning: await readBeginning(context),
    load: await readLoad(context, zone),
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
  const settings = await store.house.settings();
  const { zone } = settings;
  const next = await store.firings.next(clock.now());
  const [shown] = next ? await describeLines(context, foldZones([next])) : [];
  return {
    now: new Date(clock.now()).toISOString(),
    zone,
    next: shown ?? null,
    standbyMs: standbyMsOf(settings),
    troubles: await readTroubles(store),
  };
}

/** Firings as people see them, each with what it is of. */
export async function describeLines(context: Context, folded: readonly FoldedFiring[]): Promise<BoardItem[]> {
  const { store, clock } = context;
  const firings = folded.map(({ firing }) => firing);
  const settings = await store.house.settings();
  const { pace } = settings;
  const own = await store.senders.pacesOf(firings.map(({ id }) => id));
  const cueNames = await store.cues.names(firings.flatMap(({ cueId }) => (cueId === null ? [] : [cueId])));
  const digests = new Map((await store.digests.all()).map((digest) => [digest.id, digest]));
  const events = await store.events.findMany(firings.flatMap(({ eventId }) => eventId ?? []));
  const waiting = firings.filter(({ state }) => byHandStates.includes(state));
  const cues = await store.cues.findMany(waiting.flatMap(({ cueId }) => cueId ?? []));
  return folded.map((line) => {
    const { firing } = line;
    const { id, kind, eventId, channel, dueMs, state } = firing;
    const digest = firing.digestId === null ? undefined : digests.get(firing.digestId);
    const title = digest?.name ?? cueNames.get(firing.cueId ?? 0) ?? (firing.title || kindWords[kind]);
    const event = events.get(eventId ?? 0);
    const startMs = event && startOfFiring(event, firing);
    return {
      firingId: id,
      kind,
      title,
      eventId,
      eventTitle: event?.version.facts.title ?? '',
      occurrenceAt: startMs ? new Date(startMs).toISOString() : null,
      zone: firing.zone,
      ownDay: ownDayOfSlot(firing.slot),
      step: stepOf(firing),
      otherZones: otherZonesOf(line),
      channel,
      dueAt: new Date(dueMs).toISOString(),
      state: visibleState(state, dueMs, clock.now(), standbyMsOf(settings)),
      note: noteOf(firing),
      tally: foldedTally(line, withSenders(pace, own.get(id)), clock.now()),
      canSendByHand:
        byHandStates.includes(state) &&
        whyNotByHand(firing, event ?? null, cues.get(firing.cueId ?? 0) ?? null, clock.now()) === '',
    };
  });
}

/** Messages a day by channel over four weeks, from a week ago, with the starts of events. */
async function readLoad(context: Context, zone: string): Promise<Board['load']> {
  const { store, clock } = context;
  const fromMs = clock.now() - 7 * dayMs;
  const days = new Map<string, { email: number; text: number; starts: string[] }>();
  for (const day of daysFrom(fromMs, zone, 28)) days.set(day, { email: 0, text: 0, starts: [] });
  for (const { atMs, channel, messages } of await store.firings.load(fromMs, fromMs + 28 * dayMs)) {
    const day = days.get(dayAt(atMs, zone));
    if (day) day[channel] += messages;
  }
  for (const { date } of await startsBetween(context, fromMs, fromMs + 28 * dayMs))
    days.get(dayAt(date.startMs, zone))?.starts.push(date.facts.title);
  return [...days].map(([day, counts]) => ({ day, ...counts }));
}
