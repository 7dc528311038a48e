import {
  countsDown,
  findOccurrence,
  instantsOf,
  occurrenceOfSlot,
  occurrencesBetween,
  wholeEvent,
  whoOf,
  windowOf,
  type Audience,
  type Moment,
} from '@convite/core';
import type { Content, ContentOf } from '../../store/content';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import type { StoreSubjects } from '../../store/store';
import type { StoredCue, StoredDigest } from '../../store/cues';
import { startToBeBefore } from '../countdown/start-of-firing';
import { whoGets } from '../countdown/who-gets';
import { allowedInvitees, asAllowed, whoGetsIssue } from './as-allowed';
import { planDigest } from '../countdown/plan-firings';
import { audienceOfChosen } from './chosen';
import { lacksToSend } from './refuse-unsendable';
import { expandAct } from '../countdown/acts';
import { channelOf } from '../../store/firing-rows';

/**
 * The moment of a firing: reads who gets it now, freezes what it says, and puts a delivery beside each person, all in
 * the caller's transaction.
 * @returns how many people get it; null, and nothing is done, while another sending of its event is being written down
 */
export async function expandFiring(store: StoreSubjects, firing: StoredFiring, nowMs: number): Promise<number | null> {
  const now = new Date(nowMs);
  // Two sendings to the people of one event see each other's: the second finds who was reached by the first. An answer is for
  // whom it names, and waits for none of them.
  const takesTurns = firing.eventId !== null && firing.kind !== 'cue' && firing.kind !== 'answer';
  if (takesTurns && !(await store.events.takeTurn(firing.eventId))) return null;
  const { content, planned, note, openUntilMs = null } = await expandByKind(store, firing, now);
  const waiting = planned === 0 ? 0 : await store.expansions.countWaiting(firing.id, now);
  await store.firings.markExpanded(firing.id, content, planned, planned === 0 ? note : waitingNote(waiting));
  if (openUntilMs !== null) await store.firings.openFor(firing.id, openUntilMs, nowMs);
  await store.live.touch('board', ...(firing.eventId === null ? [] : [`event:${firing.eventId}`]));
  return planned;
}

/** Empty where nobody waits. */
const waitingNote = (count: number): string =>
  count === 0 ? '' : `${count} ${count === 1 ? 'was' : 'were'} in quiet hours: theirs goes as those end.`;

interface Expanded {
  readonly content: Content | null;
  readonly planned: number;
  /** What to say when nobody gets it. */
  readonly note: string;
  /** Who comes until then still gets it; left out where nobody does. */
  readonly openUntilMs?: number | null;
}

async function expandByKind(store: StoreSubjects, firing: StoredFiring, now: Date): Promise<Expanded> {
  if (firing.channel !== 'act') {
    const lack = lacksToSend(await store.house.settings(), firing.channel);
    if (lack !== null) throw new Error(lack);
  }
  const { content, eventId, id } = firing;
  if (firing.digestId !== null) return expandDigest(store, firing, now);
  if (content?.kind === 'manual') {
    const who = whoOf(content.audience, wholeEvent(null));
    const message = { kind: 'manual', channel: channelOf(firing), firing: id, atMs: now.getTime() } as const;
    const planned = await store.expansions.expand(id, await asAllowed(store, who, message), message.channel, now);
    return { content, planned, note: 'Nobody was to get it.' };
  }
  if (content?.kind === 'to-writer') {
    const planned = await store.expansions.expandAnswer(id, [content.personId], channelOf(firing), now);
    return { content, planned, note: 'The person cannot be reached that way.' };
  }
  if (eventId === null) return { content: null, planned: 0, note: 'There was nothing to send.' };
  if (content?.kind === 'invitation') {
    const who = await allowedInvitees(store, eventId, whoOf(content.audience, wholeEvent(eventId)), {
      channel: channelOf(firing),
      firing: id,
      atMs: now.getTime(),
    });
    const planned = await store.expansions.expandInvitation(id, who, channelOf(firing), eventId, now);
    return { content, planned, note: 'Everybody was invited already.' };
  }
  if (content?.kind === 'answer') {
    const planned = await store.expansions.expandAnswer(
      id,
      [content.personId, ...content.alsoIds],
      channelOf(firing),
      now,
    );
    return { content, planned, note: 'The person has no address.' };
  }
  if (content?.kind === 'notice') {
    const { occurrence, version, isByDate } = content;
    const planned = isByDate
      ? await store.expansions.expandGone(id, eventId, occurrence, version, now)
      : await store.expansions.expandNotice(id, channelOf(firing), eventId, version, now);
    return { content, planned, note: 'Everybody holds the newest version already.' };
  }
  const cue = await store.cues.find(firing.cueId ?? 0);
  const event = await store.events.find(eventId);
  if (!cue || !event) return { content: null, planned: 0, note: 'Its cue or event is gone.' };
  const { facts, calledOff } = event.version;
  const key = occurrenceOfSlot(firing.slot);
  const date = key && !facts.isPersonal ? findOccurrence(facts, key) : null;
  if (calledOff || date?.calledOff)
    return { content: null, planned: 0, note: 'What it counts down to was called off.' };
  if (cue.act) return expandAct(store, { firing, event, cue }, cue.act, now);
  const going = { ...firing, dueMs: Math.max(firing.dueMs, now.getTime()) };
  const planned = await store.expansions.expand(id, await whoGets(store, event, cue, going), channelOf(firing), now);
  return {
    content: {
      kind: 'cue',
      document: cue.wording,
      version: event.version.number,
      startMs: isAboutStart(event, cue.moment)
        ? ((date ?? (facts.series ? null : instantsOf(facts)))?.startMs ?? null)
        : null,
      countsDown: countsDown(cue.moment),
      audience: cue.audience,
      moment: cue.moment,
      inThread: cue.inThread ?? false,
    },
    planned,
    note: 'Nobody was to get it.',
    openUntilMs: openUntil(cue, firing, startToBeBefore(event, cue.moment, firing)),
  };
}

/** For so long after its moment, but never past a start that it counts down to. */
const openUntil = ({ lateHours = 0 }: StoredCue, { dueMs }: StoredFiring, startsMs: number | null): number | null =>
  lateHours === 0 ? null : Math.min(dueMs + lateHours * 3_600_000, startsMs ?? Infinity);

/** Counted from the one start that the event or its date has. */
const isAboutStart = ({ version }: StoredEvent, moment: Moment): boolean =>
  !version.facts.isPersonal && moment.kind !== 'own-date';

async function expandDigest(store: StoreSubjects, firing: StoredFiring, now: Date): Promise<Expanded> {
  const digest = await store.digests.find(firing.digestId ?? 0);
  if (!digest) return { content: null, planned: 0, note: 'Its digest is gone.' };
  await planDigest(store, digest, firing.dueMs);
  const content = await issueContent(store, digest, firing.dueMs);
  const audience = digestAudience(digest, content);
  const going = { id: firing.id, dueMs: Math.max(firing.dueMs, now.getTime()) };
  const planned = content.events.length
    ? await store.expansions.expand(firing.id, await whoGetsIssue(store, audience, going), 'email', now)
    : 0;
  return {
    content: { ...content, audience },
    planned,
    note: content.events.length ? 'Nobody was to get it.' : 'There was nothing in the window, so nothing was sent.',
  };
}

/** What an issue of that moment holds, as the calendar of events stands now. */
export async function issueContent(
  store: StoreSubjects,
  digest: Pick<StoredDigest, 'windowDays' | 'zone' | 'wording'>,
  dueMs: number,
): Promise<ContentOf<'digest'>> {
  const window = windowOf(dueMs, digest.windowDays, digest.zone);
  const alive = (await store.events.aliveBetween(window.fromMs, window.toMs)).filter(({ reach }) => reach === 'public');
  const events = alive.flatMap(({ id, publicKey, version }) =>
    occurrencesBetween(version.facts, window.fromMs, window.toMs, 100)
      .filter(({ calledOff }) => !calledOff)
      .map(({ key, facts }) => ({ id, publicKey, facts, occurrence: key })),
  );
  return {
    kind: 'digest',
    audience: null,
    document: digest.wording,
    zone: digest.zone,
    ...window,
    events,
  };
}

/** The people of an issue: whom the digest goes to, less those who asked only for topics that it does not hold. */
export const digestAudience = (
  { whom }: Pick<StoredDigest, 'whom'>,
  { events }: Pick<ContentOf<'digest'>, 'events'>,
): Audience => ({
  ...audienceOfChosen(whom),
  topics: [...new Set(events.flatMap((event) => event.facts.topics))],
});
