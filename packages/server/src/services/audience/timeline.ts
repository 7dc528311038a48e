import type { Coming, PersonNote, TimelinePage, TimelineRow } from '@convite/contract';
import { daysFrom, findOccurrence, formerOccurrence, pressureWindowMs, sumByDay, type Who } from '@convite/core';
import type { StoredCue, StoredDigest } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import type { Doing } from '../../store/person-course';
import type { Store } from '../../store/store';
import { kindWords } from '../countdown/kind-words';
import { whoGets } from '../countdown/who-gets';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';
import { digestAudience, issueContent } from '../sending/expand-firing';
import { whoGetsIssue } from '../sending/as-allowed';
import { messagesWithTimes } from '../sending/show-message';

const dayMs = 86_400_000;

/**
 * Everything that was between the house and one person, the latest first: what was sent, and what they did and said between.
 * @param after where the page begins, as the one before it said; empty for the first
 */
export async function readTimeline(context: Context, personId: number, after: string): Promise<TimelinePage> {
  const { store } = context;
  const [before = 0, fromMs = Infinity] = after ? after.split(':').map(Number) : [];
  const { rows, next } = await messagesWithTimes(context, personId, before);
  // What lies between this page's messages and the next one's is this page's.
  const toMs = next === null ? -Infinity : Math.min(...rows.map(({ at }) => at.getTime()));
  const known = [...(await store.personCourse.doings(personId)), ...(await readAttendances(context, personId))];
  const doings = known.filter(({ at }) => at.getTime() < fromMs && at.getTime() >= toMs);
  const events = await store.events.findMany(doings.flatMap(({ eventId }) => eventId ?? []));
  const titleOf = (eventId: number | null): string => events.get(eventId ?? 0)?.version.facts.title ?? '';
  const all = [
    ...rows.map(({ message, eventId, at }): TimelineRow => ({
      key: `message ${message.deliveryId}`,
      at: at.toISOString(),
      kind: 'message',
      eventId,
      eventTitle: message.eventTitle,
      text: message.name,
      channel: message.channel,
      message,
    })),
    ...doings.map(({ kind, at, eventId, text, channel }, index): TimelineRow => ({
      key: `${kind} ${eventId ?? ''} ${at.getTime()} ${index}`,
      at: at.toISOString(),
      kind,
      eventId,
      eventTitle: titleOf(eventId),
      text,
      channel,
      message: null,
    })),
  ];
  return { rows: all.sort((a, b) => b.at.localeCompare(a.at)), next: next === null ? null : `${next}:${toMs}` };
}

/** Where somebody was, or was missed: at the date's start, on the event's own clock. */
async function readAttendances({ store }: Context, personId: number): Promise<Doing[]> {
  const marks = await store.personCourse.attendances(personId);
  const events = await store.events.findMany(marks.map(({ eventId }) => eventId));
  return marks.flatMap(({ eventId, occurrence, hasCome }): Doing[] => {
    const facts = events.get(eventId)?.version.facts;
    const date = facts && (findOccurrence(facts, occurrence) ?? formerOccurrence(facts, occurrence));
    const kind = hasCome ? 'came' : 'did-not-come';
    return date ? [{ kind, at: new Date(date.startMs), eventId, text: '', channel: null }] : [];
  });
}

/** So far ahead, and so many firings, are looked at for one person. */
const aheadMs = 28 * dayMs;
const mostFirings = 100;

/** What is planned for somebody, and how much they get in a week. Each firing that is to come is asked whether it means them. */
export async function readComing(context: Context, personId: number): Promise<Coming> {
  const { store, clock } = context;
  const nowMs = clock.now();
  const ahead = await store.firings.ahead(nowMs, mostFirings + 1, { state: 'set' });
  const firings = ahead.slice(0, mostFirings).filter(({ dueMs }) => dueMs < nowMs + aheadMs);
  const cues = await store.cues.findMany(firings.flatMap(({ cueId }) => cueId ?? []));
  const events = await store.events.findMany(firings.flatMap(({ eventId }) => eventId ?? []));
  const digests = new Map((await store.digests.all()).map((digest) => [digest.id, digest]));
  const asking = await askingOnce(store, firings);
  const rows: Coming['rows'] = [];
  for (const firing of firings) {
    const about = {
      cue: cues.get(firing.cueId ?? 0) ?? null,
      event: events.get(firing.eventId ?? 0) ?? null,
      digest: digests.get(firing.digestId ?? 0) ?? null,
    };
    const who = await whoIsMeant(asking, firing, about);
    if (!who || (await store.audiences.whyNot(who, firing.channel, [personId])).size > 0) continue;
    rows.push({
      firingId: firing.id,
      dueAt: new Date(firing.dueMs).toISOString(),
      channel: firing.channel,
      name: about.cue?.name ?? about.digest?.name ?? (firing.title || kindWords[firing.kind]),
      eventId: firing.eventId,
      eventTitle: about.event?.version.facts.title ?? '',
    });
  }
  const weekAhead = new Date(nowMs + 7 * dayMs).toISOString();
  const { zone, pressure } = await store.house.settings();
  const parts = rows.map(({ dueAt }) => ({ atMs: Date.parse(dueAt), value: 1 }));
  const facts = await store.personFacts.of(personId, nowMs);
  const allowed = [pressure.perWeek, facts?.mostPerWeek ?? null].flatMap((one) => one ?? []);
  return {
    rows,
    days: sumByDay(daysFrom(nowMs, zone, aheadMs / dayMs), zone, parts),
    counted: (facts?.counted ?? []).filter(({ atMs }) => atMs !== null && atMs >= nowMs - pressureWindowMs).length,
    most: allowed.length ? Math.min(...allowed) : null,
    lastWeek: await store.personCourse.sentSince(personId, new Date(nowMs - 7 * dayMs)),
    nextWeek: rows.filter(({ dueAt }) => dueAt < weekAhead).length,
    hasMore: ahead.length > mostFirings,
  };
}

/** What all firings that are asked about share is read once. */
async function askingOnce(store: Store, firings: readonly StoredFiring[]): Promise<Store> {
  const settings = await store.house.settings();
  const slots = firings.flatMap(({ cueId, slot }) => (cueId === null ? [] : { cueId, slot }));
  const zonesOf = await store.firings.zonesOfMany(slots);
  let zones: Promise<string[]> | null = null;
  return {
    ...store,
    house: { ...store.house, settings: () => Promise.resolve(settings) },
    subscribers: { ...store.subscribers, zones: () => (zones ??= store.subscribers.zones()) },
    firings: { ...store.firings, zonesOf: (cueId, slot) => Promise.resolve(zonesOf(cueId, slot)) },
  };
}

interface AboutFiring {
  readonly cue: StoredCue | null;
  readonly event: StoredEvent | null;
  readonly digest: StoredDigest | null;
}

/** Null for a firing that nobody gets, or whose cue or digest is gone. */
async function whoIsMeant(
  store: Store,
  firing: StoredFiring,
  { cue, event, digest }: AboutFiring,
): Promise<Who | null> {
  if (firing.digestId === null) return cue && whoGets(store, event, cue, firing);
  const content = digest && (await issueContent(store, digest, firing.dueMs));
  return digest && content && content.events.length > 0
    ? whoGetsIssue(store, digestAudience(digest, content), firing)
    : null;
}

export async function listNotes({ store }: Context, personId: number): Promise<PersonNote[]> {
  return (await store.personCourse.notes(personId)).map(({ at, ...note }) => ({ ...note, at: at.toISOString() }));
}

/** @throws Failure 404 */
export async function addNote(context: Context, personId: number, text: string, actor: Actor): Promise<void> {
  if (!(await context.store.subscribers.find(personId))) throw notFound('subscriber');
  await context.store.personCourse.addNote(personId, text, actor.name, nowOf(context));
}

/** @throws Failure 404 */
export async function removeNote({ store }: Context, personId: number, noteId: number): Promise<void> {
  if (!(await store.personCourse.removeNote(personId, noteId))) throw notFound('note');
}

/** Gives somebody's own feed and preferences another address; the old ones are dead. */
export async function resetOwnAddress(context: Context, personId: number, actor: Actor): Promise<void> {
  if (!(await context.store.subscribers.find(personId))) throw notFound('subscriber');
  await context.store.subscribers.resetFeed(personId);
  await context.store.house.audit(nowOf(context), actor, 'person: another private address', `person ${personId}`);
}
