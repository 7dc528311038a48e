import { addDays, occurrencesBetween, type EventFacts } from '@convite/core';
import type { Context } from '../context';
import { readFile, type CalendarFile } from './import-calendar';

const dayMs = 86_400_000;
/** So far ahead free days are taken; a file of them comes anew each year or two. */
const aheadDays = 1100;
const mostDays = 1000;

/**
 * The free days that a calendar file names: each day of its all-day events, repeated ones too, from a month ago on, in order.
 * @throws Failure 422 for a file that cannot be read
 */
export async function readHolidays(context: Context, file: CalendarFile): Promise<string[]> {
  const { zone } = await context.store.house.settings();
  const { events } = await readFile(context, file, zone);
  const fromMs = context.clock.now() - 30 * dayMs;
  const days = new Set<string>();
  for (const { facts, calledOff } of events) {
    if (calledOff || facts.span.kind !== 'all-day') continue;
    for (const date of occurrencesBetween(facts, fromMs, fromMs + aheadDays * dayMs, mostDays))
      if (!date.calledOff) for (const day of daysOf(date.facts)) days.add(day);
  }
  return [...days].sort().slice(0, mostDays);
}

function daysOf({ span }: EventFacts): string[] {
  const days: string[] = [];
  if (span.kind !== 'all-day') return days;
  for (let day = span.firstDay; day <= span.lastDay && days.length < mostDays; day = addDays(day, 1)) days.push(day);
  return days;
}
