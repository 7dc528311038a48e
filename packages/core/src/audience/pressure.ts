import { any, type MessageKind, type Tree } from './tree';

const dayMs = 86_400_000;
/** Any seven days on end; not a week of the calendar, in which two weeks' worth could come on two days. */
export const pressureWindowMs = 7 * dayMs;

/** What the house allows. */
export interface HousePressure {
  /** So many messages that count, to one person in seven days; null for no limit but the person's own. */
  readonly perWeek: number | null;
  /** Reminders of an event do not count for those who come to it: they asked to be there. */
  readonly sparesComers: boolean;
}
export const noPressure: HousePressure = { perWeek: null, sparesComers: true };

/** What holds a message back from whoever had enough of them. */
export interface Limit {
  readonly perWeek: number | null;
  /** Messages since then count, an instant. */
  readonly sinceMs: number;
  /** The firing that it is asked for, whose own messages do not count; null before there is one. */
  readonly firing: number | null;
  /** Of whom this is so, it does not count; null for nobody. */
  readonly spares: Tree | null;
}

/** A message that counts, to one person. */
export interface Counted {
  readonly firing: number;
  /** Null while it is on its way. */
  readonly atMs: number | null;
}

/**
 * The limit that a message is under. Answers, confirmations, changes and call-offs are under none: whoever holds the old version
 * would stand before a closed door.
 * @param message what it is, about which event, of which firing, and the instant at which it goes
 */
export function limitOf(
  { perWeek, sparesComers }: HousePressure,
  {
    kind,
    event,
    firing,
    atMs,
  }: {
    readonly kind: MessageKind;
    readonly event: number | null;
    readonly firing: number | null;
    readonly atMs: number;
  },
): Limit | null {
  if (kind === 'answer' || kind === 'notice') return null;
  const spares = sparesComers && kind === 'cue' && event !== null ? comesTo(event) : null;
  return { perWeek, sinceMs: atMs - pressureWindowMs, firing, spares };
}

/** Said yes to the event or one of its dates, or has a place there. */
export const comesTo = (event: number): Tree =>
  any(
    { kind: 'answered-any', event, replies: ['accepted'], sinceMs: null },
    { kind: 'registered', about: { event, date: '' } },
  );

/** Has somebody had as many as the house and they themselves allow? The stricter of both counts. */
export function hadEnough(
  { mostPerWeek, counted }: { readonly mostPerWeek: number | null; readonly counted: readonly Counted[] },
  { perWeek, sinceMs, firing }: Limit,
): boolean {
  const most = Math.min(perWeek ?? Infinity, mostPerWeek ?? Infinity);
  if (most === Infinity) return false;
  // Of two that are on their way at once, the later one gives way.
  const so = counted.filter(
    (one) => one.firing !== firing && (one.atMs === null ? one.firing < (firing ?? 0) : one.atMs >= sinceMs),
  );
  return so.length >= most;
}

/**
 * How many of the messages that one person got would have been held back, had there been this limit.
 * @param sentMs instants of those that count, in order
 */
export function heldBackUnder(perWeek: number, sentMs: readonly number[]): number {
  const kept: number[] = [];
  for (const atMs of sentMs)
    if (kept.filter((before) => before >= atMs - pressureWindowMs).length < perWeek) kept.push(atMs);
  return sentMs.length - kept.length;
}
