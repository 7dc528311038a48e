import type { CueFields, CuePreview, Settings } from '@convite/contract';
import {
  countsDown,
  dateDueNext,
  dueAt,
  dueOfOwnDate,
  goesByZones,
  instantsOf,
  isDay,
  isWallTime,
  isZone,
  judge,
  nextOwnDay,
  personalFacts,
  wallTimeAt,
  wholeEvent,
  whoOf,
  type EpochMs,
  type EventFacts,
  type FieldValue,
  type Moment,
  type MomentAround,
  type Occurrence,
  type PersonFacts,
  type Reason,
  type Tree,
  type Who,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { asAllowed } from '../sending/as-allowed';
import { contentIfSent } from '../sending/if-sent';
import { previewPerson } from '../sending/invite';
import { shownOfEvent } from '../sending/shown-message';
import { checkCue } from './cues';
import { aroundOf } from './plan-firings';

/** What a chosen person would get, when, and who does not, because: by the same functions that send. */
export async function previewCue(
  context: Context,
  eventId: number,
  fields: CueFields,
  personId: number | null,
): Promise<CuePreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const next = await nextOf(context, event, settings, fields);
  const { who, date } = next;
  const chosen = personId ?? (await context.store.audiences.firstOf(who, fields.channel));
  const person = await previewPerson(context, eventId, chosen, date?.key);
  const facts = await context.store.personFacts.of(person.id, context.clock.now());
  const reasons = facts
    ? await context.store.audiences.whyNot(who, fields.channel, [person.id])
    : new Map<number, Reason>();
  const { dueMs, waitsUntilMs } = whenFor(context, event, fields, next, { person, facts });
  return {
    dueAt: isoOrNull(dueMs),
    person: {
      id: person.id,
      name: person.name,
      whyNot: reasons.get(person.id) ?? null,
      waitsUntil: facts ? isoOrNull(waitsUntilMs) : null,
      zone: person.zone,
      leftOutBy: facts ? await sayLeftOut(context, await context.store.audiences.leftOutBy(who, person.id)) : '',
    },
    message: await messageFor(context, event, settings, fields, next, person),
    problems: await checkCue(context.store, fields, event, context.clock.now()),
  };
}

/** A cue as it is due next: for which date, and for whom. */
export interface NextCue {
  readonly who: Who;
  readonly date: Occurrence | null;
  readonly around: MomentAround;
}
export async function nextOf(
  context: Context,
  event: StoredEvent,
  settings: Settings,
  fields: Pick<CueFields, 'audience' | 'moment' | 'channel'>,
): Promise<NextCue> {
  const around = aroundOf(settings, event);
  return {
    who: await whoNext(context, event, fields),
    date: dateDueNext(fields.moment, event.version.facts, context.clock.now(), around),
    around,
  };
}

/** Somebody, real or thought up, and what is known of them. */
export interface Reader {
  readonly person: Recipient;
  readonly facts: PersonFacts | null;
}

/** When a cue comes for somebody, on whichever clock it goes by, and until when it waits for the end of quiet hours. */
export function whenFor(
  { clock }: Pick<Context, 'clock'>,
  { version }: StoredEvent,
  { moment }: Pick<CueFields, 'moment'>,
  { who, date, around }: NextCue,
  { person, facts }: Reader,
): { readonly dueMs: EpochMs | null; readonly waitsUntilMs: EpochMs | null } {
  const shown = personalFacts(date?.facts ?? version.facts, person.own);
  const ownDate = moment.kind === 'own-date' ? facts?.fields.get(moment.field) : undefined;
  return {
    dueMs: dueForPerson(moment, shown, { zone: person.zone, ownDate }, clock.now(), around),
    waitsUntilMs: who.quiet?.waits.find(({ zone }) => zone === person.zone)?.untilMs ?? null,
  };
}

/** What somebody who may not exist would get, or why not: by core's own rules, as of now. */
export async function whyNotFor(
  { store }: Pick<Context, 'store'>,
  { who }: NextCue,
  channel: CueFields['channel'],
  facts: PersonFacts,
): Promise<Reason | null> {
  return judge(facts, await store.audiences.asOfNow(who), channel);
}

/** The message as somebody reads it. */
export function messageFor(
  context: Context,
  event: StoredEvent,
  settings: Settings,
  { channel, wording }: Pick<CueFields, 'channel' | 'wording'>,
  { date }: NextCue,
  person: Recipient,
): Promise<CuePreview['message']> {
  const atMs = context.clock.now();
  const about = {
    channel,
    content: contentIfSent('cue', { document: wording, version: event.version.number }, atMs),
    occurrence: date?.key ?? '',
    guests: [],
    atMs,
  };
  const facts = personalFacts(date?.facts ?? event.version.facts, person.own);
  return shownOfEvent(context, settings, event, about, { person, facts });
}

export const isoOrNull = (atMs: EpochMs | null): string | null => (atMs === null ? null : new Date(atMs).toISOString());

/** What leaves somebody out, by its name; empty where nothing does. */
async function sayLeftOut({ store }: Context, tree: Tree | null): Promise<string> {
  if (tree?.kind === 'list') {
    const lists = await store.lists.all();
    const names = lists.filter(({ id }) => tree.lists.includes(id)).map(({ name }) => name);
    return `the ${names.length === 1 ? 'list' : 'lists'} ${names.join(', ')}`;
  }
  if (tree?.kind === 'segment') {
    const segments = await store.segments.all();
    const names = segments.filter(({ id }) => tree.segments.includes(id)).map(({ name }) => name);
    return `the ${names.length === 1 ? 'segment' : 'segments'} ${names.join(', ')}`;
  }
  return tree?.kind === 'person' ? 'hand' : '';
}

/** Who would get a cue for the date that it is due for next; of people's own dates, whoever has one. */
export async function whoNext(
  { store, clock }: Context,
  event: StoredEvent,
  { audience, moment, channel }: Pick<CueFields, 'audience' | 'moment' | 'channel'>,
): Promise<Who> {
  const { id, version } = event;
  const { facts } = version;
  const nowMs = clock.now();
  const around = aroundOf(await store.house.settings(), event);
  const message = { kind: 'cue', channel, firing: null, eventZone: facts.zone } as const;
  if (moment.kind !== 'own-date') {
    const date = dateDueNext(moment, facts, nowMs, around);
    const next = date?.facts ?? facts;
    const dueIn = (zone: string): number =>
      Math.max(nowMs, dueForPerson(moment, next, { zone, ownDate: undefined }, nowMs, around) ?? nowMs);
    const startsMs = countsDown(moment) && !facts.isPersonal ? (date?.startMs ?? instantsOf(next).startMs) : null;
    const who = whoOf(audience, { ...wholeEvent(id), occurrence: date?.key ?? '' });
    return asAllowed(store, who, { ...message, atMs: dueIn(facts.zone), dueIn, startsMs });
  }
  const hasOne = { kind: 'field', field: moment.field, test: { is: 'filled' } } as const;
  // Each has it on a day of their own, at the same time of day.
  const today = wallTimeAt(nowMs, facts.zone).slice(0, 10);
  const dueIn = (zone: string): number => dueOfOwnDate(moment, today, clockFor(moment, zone, facts.zone), around);
  return asAllowed(store, whoOf(audience, { ...wholeEvent(id), also: [hasOne] }), { ...message, atMs: nowMs, dueIn });
}

/** Whose clock a moment is read on. */
const clockFor = (moment: Moment, zone: string, home: string): string =>
  goesByZones(moment) && isZone(zone) ? zone : home;

/** When the moment comes for one person; null for none, or while it is not a time yet. */
function dueForPerson(
  moment: Moment,
  facts: EventFacts,
  { zone, ownDate }: { readonly zone: string; readonly ownDate: FieldValue | undefined },
  nowMs: number,
  around: MomentAround,
): number | null {
  const clock = clockFor(moment, zone, facts.zone);
  if (moment.kind !== 'own-date')
    return moment.kind === 'relative' || isWallTime(moment.wall) ? dueAt(moment, facts, clock, around) : null;
  const day = typeof ownDate === 'string' && isDay(ownDate) ? nextOwnDay(moment, ownDate, nowMs, clock, around) : null;
  return day === null ? null : dueOfOwnDate(moment, day, clock, around);
}
