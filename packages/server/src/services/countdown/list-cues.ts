import {
  sayHeld,
  type CueFields,
  type CueFiring,
  type CueRow,
  type HazardRow,
  type Settings,
  type Tally,
} from '@convite/contract';
import {
  bothPaces,
  countsDown,
  dueAt,
  eventFields,
  findHazards,
  findOccurrence,
  finishMs,
  instantsOf,
  isOfPeople,
  isOfPublication,
  nextOccurrence,
  occurrenceOfSlot,
  ownDayOfSlot,
  planAheadMs,
  prepareDocument,
  registrationEndsMs,
  saysHowToStop,
  usualQuiet,
  versionsOf,
  visibleState,
  type EpochMs,
  type Hazard,
  type MomentAround,
  type WatchedFiring,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import { testMark } from '../../store/tested';
import { faultOf } from '../senders/as-sender';
import type { PaceOfSender } from '../../store/senders';
import type { Context } from '../context';
import { standbyMsOf } from './standby';
import { actChoices, noChoices, sayAct } from './acts';
import { aroundOf } from './plan-firings';
import { getEvent } from '../events/get-event';
import { startOfFiring } from './start-of-firing';
import { foldZones, getsOf, stepOf, withoutEmpty, otherZonesOf, type FoldedFiring } from './fold-zones';

/** The countdown of an event: each cue with the firing that matters next, its audience now, and what is wrong with it. */
export async function listCues(context: Context, eventId: number): Promise<CueRow[]> {
  const event = await getEvent(context, eventId);
  const nowMs = context.clock.now();
  const settings = await context.store.house.settings();
  const { pace, quiet } = settings;
  const cues = await context.store.cues.ofEvent(eventId);
  const shownFirings = withoutEmpty(
    await context.store.firings.ofCues(
      cues.map(({ id }) => id),
      nowMs - planAheadMs,
    ),
  );
  const own = await context.store.senders.pacesOf(shownFirings.map(({ id }) => id));
  const paceFor = ({ id }: StoredFiring): Settings['pace'] => withSenders(pace, own.get(id));
  const shown = new Map(
    cues.map((cue) => [cue.id, pickFirings(foldZones(shownFirings.filter(({ cueId }) => cueId === cue.id)), nowMs)]),
  );
  const standby = standbyMsOf(settings);
  const mains = cues.flatMap(({ id }) => shown.get(id)?.main?.firing ?? []);
  const close = new Map(
    (await context.store.firings.closeTo(eventId, mains.filter(isToCome), standby)).map((one) => [one.toId, one]),
  );
  const marks = new Map(cues.map(({ id, channel, wording }) => [id, testMark(channel, wording)]));
  const tested = await context.store.tested.among(eventId, [...marks.values()]);
  const sender = event.senderId === null ? null : await context.store.senders.find(event.senderId);
  const hazards = findHazards(
    cues.flatMap((cue) =>
      shownOf(shown, cue.id).map(({ firing }): WatchedFiring => {
        const startMs = startOfFiring(event, firing) ?? instantsOf(event.version.facts).startMs;
        const other = close.get(firing.id);
        return {
          id: firing.id,
          state: firing.state,
          dueMs: firing.dueMs,
          startMs,
          countsDown: countsDown(cue.moment),
          finishMs: finishOf(firing, firing.gets ?? 0, paceFor(firing), nowMs),
          gets: firing.gets,
          doubts: firing.doubts,
          isTested: cue.act !== undefined || tested.has(marks.get(cue.id) ?? ''),
          closesMs: asksToRegister(cue) ? registrationEndsMs({ facts: event.version.facts, startMs }) : null,
          others: other ? [other] : [],
          pair: cue.textOf ?? cue.id,
          emptyFields: cue.act ? [] : emptyFieldsOf(cue, event, firing),
          writes: !cue.act,
          lacksOptOut: cue.channel === 'text' && !cue.act && !saysHowToStop(cue.wording),
          ...(firing.zone && { zone: firing.zone }),
        };
      }),
    ),
    {
      zone: event.version.facts.zone,
      quiet: quiet ?? usualQuiet,
      standbyMs: standby,
      hasPostalAddress: settings.postalAddress !== '',
      isSenderProven: !sender || faultOf(sender) === null,
    },
    nowMs,
  );
  const namesById = new Map([
    ...mains.map(({ id, cueId }) => [id, cues.find((cue) => cue.id === cueId)?.name ?? ''] as const),
    ...[...close.values()].map(({ id, cueName }) => [id, cueName] as const),
  ]);
  const names = cues.some(({ act }) => act) ? await actChoices(context) : noChoices;
  const describe = (line: FoldedFiring): CueFiring => {
    const { firing } = line;
    const startMs = firing.slot ? startOfFiring(event, firing) : null;
    return {
      id: firing.id,
      state: visibleState(firing.state, firing.dueMs, nowMs, standby),
      dueAt: new Date(firing.dueMs).toISOString(),
      note: noteOf(firing),
      tally: foldedTally(line, paceFor(firing), nowMs),
      occurrence: startMs === null ? null : { key: firing.slot, startAt: new Date(startMs).toISOString() },
      zone: firing.zone,
      ownDay: ownDayOfSlot(firing.slot),
      step: stepOf(firing),
      otherZones: otherZonesOf(line),
    };
  };
  return cues
    .flatMap(({ eventId: _, isRetired, ...cue }): CueRow[] => {
      const { main, ahead } = shown.get(cue.id) ?? { main: undefined, ahead: [] };
      if (isRetired && !main) return [];
      const firing = main ? describe(main) : notPlannedYet(event, cue, nowMs, aroundOf(settings, event));
      const found = main ? (hazards.get(main.firing.id) ?? []) : [];
      return [
        {
          ...cue,
          does: cue.act ? sayAct(cue.act, names) : '',
          firing,
          ahead: ahead.map(describe),
          hazards: found.map((one) => hazardRow(one, namesById)),
        },
      ];
    })
    .sort((a, b) => a.firing.dueAt.localeCompare(b.firing.dueAt));
}

const isToCome = ({ state }: StoredFiring): boolean => state === 'draft' || state === 'set';

/** Who came to register is left out of it: it reminds the others. */
const asksToRegister = ({ audience }: CueFields): boolean => audience.exceptReplies.includes('accepted');

/** Fields of the event that say nothing in it, such as a link to join where there is none. */
function emptyFieldsOf({ wording }: CueFields, { version }: StoredEvent, { slot }: StoredFiring): string[] {
  const { facts } = version;
  const key = occurrenceOfSlot(slot);
  const date = key && !facts.isPersonal ? findOccurrence(facts, key) : null;
  const values = eventFields(date?.facts ?? facts, '', undefined, 0);
  const empty = versionsOf(wording).flatMap(({ said }) => prepareDocument(said).emptyWith(values));
  // Links are made as a message goes.
  return [...new Set(empty)].filter((field) => field.startsWith('event.'));
}

const hazardRow = (
  { code, toMs, otherId, change, fields = [], people }: Hazard,
  names: ReadonlyMap<number, string>,
): HazardRow => ({
  code,
  toAt: toMs === null ? null : new Date(toMs).toISOString(),
  other: otherId === null ? fields.join(', ') : (names.get(otherId) ?? ''),
  people: people ?? null,
  change: change && { at: new Date(change.atMs).toISOString(), minutes: change.toMinutes - change.fromMinutes },
});

interface PickedFirings {
  readonly main: FoldedFiring | undefined;
  readonly ahead: readonly FoldedFiring[];
}

const shownOf = (shown: ReadonlyMap<number, PickedFirings>, cueId: number): FoldedFiring[] => {
  const { main, ahead } = shown.get(cueId) ?? { main: undefined, ahead: [] };
  return main ? [main, ...ahead] : [...ahead];
};

/** Of a cue's firings, in order, the one under way or next, else the last; and the others that are still to come. */
function pickFirings(lines: readonly FoldedFiring[], nowMs: number): PickedFirings {
  const main =
    lines.find(({ firing: { state, dueMs } }) => state === 'sending' || dueMs > nowMs || state === 'set') ??
    lines.at(-1);
  const ahead = lines.filter((line) => line !== main && line.firing.dueMs > (main?.firing.dueMs ?? 0));
  return { main, ahead };
}

/** What there is to say of a firing beside its state. */
export const noteOf = ({ held, heldBy, note }: StoredFiring): string => (held ? sayHeld(held, heldBy) : note);

/** A cue whose next date is further off than firings are planned. */
function notPlannedYet(event: StoredEvent, cue: CueFields, nowMs: number, around: MomentAround): CueFiring {
  const place = { id: 0, tally: noTally, zone: '', ownDay: null, step: null, otherZones: null };
  const { moment } = cue;
  if (isOfPeople(moment)) {
    const note =
      moment.kind === 'step' ? 'It is planned as people do it.' : 'Nobody’s date is less than five weeks off.';
    return {
      ...place,
      state: cue.isDraft ? 'draft' : 'set',
      dueAt: new Date(nowMs).toISOString(),
      note,
      occurrence: null,
    };
  }
  if (isOfPublication(moment) && around.publishedMs === null)
    return {
      ...place,
      state: 'draft',
      dueAt: new Date(nowMs).toISOString(),
      note: 'It counts from when the event is published.',
      occurrence: null,
    };
  const next = nextOccurrence(event.version.facts, nowMs);
  const dueMs = dueAt(moment, next?.facts ?? event.version.facts, event.version.facts.zone, around);
  return {
    ...place,
    state: cue.isDraft ? 'draft' : next ? 'set' : 'done',
    dueAt: new Date(dueMs).toISOString(),
    note: next ? 'Its date is more than five weeks off; it is planned when it comes nearer.' : 'The series is over.',
    occurrence: next?.key ? { key: next.key, startAt: new Date(next.startMs).toISOString() } : null,
  };
}

const noTally: Tally = { gets: 0, countedAt: null, sent: 0, failed: 0, waiting: 0, finishAt: null };

/** The house's pace, and that of the sender beside it. */
export const withSenders = (pace: Settings['pace'], own: PaceOfSender | undefined): Settings['pace'] =>
  own ? { email: bothPaces(pace.email, own.pace), text: bothPaces(pace.text, own.pace) } : pace;

/** The same of all zones together that are still to fire. */
export function foldedTally(line: FoldedFiring, pace: Settings['pace'], nowMs: EpochMs): Tally {
  const tally = tallyOf(line.firing, pace, nowMs);
  return line.others.length ? { ...tally, gets: getsOf(line) } : tally;
}

/** How far a firing is, all of it kept with it: its audience as counted last, and once it is expanded what became of it. */
export function tallyOf(firing: StoredFiring, pace: Settings['pace'], nowMs: EpochMs): Tally {
  const { isExpanded, state, gets, countedMs, planned, sent, failed, skipped } = firing;
  const waiting = isExpanded && state === 'sending' ? Math.max(0, planned - sent - failed - skipped) : 0;
  const lastMs = finishOf(firing, isExpanded ? waiting : (gets ?? 0), pace, nowMs);
  return {
    gets: isExpanded ? planned : (gets ?? 0),
    countedAt: isExpanded || countedMs === null ? null : new Date(countedMs).toISOString(),
    sent: isExpanded ? sent : 0,
    failed: isExpanded ? failed : 0,
    waiting,
    finishAt: lastMs === null ? null : new Date(lastMs).toISOString(),
  };
}

const stillToGo: readonly StoredFiring['state'][] = ['draft', 'set', 'sending'];

function finishOf(
  { state, dueMs, channel }: StoredFiring,
  left: number,
  pace: Settings['pace'],
  nowMs: EpochMs,
): EpochMs | null {
  if (channel === 'act') return null;
  return left > 0 && stillToGo.includes(state) ? finishMs(left, Math.max(dueMs, nowMs), pace[channel]) : null;
}
