import type { EpochMs } from '../time/zone';

/** Firings of one priority that have messages waiting, in the order in which it is their turn. */
export interface WaitingClass {
  /** 1 goes first. */
  readonly priority: number;
  readonly firings: readonly number[];
}

/** What of each helping goes to those who would wait behind: so much that none starves, so little that none notices. */
const shareBehind = 1 / 8;
/** No firing is given fewer, as long as there are more: each is asked about as a whole, which costs as much for one message. */
const leastShare = 12;

/**
 * How many messages each waiting firing may send next. The first class takes nearly all, shared alike among its firings, so that
 * a large one does not hold up a small one; the classes behind share the rest. Where a share would be too small to be worth the
 * asking, the first few firings get one, and the others are left for the next turn.
 * @param limit messages in all; never exceeded
 */
export function shareOut(classes: readonly WaitingClass[], limit: number): Map<number, number> {
  const waiting = classes.filter(({ firings }) => firings.length > 0).sort((a, b) => a.priority - b.priority);
  const behind =
    waiting.length > 1 ? Math.min(limit - 1, Math.max(waiting.length - 1, Math.floor(limit * shareBehind))) : 0;
  const shares = new Map<number, number>();
  let left = limit;
  waiting.forEach(({ firings }, index) => {
    const ofClass = index === 0 ? limit - behind : Math.ceil(behind / (waiting.length - 1));
    const served = firings.slice(0, Math.max(1, Math.floor(ofClass / leastShare)));
    for (const [place, id] of served.entries()) {
      const share = Math.min(left, Math.ceil((ofClass - spent(shares, served)) / (served.length - place)));
      if (share <= 0) return;
      shares.set(id, share);
      left -= share;
    }
  });
  return shares;
}

const spent = (shares: ReadonlyMap<number, number>, firings: readonly number[]): number =>
  firings.reduce((sum, id) => sum + (shares.get(id) ?? 0), 0);

/** How many messages a sender lets out in a second, an hour and a day; null where it sets no bound. */
export interface Pace {
  readonly perSecond: number | null;
  readonly perHour: number | null;
  readonly perDay: number | null;
}
export const noPace: Pace = { perSecond: null, perHour: null, perDay: null };
export const paceUnits = ['second', 'hour', 'day'] as const;
export type PaceUnit = (typeof paceUnits)[number];

/** Lengths of the windows that a pace counts in; each begins with the first message in it. */
export const paceWindowMs: Readonly<Record<PaceUnit, number>> = { second: 1000, hour: 3_600_000, day: 86_400_000 };

/** The bound of a unit; null for none. */
export const paceOf = (pace: Pace, unit: PaceUnit): number | null =>
  ({ second: pace.perSecond, hour: pace.perHour, day: pace.perDay })[unit];

/** The tighter of two paces, unit by unit: what goes is drawn from both. */
export function bothPaces(one: Pace, other: Pace): Pace {
  const least = (a: number | null, b: number | null): number | null =>
    a === null ? b : b === null ? a : Math.min(a, b);
  return {
    perSecond: least(one.perSecond, other.perSecond),
    perHour: least(one.perHour, other.perHour),
    perDay: least(one.perDay, other.perDay),
  };
}

/**
 * When the last of so many messages leaves at a sender's pace, were it idle before: whole days first, then whole hours, then
 * seconds. Null when the pace sets no bound.
 */
export function finishMs(messages: number, fromMs: EpochMs, pace: Pace): EpochMs | null {
  if (paceUnits.every((unit) => paceOf(pace, unit) === null)) return null;
  let left = messages;
  let atMs = fromMs;
  for (const unit of ['day', 'hour', 'second'] as const) {
    const bound = paceOf(pace, unit);
    if (bound === null || left <= bound) continue;
    const whole = Math.ceil(left / bound) - 1;
    atMs += whole * paceWindowMs[unit];
    left -= whole * bound;
  }
  return atMs;
}
