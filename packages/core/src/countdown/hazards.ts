import { standbyMs, type StoredFiringState } from './firing';
import { transitionsBetween, type EpochMs, type Transition } from '../time/zone';
import { quietBeginsMs, quietEndsMs, type QuietSpan } from '../time/quiet-hours';

/** What is wrong with the moment of a cue. */
export const momentHazards = [
  'past',
  'too-near',
  'after-start',
  'not-done-by-start',
  'close-to-another',
  'quiet-hours',
  'registration-closed',
] as const;
/** What is worth a second look before a cue goes: about its moment, then about the rest of it. */
export const hazardCodes = [
  ...momentHazards,
  'clock-change',
  'over-limit',
  'nobody',
  'no-join-link',
  'field-empty',
  'nameless',
  'draft',
  'never-tested',
  'sender-unproven',
  'no-postal-address',
  'no-opt-out',
] as const;
export type HazardCode = (typeof hazardCodes)[number];

export interface Hazard {
  readonly code: HazardCode;
  /** Where the firing would be rid of it; null where moving it does not help. */
  readonly toMs: EpochMs | null;
  /** The other firing that it comes close to. */
  readonly otherId: number | null;
  /** What the clocks do in between. */
  readonly change: Transition | null;
  /** Fields that say nothing. */
  readonly fields?: readonly string[];
  /** How many it is about, where that was counted. */
  readonly people?: number;
}

/** One firing as the hazards see it. */
export interface WatchedFiring {
  readonly id: number;
  readonly state: StoredFiringState;
  readonly dueMs: EpochMs;
  /** Start of the occurrence it belongs to. */
  readonly startMs: EpochMs;
  /** Says that it comes before the start. */
  readonly countsDown: boolean;
  /** When its last message leaves at its sender's pace; null where that has no bound. */
  readonly finishMs: EpochMs | null;
  /** Where its people are; left out, where the event is. */
  readonly zone?: string;
  /** It writes to people; left out for one that does. */
  readonly writes?: boolean;
  /** How many get it, as counted last; null while that is not known. */
  readonly gets: number | null;
  /** Of its people, as counted with them: in quiet hours at its moment, over the limit, of no known name though it says it. */
  readonly doubts?: {
    readonly inQuiet: number | null;
    readonly overLimit: number | null;
    readonly nameless: number | null;
    /** Left out, since the message depends on the join link and they are no guests. */
    readonly noJoinLink: number | null;
  };
  /** What it says was tried out as it stands. */
  readonly isTested: boolean;
  /** A text that does not say how to end such texts; left out for what says it. */
  readonly lacksOptOut?: boolean;
  /** Fields of the event in it that say nothing, and for which nothing stands in. */
  readonly emptyFields?: readonly string[];
  /** When one can no longer do what it asks for; null where it asks for no registration. */
  readonly closesMs: EpochMs | null;
  /** Automatic messages of other events that go to people asked for by the same lists. */
  readonly others?: readonly OtherFiring[];
  /** A cue by email and its text go at the same instant, with the same number here: they are meant to. */
  readonly pair?: number;
}

interface OtherFiring {
  readonly id: number;
  readonly dueMs: EpochMs;
  readonly writes?: boolean;
  readonly pair?: number;
}

/** What holds for all firings of an event. */
export interface HazardRules {
  /** Where the event is. */
  readonly zone: string;
  /** The house's own quiet hours, where it has any. */
  readonly quiet: QuietSpan;
  readonly standbyMs: number;
  readonly hasPostalAddress: boolean;
  readonly isSenderProven: boolean;
}

/** A text or email at night is read as rudeness, whether or not the house keeps quiet hours (common practice). */
export const usualQuiet: QuietSpan = { from: '22:00', until: '08:00' };
export const usualRules: Omit<HazardRules, 'zone'> = {
  quiet: usualQuiet,
  standbyMs,
  hasPostalAddress: true,
  isSenderProven: true,
};

/** The hazards of each firing of one event, by its id. Firings that are over have none. */
export function findHazards(
  firings: readonly WatchedFiring[],
  rules: HazardRules,
  nowMs: EpochMs,
): Map<number, Hazard[]> {
  const alive = firings.filter(isAlive);
  return new Map(firings.map((one) => [one.id, isAlive(one) ? hazardsOf(one, alive, rules, nowMs) : []]));
}

const isAlive = ({ state }: WatchedFiring): boolean => state === 'draft' || state === 'set';

/** What disturbs people, or keeps a mail from leaving. */
const ofMessages: readonly HazardCode[] = [
  'nobody',
  'close-to-another',
  'quiet-hours',
  'never-tested',
  'not-done-by-start',
];

function hazardsOf(firing: WatchedFiring, all: readonly OtherFiring[], rules: HazardRules, nowMs: EpochMs): Hazard[] {
  const { dueMs, startMs, countsDown, finishMs, gets, closesMs } = firing;
  const { quiet } = rules;
  const zone = firing.zone ?? rules.zone;
  const earliestMs = upToFive(nowMs + rules.standbyMs);
  const found: Hazard[] = [];
  /** A place that is too early, or again after the start, mends nothing. */
  const add = (code: HazardCode, toMs: EpochMs | null = null, more: Partial<Hazard> = {}): void => {
    const helps = toMs !== null && toMs >= earliestMs && (!countsDown || toMs < startMs);
    found.push({ code, toMs: helps ? toMs : null, otherId: null, change: null, ...more });
  };
  if (dueMs < nowMs) add('past', earliestMs);
  else if (dueMs < nowMs + rules.standbyMs) add('too-near', earliestMs);
  if (countsDown && dueMs >= startMs) add('after-start', startMs - hourMs);
  if (countsDown && dueMs < startMs && finishMs !== null && finishMs >= startMs)
    add('not-done-by-start', downToFive(dueMs - (finishMs - startMs) - rules.standbyMs));
  const others = [...all, ...(firing.others ?? [])].filter(
    (other) => other.id !== firing.id && other.writes !== false && !goTogether(other, firing),
  );
  const close = others.find((other) => Math.abs(other.dueMs - dueMs) < rules.standbyMs);
  if (close) {
    const limits = { fromMs: earliestMs, toMs: countsDown ? startMs : Infinity };
    add('close-to-another', nearestFree(dueMs, others, rules.standbyMs, limits), { otherId: close.id });
  }
  const endsMs = quietEndsMs(quiet, zone, dueMs);
  const { inQuiet = null, overLimit, nameless, noJoinLink } = firing.doubts ?? {};
  const outOfQuietMs = countsDown && (endsMs ?? 0) >= startMs ? quietBeginsMs(quiet, zone, dueMs) - fiveMs : endsMs;
  // Where it was counted who is in them, that says more than the event's own clock.
  if (inQuiet) add('quiet-hours', endsMs === null ? null : outOfQuietMs, { people: inQuiet });
  else if (endsMs !== null && inQuiet === null) add('quiet-hours', outOfQuietMs);
  const [change] = transitionsBetween(rules.zone, Math.min(dueMs, startMs), Math.max(dueMs, startMs));
  if (change) add('clock-change', null, { change });
  if (closesMs !== null && dueMs > closesMs) add('registration-closed', closesMs - hourMs);
  if (overLimit) add('over-limit', null, { people: overLimit });
  if (gets === 0) add('nobody');
  if (noJoinLink) add('no-join-link', null, { people: noJoinLink });
  if (firing.emptyFields?.length) add('field-empty', null, { fields: firing.emptyFields });
  if (nameless) add('nameless', null, { people: nameless });
  if (firing.state === 'draft') add('draft');
  if (!firing.isTested) add('never-tested');
  if (firing.writes === false) return found.filter(({ code }) => !ofMessages.includes(code));
  if (!rules.isSenderProven) add('sender-unproven');
  if (!rules.hasPostalAddress) add('no-postal-address');
  if (firing.lacksOptOut) add('no-opt-out');
  return found;
}

const goTogether = (a: OtherFiring, b: OtherFiring): boolean =>
  a.pair !== undefined && a.pair === b.pair && a.dueMs === b.dueMs;

/** The moment next to this one that keeps its distance from all others, the later of two as near; null where none lies within the limits. */
function nearestFree(
  dueMs: EpochMs,
  others: readonly OtherFiring[],
  apartMs: number,
  { fromMs, toMs }: { readonly fromMs: EpochMs; readonly toMs: EpochMs },
): EpochMs | null {
  const isFree = (atMs: EpochMs): boolean =>
    atMs >= fromMs && atMs < toMs && others.every((other) => Math.abs(other.dueMs - atMs) >= apartMs);
  const places = others.flatMap((other) => [other.dueMs + apartMs, other.dueMs - apartMs]).filter(isFree);
  const [nearest] = places.sort((a, b) => Math.abs(a - dueMs) - Math.abs(b - dueMs) || b - a);
  return nearest ?? null;
}

const fiveMs = 5 * 60_000;
const hourMs = 3_600_000;
const upToFive = (atMs: EpochMs): EpochMs => Math.ceil(atMs / fiveMs) * fiveMs;
const downToFive = (atMs: EpochMs): EpochMs => Math.floor(atMs / fiveMs) * fiveMs;
