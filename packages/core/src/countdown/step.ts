import { steps, type Step } from '../audience/tree';
import { isDay, resolveWallTime, wallTimeAt, addDays, type Day } from '../time/wall-time';
import { shiftDay, type Unit } from '../time/shift';
import { workdayFrom } from '../time/workdays';
import type { EpochMs } from '../time/zone';
import { plainAround, type ByClock, type MomentAround } from './moment';

/**
 * Counted from a step that each person takes: exact minutes or hours after it, or days, weeks or months after its day at a clock time.
 * What lies at or after the start of what it is about is not sent.
 */
export interface StepMoment {
  readonly kind: 'step';
  readonly step: Step;
  readonly amount: number;
  readonly unit: Unit;
  /** A clock time; null with minutes and hours. */
  readonly at: string | null;
  readonly clock?: ByClock;
  /** On a working day of the house alone: else on the first after it. The one before may lie before the step itself. */
  readonly onWorkdays?: boolean;
}

/** Whoever takes their step in the same minute, or on the same day, is written to at once. */
export interface StepSlot {
  readonly step: Step;
  /** Of the step; null for a minute. */
  readonly day: Day | null;
  /** Where it begins; null for a day, which begins when it does in a zone. */
  readonly minuteMs: EpochMs | null;
  /** The date of a series that the step is about; empty for the whole event. */
  readonly date: string;
}

const letters: Readonly<Record<Step, string>> = { invitation: 'i', registration: 'r', approval: 'a' };
const minuteMs = 60_000;

/** So many hours or minutes are counted exactly; what comes later is said in days. */
export const longestExactMs = 72 * 3_600_000;

/** Exact, and so for the people of a minute; else for those of a day. */
export const isExactStep = ({ at, unit }: Pick<StepMoment, 'at' | 'unit'>): boolean =>
  at === null && (unit === 'minutes' || unit === 'hours');

/** The slot of a step that was taken at an instant, on the clocks of that zone. @example `r2027-06-18@20270625T193000` */
export function slotOfStep(moment: StepMoment, atMs: EpochMs, zone: string, date: string): string {
  const when = isExactStep(moment)
    ? `${new Date(Math.floor(atMs / minuteMs) * minuteMs).toISOString().slice(0, 16)}Z`
    : wallTimeAt(atMs, zone).slice(0, 10);
  return `${letters[moment.step]}${when}@${date}`;
}

/** Null for a slot that is none of a step. */
export function readStepSlot(slot: string): StepSlot | null {
  const found = /^([ira])(\d{4}-\d\d-\d\d)(T\d\d:\d\dZ)?@(.*)$/.exec(slot);
  const step = steps.find((one) => letters[one] === found?.[1]);
  const [, , day = '', clock, date = ''] = found ?? [];
  if (!step || !isDay(day)) return null;
  return clock
    ? { step, day: null, minuteMs: Date.parse(`${day}${clock}`), date }
    : { step, day, minuteMs: null, date };
}

/** For those who took their step in one minute. */
export const isMinuteSlot = (slot: string): boolean => readStepSlot(slot)?.day === null;

/** From when until when whoever a slot is for took their step, on the clocks of that zone. */
export function spanOfStep({ day, minuteMs: fromMs }: StepSlot, zone: string): { fromMs: EpochMs; toMs: EpochMs } {
  if (day === null) return { fromMs: fromMs ?? 0, toMs: (fromMs ?? 0) + minuteMs };
  return {
    fromMs: resolveWallTime(`${day}T00:00`, zone),
    toMs: resolveWallTime(`${addDays(day, 1)}T00:00`, zone),
  };
}

/**
 * When a moment comes for the people of a slot; null for a slot of another moment, such as the one before the cue was changed. Of a
 * minute it is the instant at which that begins, so much later: nobody waits longer than was said.
 */
export function dueOfStep(
  moment: StepMoment,
  slot: string,
  zone: string,
  { workdays }: Pick<MomentAround, 'workdays'> = plainAround,
): EpochMs | null {
  const known = readStepSlot(slot);
  if (known?.step !== moment.step || (known.day === null) !== isExactStep(moment)) return null;
  const { amount, unit } = moment;
  if (known.day === null) return (known.minuteMs ?? 0) + amount * (unit === 'hours' ? 60 : 1) * minuteMs;
  if (unit === 'minutes' || unit === 'hours') return null;
  const due = shiftDay(known.day, amount, unit);
  return resolveWallTime(`${moment.onWorkdays ? workdayFrom(due, workdays) : due}T${moment.at ?? '10:00'}`, zone);
}

/** A step that was taken longer ago than this has had its moment, in milliseconds. */
export function reachOfStep({ amount, unit, onWorkdays }: StepMoment): number {
  const dayMs = 86_400_000;
  const unitMs = { minutes: minuteMs, hours: 60 * minuteMs, days: dayMs, weeks: 7 * dayMs, months: 31 * dayMs }[unit];
  return amount * unitMs + 3 * dayMs + (onWorkdays ? 60 * dayMs : 0);
}

/** Of the steps that somebody took, the one whose moment is next, else the last that was; null where they took none. */
export function nextOfSteps(
  moment: StepMoment,
  taken: readonly { readonly step: Step; readonly atMs: EpochMs; readonly date: string }[],
  clock: string,
  nowMs: EpochMs,
  around: Pick<MomentAround, 'workdays'> = plainAround,
): { readonly dueMs: EpochMs; readonly date: string } | null {
  const due = taken
    .filter(({ step }) => step === moment.step)
    .flatMap(({ atMs, date }) => {
      const dueMs = dueOfStep(moment, slotOfStep(moment, atMs, clock, date), clock, around);
      return dueMs === null ? [] : [{ dueMs, date }];
    })
    .sort((a, b) => a.dueMs - b.dueMs);
  return due.find(({ dueMs }) => dueMs >= nowMs) ?? due.at(-1) ?? null;
}
