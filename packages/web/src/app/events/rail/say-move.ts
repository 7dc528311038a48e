import type { CueRow, RailAround } from '@convite/contract';
import {
  findOccurrence,
  instantsOf,
  movedMoment,
  sayMinutes,
  sayMoment,
  sayZone,
  wallTimeAt,
  type EventFacts,
  type MomentAround,
} from '@convite/core';
import { sayPeople } from '../../ui/people-count';
import { sayClock, sayInstant, sayShortDay } from '../../ui/say';
import { hoursOf } from './rail-lanes';

/** What moments of an event are read by, as the rail was told. */
export const aroundOf = ({ publishedAt, workdays, holidays }: RailAround): MomentAround => ({
  publishedMs: publishedAt === null ? null : Date.parse(publishedAt),
  workdays: { weekdays: workdays, holidays },
});

/**
 * The facts of the date that a cue's firing is for, and how far its instants lie from the event's own where each person has a time
 * of theirs.
 */
export function ownDateOf(
  { firing: { occurrence } }: Pick<CueRow, 'firing'>,
  facts: EventFacts,
): { readonly facts: EventFacts; readonly shiftMs: number } {
  if (!occurrence) return { facts, shiftMs: 0 };
  const date = findOccurrence(facts, occurrence.key);
  if (date) return { facts: date.facts, shiftMs: 0 };
  return { facts, shiftMs: instantsOf(facts).startMs - Date.parse(occurrence.startAt) };
}

/** Why a cue cannot be moved; empty where it can. */
export function whyFixed({ moment, firing }: CueRow): string {
  if (moment.kind === 'own-date') return 'It goes by a date of each person: change that in its editor.';
  if (moment.kind === 'step') return 'It goes by what each person does: change that in its editor.';
  if (firing.state === 'stopped') return 'It is held: set it again first.';
  return ['draft', 'set', 'standby', 'missed'].includes(firing.state) ? '' : 'It has gone out.';
}

/**
 * What moving a cue to an instant would mean, in one line.
 * @example '3 days before the start, at 10:00 · Tue 24 Nov 10:00 Lisbon · 05:00 New York · 212 people · 40 minutes after “One week to go”'
 */
export function sayMove(
  cue: CueRow,
  toMs: number,
  {
    cues,
    facts,
    startMs,
    around,
  }: {
    readonly cues: readonly CueRow[];
    readonly facts: EventFacts;
    readonly startMs: number;
    readonly around: RailAround;
  },
): string {
  const moment = movedMoment(cue.moment, facts, toMs, cue.firing.zone || facts.zone, aroundOf(around));
  if (!moment) return 'It cannot be moved there.';
  const day = wallTimeAt(toMs, facts.zone).slice(0, 10);
  const far = around.farZones.map((zone) => {
    const wall = wallTimeAt(toMs, zone);
    const otherDay = wall.startsWith(day) ? '' : ` ${sayShortDay(wall.slice(0, 10))}`;
    return `${sayClock(wall.slice(11))} ${sayZone(zone)}${otherDay}`;
  });
  const hours = (toMs - startMs) / 3_600_000;
  const [next] = cues
    .filter(({ id }) => id !== cue.id)
    .map((other) => ({ name: other.name, minutes: Math.round((hours - hoursOf(other.firing, startMs)) * 60) }))
    .sort((a, b) => Math.abs(a.minutes) - Math.abs(b.minutes));
  const beside = next
    ? next.minutes === 0
      ? `together with “${next.name}”`
      : `${sayMinutes(Math.abs(next.minutes))} ${next.minutes > 0 ? 'after' : 'before'} “${next.name}”`
    : '';
  const people = `${sayPeople(cue.firing.tally, cue.firing.state)} people`;
  return [sayMoment(moment), sayInstant(toMs, facts.zone), ...far, people, beside].filter(Boolean).join(' · ');
}
