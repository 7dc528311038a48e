import { wholeEvent, whoOf, type Audience, type Target } from '../audience/audience';
import { any, none, type Tree, type Who } from '../audience/tree';
import { startOfKey } from '../event/occurrences';
import { addDays, isDay, type Day } from '../time/wall-time';
import { goesByZones, type Moment, type OwnDateMoment } from './moment';
import { readStepSlot, spanOfStep } from './step';

/**
 * What a firing is for, within its cue: empty for the whole event; a key, such as `20270618T193000`, for a date of the series
 * or a time that people have of their own; a day, such as `2027-06-18`, for the people whose own date falls on it; a day or a minute
 * with a step before it and a date after it, such as `r2027-06-18@20270625T193000`, for those who took that step then.
 */
export type Slot = string;

/** The date of the series that a slot is about; empty for the whole event, and for people's own dates. */
export const occurrenceOfSlot = (slot: Slot): string => readStepSlot(slot)?.date ?? (isDay(slot) ? '' : slot);

/** The same slot where the dates of the series have other keys. @param moveKey null for a date that stays, or is no more */
export function movedSlot(slot: Slot, moveKey: (key: string) => string | null): Slot {
  const at = slot.indexOf('@');
  const [before, key] = at < 0 ? ['', slot] : [slot.slice(0, at + 1), slot.slice(at + 1)];
  return key === '' ? slot : `${before}${moveKey(key) ?? key}`;
}

/** It is for people who have their time by something of their own, so that on some there is nobody. */
export const isSlotOfPeople = (slot: Slot): boolean => isDay(slot) || readStepSlot(slot) !== null;

/** The day of people's own dates that a slot is; null for any other. */
export const ownDayOfSlot = (slot: Slot): Day | null => (isDay(slot) ? slot : null);

/** A firing's place among those of its cue. */
export interface FiringPlace {
  readonly eventId: number | null;
  readonly cueId: number | null;
  readonly slot: Slot;
  /** The zone of its people; empty for people of all zones. */
  readonly zone: string;
}

/** What is to be known beside the firing to say for whom it is. */
export interface Around {
  readonly moment: Moment;
  readonly isPersonal: boolean;
  /** Where the event is. */
  readonly homeZone: string;
  /** Of the event. */
  readonly topics?: readonly string[];
  /** All zones that firings of this cue and slot are for. */
  readonly zones: readonly string[];
  /** Of them, those that are still to go. */
  readonly zonesAhead?: readonly string[];
}

/**
 * Who gets a firing: the audience of its cue, of them those whom its slot and its zone are about. Everybody is in one zone group:
 * whoever's zone has none of its own, or is not known, goes with the event's. A cue that is the same instant for all may have
 * zones that go early: its people are then all others. Whoever moved between zones meanwhile and had it with another group does
 * not get it again.
 */
export function whoOfFiring(audience: Audience, firing: FiringPlace, around: Around): Who {
  const who = whoOf(audience, targetOf(firing, around));
  const { cueId, slot, zone } = firing;
  const others = around.zones.filter((one) => one !== '' && one !== zone);
  if (zone === '' && others.length === 0) return who;
  const isHome = zone === around.homeZone;
  const zonesOf = (groups: readonly string[]): readonly string[] =>
    groups.includes(around.homeZone) ? [...groups, ''] : groups;
  const inZone: Tree =
    zone === ''
      ? none({ kind: 'zone', zones: zonesOf(around.zonesAhead ?? []) })
      : isHome && goesByZones(around.moment)
        ? none({ kind: 'zone', zones: others })
        : { kind: 'zone', zones: goesByZones(around.moment) ? [zone] : zonesOf([zone]) };
  return {
    ...who,
    in: { kind: 'all', of: [who.in, inZone] },
    out: cueId === null ? who.out : [...who.out, { kind: 'had-it', cue: cueId, slot, zone }],
  };
}

function targetOf({ eventId, slot, zone }: FiringPlace, { moment, isPersonal, homeZone, topics = [] }: Around): Target {
  const day = ownDayOfSlot(slot);
  const whole = wholeEvent(eventId, topics);
  if (moment.kind === 'step') {
    const known = readStepSlot(slot);
    if (!known) return { ...whole, also: [any()] };
    const about = { event: eventId ?? 0, date: known.date };
    const took = { kind: 'step', step: known.step, about, ...spanOfStep(known, zone || homeZone) } as const;
    return { ...whole, occurrence: isPersonal ? '' : known.date, also: [took] };
  }
  if (moment.kind === 'own-date') return { ...whole, also: day === null ? [] : [hasOwnDate(moment, day)] };
  if (!isPersonal || moment.kind === 'fixed') return { ...whole, occurrence: slot };
  return { ...whole, ownStart: slot === '' ? '' : startOfKey(slot) };
}

/** The date falls on that day: that very day, or of a yearly one, an anniversary, once it has been. */
function hasOwnDate({ field, repeats }: OwnDateMoment, day: Day): Tree {
  if (repeats === 'once') return { kind: 'field', field, test: { is: 'date', from: day, to: day } };
  return {
    kind: 'all',
    of: [
      { kind: 'field', field, test: { is: 'day-of-year', days: anniversariesOn(day) } },
      { kind: 'field', field, test: { is: 'date', from: null, to: day } },
    ],
  };
}

/** Whose anniversary falls on a day, as `02-28`: in years without a 29 February, those of that day have theirs on the 28th (our own rule). */
export function anniversariesOn(day: Day): string[] {
  const monthDay = day.slice('2026-'.length);
  return monthDay === '02-28' && addDays(day, 1).endsWith('03-01') ? ['02-28', '02-29'] : [monthDay];
}
