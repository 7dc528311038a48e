import type { EpochMs } from '../time/zone';
import { pressureWindowMs } from '../audience/pressure';

/** A cue as it is rehearsed for everybody: when it goes, and to whom. */
export interface RehearsedCue {
  readonly id: number;
  /** Of a series one for each date. */
  readonly dueMs: readonly EpochMs[];
  /** Numbers of people. */
  readonly people: readonly number[];
  /** Whoever registers now gets it too. */
  readonly reachesNew: boolean;
}

/** What one tries without doing it. */
export interface WhatIf {
  /** So far later each cue goes, by its id, in milliseconds; negative for earlier. */
  readonly movedMs: ReadonlyMap<number, number>;
  readonly moreRegister: number;
}

export interface RehearsedAll {
  /** By cue: to how many it goes, each time. */
  readonly people: ReadonlyMap<number, number>;
  /** Everybody who gets anything. */
  readonly reached: number;
  /** All messages there are, over all dates. */
  readonly messages: number;
  /** The most that anybody gets within a week, and how many get that many. */
  readonly most: number;
  readonly ofMost: number;
  /** How many get more than the limit within some week; 0 without one. */
  readonly over: number;
  /** Messages by the instant at which they go, in order. */
  readonly course: readonly { readonly atMs: EpochMs; readonly cueId: number; readonly count: number }[];
}

/**
 * A dry run of a countdown for all its people: how many get what and when, and who gets more than a limit within any seven days. People
 * who get the same cues are counted once for all.
 * @param perWeek null for no limit
 */
export function rehearseAll(
  cues: readonly RehearsedCue[],
  perWeek: number | null,
  whatIf: WhatIf = nothing,
): RehearsedAll {
  const groups = new Map<string, { readonly cues: number[]; count: number }>();
  const ofPerson = new Map<number, number[]>();
  cues.forEach(({ people }, index) => {
    for (const person of people) {
      const known = ofPerson.get(person);
      if (known) known.push(index);
      else ofPerson.set(person, [index]);
    }
  });
  const count = (of: number[], so: number): void => {
    if (of.length === 0 || so === 0) return;
    const key = of.join();
    const known = groups.get(key);
    if (known) known.count += so;
    else groups.set(key, { cues: of, count: so });
  };
  for (const of of ofPerson.values()) count(of, 1);
  count(
    cues.flatMap(({ reachesNew }, index) => (reachesNew ? [index] : [])),
    whatIf.moreRegister,
  );
  const due = cues.map(({ id, dueMs }) => dueMs.map((atMs) => atMs + (whatIf.movedMs.get(id) ?? 0)));
  let [reached, messages, most, ofMost, over] = [0, 0, 0, 0, 0];
  for (const group of groups.values()) {
    const times = group.cues.flatMap((index) => due[index] ?? []).sort((a, b) => a - b);
    const within = mostWithin(times, pressureWindowMs);
    if (times.length) reached += group.count;
    messages += times.length * group.count;
    if (within > most) [most, ofMost] = [within, group.count];
    else if (within === most && within > 0) ofMost += group.count;
    if (perWeek !== null && within > perWeek) over += group.count;
  }
  const people = new Map(
    cues.map(({ id, people: those, reachesNew }) => [id, those.length + (reachesNew ? whatIf.moreRegister : 0)]),
  );
  const course = cues
    .flatMap(({ id }, index) => (due[index] ?? []).map((atMs) => ({ atMs, cueId: id, count: people.get(id) ?? 0 })))
    .sort((a, b) => a.atMs - b.atMs);
  return { people, reached, messages, most, ofMost, over, course };
}

const nothing: WhatIf = { movedMs: new Map(), moreRegister: 0 };

/** The most of some instants that lie within a span of that length. @param times in order */
function mostWithin(times: readonly EpochMs[], spanMs: number): number {
  let [first, most] = [0, 0];
  times.forEach((atMs, index) => {
    while (atMs - (times[first] ?? 0) >= spanMs) first += 1;
    most = Math.max(most, index - first + 1);
  });
  return most;
}
