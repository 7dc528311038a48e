import {
  goesByZones,
  laneOf,
  nextCountMs,
  occurrenceOfSlot,
  prepareDocument,
  versionsOf,
  type Lane,
  type Who,
  type WordingDocument,
} from '@convite/core';
import type { ZoneCount } from '../../store/audiences';
import { noDoubts, type CountDue, type Counted } from '../../store/firing-counts';
import type { Store } from '../../store/store';
import { audienceCounter, type AudienceCounter } from './audience-counter';
import type { Context } from '../context';
import { digestAudience, issueContent } from '../sending/expand-firing';
import { whoGetsIssue } from '../sending/as-allowed';
import { startToBeBefore } from '../countdown/start-of-firing';
import { whoGets } from '../countdown/who-gets';

/**
 * So many firings at a time: those of one series mostly ask for the same people, who are counted once for all, and a reply that
 * comes meanwhile waits for no more than these.
 */
const batch = 16;

/**
 * Keeps the counts that screens show: one pass over what is to be counted now.
 * @param isStopped asked between two counts
 * @returns whether anything was counted
 */
export async function countAudiences(
  context: Pick<Context, 'store' | 'clock'>,
  isStopped: () => boolean,
): Promise<boolean> {
  const { store, clock } = context;
  const due = await store.firings.takeUncounted(clock.now(), batch);
  const counter = audienceCounter(store, clock.now());
  const changed = new Set<string>();
  for (const firing of due) {
    if (isStopped()) break;
    const counted = await countOne(store, firing, counter).catch((error: unknown) => {
      // One whose cue or digest cannot be read is told by whoever reads it; the others are counted.
      if (error instanceof Error && 'errno' in error) throw error;
      return nothing;
    });
    await store.firings.keepCount(firing.id, counted, clock.now(), nextCountMs(firing.dueMs, clock.now()));
    if (counted.gets !== firing.gets) changed.add(firing.eventId === null ? 'digests' : `counts:${firing.eventId}`);
  }
  if (changed.size) await store.live.touch('board', ...changed);
  return due.length > 0;
}

const nothing: Counted = { gets: null, eventCount: 0, ...noDoubts };

async function countOne(store: Store, firing: CountDue, counter: AudienceCounter): Promise<Counted> {
  if (firing.digestId !== null) {
    const digest = await store.digests.find(firing.digestId);
    if (!digest) return nothing;
    const content = await issueContent(store, digest, firing.dueMs);
    const eventCount = content.events.length;
    const gets = eventCount
      ? await counter.gets(await whoGetsIssue(store, digestAudience(digest, content), firing), 'email')
      : 0;
    return { gets, eventCount, ...noDoubts };
  }
  const cue = firing.cueId === null ? null : await store.cues.find(firing.cueId);
  if (!cue) return nothing;
  const event = firing.eventId === null ? null : await store.events.find(firing.eventId);
  // Dates that nobody answered for alone count as the whole series does.
  const isOfDate = occurrenceOfSlot(firing.slot) !== '' && !event?.version.facts.isPersonal;
  const isLikeWhole = isOfDate && !(await isAnswered(store, firing));
  const asked = { ...firing, channel: laneOf(cue), zone: '', ...(isLikeWhole && { slot: '' }) };
  const ofAllZones = await whoGets(store, event, cue, asked, {
    startsMs: event && startToBeBefore(event, cue.moment, firing),
  });
  const groups = (await store.firings.zonesOf(cue.id, firing.slot)).map(({ zone }) => zone);
  const saysNames = !cue.act && namesPeople(cue.wording);
  const limited = groups.length === 0 ? await overLimit(counter, ofAllZones, laneOf(cue)) : null;
  if (!event || (groups.length === 0 && !ofAllZones.quiet && !saysNames))
    return {
      ...{ gets: await counter.gets(ofAllZones, laneOf(cue)), eventCount: 0 },
      ...{
        inQuiet: null,
        overLimit: limited,
        nameless: null,
        noJoinLink: await outsiders(counter, ofAllZones, laneOf(cue)),
      },
    };
  const isOwn = inGroup(firing.zone, goesByZones(cue.moment), event.version.facts.zone, groups);
  const own = [...(await counter.byZone(ofAllZones, laneOf(cue)))].filter(([zone]) => isOwn(zone));
  const sum = (of: typeof own, what: keyof ZoneCount): number => of.reduce((all, [, count]) => all + count[what], 0);
  return {
    gets: sum(own, 'gets'),
    eventCount: 0,
    inQuiet: await quietOnes(counter, ofAllZones, laneOf(cue), isOwn),
    overLimit: limited,
    nameless: saysNames ? sum(own, 'nameless') : null,
    noJoinLink: await outsiders(counter, ofAllZones, laneOf(cue), isOwn),
  };
}

/**
 * Of people by zone, those of a firing's group: with the event's own go all whose zone has no other, where each zone has its own;
 * and with the one for everybody those whose zone does not go early.
 */
function inGroup(
  zone: string,
  isEachByZone: boolean,
  homeZone: string,
  zones: readonly string[],
): (zoneOfPerson: string) => boolean {
  const groups = new Set(zones);
  const groupOf = (name: string): string => {
    if (groups.has(name)) return name;
    return isEachByZone || (name === '' && groups.has(homeZone)) ? homeZone : '';
  };
  return groups.size === 0 ? () => true : (name) => groupOf(name) === zone;
}

/** How many of them it finds in quiet hours, whatever becomes of them; null where the house keeps none for it. */
async function quietOnes(
  counter: AudienceCounter,
  who: Who,
  channel: Lane,
  isOwn: (zone: string) => boolean,
): Promise<number | null> {
  if (!who.quiet) return null;
  const quiet = new Set([...who.quiet.waits.map(({ zone }) => zone), ...who.quiet.leftOut]);
  const all = await counter.byZone({ ...who, quiet: null }, channel);
  return [...all].reduce((sum, [zone, { gets }]) => (quiet.has(zone) && isOwn(zone) ? sum + gets : sum), 0);
}

/** How many the message would lack the join link for; null where it does not depend on it. @param isOwn of which zones */
async function outsiders(
  counter: AudienceCounter,
  who: Who,
  channel: Lane,
  isOwn: ((zone: string) => boolean) | null = null,
): Promise<number | null> {
  const { joins, ...withThem } = who;
  if (joins === undefined) return null;
  if (!isOwn) return (await counter.gets(withThem, channel)) - (await counter.gets(who, channel));
  const of = async (asked: Who): Promise<number> =>
    [...(await counter.byZone(asked, channel))].reduce((all, [zone, { gets }]) => (isOwn(zone) ? all + gets : all), 0);
  return (await of(withThem)) - (await of(who));
}

/** How many do without for having had enough; null where there is no limit. */
async function overLimit(counter: AudienceCounter, who: Who, channel: Lane): Promise<number | null> {
  if (!who.limit) return null;
  const [all, under] = await Promise.all([counter.gets({ ...who, limit: null }, channel), counter.gets(who, channel)]);
  return all - under;
}

/** Does it say a name for which nothing stands in? */
const namesPeople = (wording: WordingDocument): boolean =>
  versionsOf(wording).some(({ said }) =>
    prepareDocument(said)
      .emptyWith({})
      .some((field) => field.startsWith('person.')),
  );

const isAnswered = async (store: Store, { eventId, slot }: CountDue): Promise<boolean> =>
  eventId !== null && (await store.dates.isAnswered(eventId, slot));
