import type { Board, BoardItem, FiringKind, Need, Strip } from '@convite/contract';
import { occurrencesBetween, visibleState, wallTimeAt, type Occurrence } from '@convite/core';
import { wholeEvent } from '../store/audience-sql';
import type { StoredEvent } from '../store/events';
import type { StoredFiring } from '../store/firings';
import { audienceCounter, type AudienceCounter } from './audience-counter';
import type { Context } from './context';

import { digestAudience, issueContent } from './expand-firing';
import { startOfFiring, talliesOf } from './list-cues';

const dayMs = 86_400_000;

/** The call board: what goes out next and went out last, in time order, and what needs a person. */
export async function readBoard(context: Context): Promise<Board> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const { zone } = await store.house.settings();
  const countGets = audienceCounter(store);
  return {
    now: new Date(nowMs).toISOString(),
    zone,
    ahead: await describe(context, await store.firings.ahead(nowMs, 40), countGets),
    behind: await describe(context, await store.firings.behind(nowMs, 15), countGets),
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

/** The strip: the one firing that goes next. */
export async function readStrip(context: Context): Promise<Strip> {
  const { store, clock } = context;
  const { zone } = await store.house.settings();
  const ahead = (await store.firings.ahead(clock.now(), 20))
    .filter(({ state }) => state === 'set' || state === 'sending')
    .slice(0, 1);
  const [next] = await describe(context, ahead, audienceCounter(store));
  return { now: new Date(clock.now()).toISOString(), zone, next: next ?? null };
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

/** What a machine cannot settle: drafts due soon, missed firings, failures, bounces, old versions, replies set aside. */
async function findNeeds(context: Context): Promise<Need[]> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const weekAgo = new Date(nowMs - 7 * dayMs);
  const firings = await store.firings.between(weekAgo.getTime(), nowMs + 7 * dayMs);
  const [behind, aside, proposed] = await Promise.all([
    store.invitees.behind(),
    store.invitees.countSetAsideSince(weekAgo),
    store.proposals.countOpen(),
  ]);
  const events = await store.events.findMany(
    [...firings, ...behind, ...aside, ...proposed].flatMap(({ eventId }) => eventId ?? []),
  );
  const titleOf = (eventId: number | null): string => events.get(eventId ?? 0)?.version.facts.title ?? '';
  const names = await store.cues.names(firings.flatMap(({ cueId }) => (cueId === null ? [] : [cueId])));
  const needs: Need[] = [];
  for (const firing of firings) {
    const at = new Date(firing.dueMs).toISOString();
    const title = [names.get(firing.cueId ?? 0), titleOf(firing.eventId)].filter(Boolean).join(' · ');
    if (firing.state === 'draft') needs.push({ kind: 'draft-due', eventId: firing.eventId, title, count: 1, at });
    if (firing.state === 'missed') needs.push({ kind: 'missed', eventId: firing.eventId, title, count: 1, at });
  }
  needs.push(...failuresOf(firings, titleOf, new Map((await store.digests.all()).map(({ id, name }) => [id, name]))));
  for (const { eventId, count } of behind)
    needs.push({ kind: 'old-version', eventId, title: titleOf(eventId), count, at: null });
  for (const { eventId, count } of aside) {
    needs.push({ kind: 'set-aside', eventId, title: titleOf(eventId) || 'no event of ours', count, at: null });
  }
  for (const { eventId, count } of proposed)
    needs.push({ kind: 'proposal', eventId, title: titleOf(eventId), count, at: null });
  for (const watch of await store.watches.all())
    if (watch.isOn && watch.isFailing)
      needs.push({ kind: 'watch-failing', eventId: null, title: watch.name, count: 1, at: null });
  const bounced = await store.subscribers.countBouncedSince(weekAgo);
  if (bounced)
    needs.push({ kind: 'bounced', eventId: null, title: 'in the last seven days', count: bounced, at: null });
  return needs;
}

/** Deliveries that failed, together for each event or digest, with when the last of its firings was due. */
function failuresOf(
  firings: readonly StoredFiring[],
  titleOf: (eventId: number | null) => string,
  digestNames: ReadonlyMap<number, string>,
): Need[] {
  const needs = new Map<string, Need>();
  for (const { eventId, digestId, failed, dueMs } of firings) {
    if (failed === 0) continue;
    const key = `${eventId} ${digestId}`;
    const title = titleOf(eventId) || (digestNames.get(digestId ?? 0) ?? '');
    const count = (needs.get(key)?.count ?? 0) + failed;
    needs.set(key, { kind: 'failed', eventId, title, count, at: new Date(dueMs).toISOString() });
  }
  return [...needs.values()];
}

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
