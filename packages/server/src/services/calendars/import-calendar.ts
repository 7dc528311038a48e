import { createHash } from 'node:crypto';
import { setImmediate as nextTurn } from 'node:timers/promises';
import type { FoundCalendar, ImportedCalendar } from '@convite/contract';
import {
  findAddresses,
  findNumbers,
  type Problem,
  matchDates,
  sayRepeats,
  sayWhen,
  type ImportedCalendar as ReadCalendar,
  type ImportedEvent,
} from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import type { NewSubscriber } from '../../store/newcomers';
import { nowOf, type Actor, type Context } from '../context';
import { insertEvents } from '../events/events';
import { newVersion } from '../events/new-version';
import { Failure } from '../failure';
import { takeCues } from '../countdown/take-cues';

const mostShown = 500;

/** What a calendar file holds, before anything of it is stored. @throws Failure 422 for a file that cannot be read at all */
export async function lookIntoCalendar(context: Context, file: CalendarFile): Promise<FoundCalendar> {
  const { zone } = await context.store.house.settings();
  const { name, events, problems } = await readFile(context, file, zone);
  const known = await context.store.watches.known(
    0,
    events.map(({ uid }) => uid),
  );
  return {
    name,
    total: events.length,
    problems: [...problems],
    events: events.slice(0, mostShown).map(({ uid, lineNumber, facts, calledOff, attendees }) => ({
      uid,
      line: lineNumber,
      facts,
      when: sayWhen(facts, ''),
      repeats: sayRepeats(facts),
      calledOff,
      attendees: attendees.length,
      knownAs: known.get(uid)?.eventId ?? null,
    })),
  };
}

/** Its octets as they came; they are used up by reading. */
export type CalendarFile = Uint8Array<ArrayBuffer>;

/** @throws Failure 422 for what cannot be read at all */
export async function readFile({ calendars }: Context, file: CalendarFile, houseZone: string): Promise<ReadCalendar> {
  const read = await calendars.read(file, houseZone);
  if (read.ok) return read.value;
  throw new Failure(422, 'problems', 'This calendar cannot be read.', { problems: read.problems });
}

export interface ImportOptions {
  /** Lines at which events begin that are not wanted. */
  readonly leaveOut: ReadonlySet<number>;
  readonly takeGuests: boolean;
  readonly publish: boolean;
  /** The watched calendar it comes from; 0 for a file. */
  readonly watchId: number;
  /** Only events whose title or description holds this; empty for all. */
  readonly search: string;
  /** Telephone numbers and addresses in the description become guests, with this consent to texts; null not to look. */
  readonly people: { readonly textConsent: boolean } | null;
  /** The event whose cues new events get. */
  readonly cuesOfEvent: number | null;
}

/**
 * Takes events of a calendar over, all of them or none: in one transaction, each event whole. An event that was taken
 * over before changes when it differs there, and stays when it does not.
 * @param stop ends it, and nothing was taken. @throws its reason then; Failure 422 for a file that cannot be read at all
 */
export async function importCalendar(
  context: Context,
  file: CalendarFile,
  options: ImportOptions,
  actor: Actor,
  stop?: AbortSignal,
): Promise<ImportedCalendar> {
  const { zone, region } = await context.store.house.settings();
  const { events, problems } = await readFile(context, file, zone);
  const chosen = chosenOf(events, options);
  const tally = { added: 0, changed: 0, same: 0, guests: 0, gone: 0 };
  const passedOver: Problem[] = [];
  await context.store.transact(async (tx) => {
    const known = await tx.watches.known(
      options.watchId,
      chosen.map(({ uid }) => uid),
    );
    const fresh = chosen.filter(({ uid }) => !known.has(uid.slice(0, 255)));
    const created = new Map<ImportedEvent, number>();
    for (let from = 0; from < fresh.length; from += 500) {
      stop?.throwIfAborted();
      await createAll(context, tx, fresh.slice(from, from + 500), options, actor, created);
    }
    const taken: { uid: string; eventId: number; digest: string }[] = [];
    const invited: Invited[] = [];
    /** Those known before that give places. */
    const giving: number[] = [];
    for (const [index, event] of chosen.entries()) {
      if (index % 500 === 0) await nextTurn();
      const digest = digestOf(event);
      const before = known.get(event.uid.slice(0, 255));
      const { people, problems: unread } = peopleOf(event, options, region);
      passedOver.push(...unread);
      if (before?.digest === digest) {
        // What is asked of its people may be another since: they are looked for again.
        if (!before.peopleTaken) {
          invited.push(...people.map((person) => ({ eventId: before.eventId, person })));
          taken.push({ uid: event.uid, eventId: before.eventId, digest });
        }
        tally.same += 1;
        continue;
      }
      const eventId = before?.eventId ?? created.get(event) ?? 0;
      stop?.throwIfAborted();
      if (before && (await changeEvent(context, tx, eventId, event, actor))) giving.push(eventId);
      tally[before ? 'changed' : 'added'] += 1;
      invited.push(...people.map((person) => ({ eventId, person })));
      taken.push({ uid: event.uid, eventId, digest });
    }
    tally.guests = await addGuests(context, tx, invited, actor);
    for (const id of giving) await tx.registrations.adopt(id, nowOf(context));
    await tx.watches.remember(options.watchId, taken);
    if (options.watchId !== 0) tally.gone = await countGone(tx, options.watchId, events, nowOf(context));
    stop?.throwIfAborted();
    await tx.house.audit(
      nowOf(context),
      actor,
      'calendar: imported',
      `${tally.added} new, ${tally.changed} changed events, ${tally.guests} guests`,
    );
    await tx.live.touch('board', 'events', 'subscribers');
  });
  return { ...tally, problems: [...problems, ...passedOver.slice(0, mostPassedOver)] };
}

function chosenOf(events: readonly ImportedEvent[], { leaveOut, search }: ImportOptions): ImportedEvent[] {
  const words = search.toLowerCase();
  return events.filter(
    ({ lineNumber, facts }) =>
      !leaveOut.has(lineNumber) && (!words || `${facts.title}\n${facts.description}`.toLowerCase().includes(words)),
  );
}

const digestOf = (event: ImportedEvent): string =>
  createHash('sha256')
    .update(JSON.stringify([event.facts, event.calledOff, event.attendees]))
    .digest('hex');

/** New events, and where another's cues are taken over, those too. Without cues there is nothing to plan. */
async function createAll(
  context: Context,
  tx: StoreSubjects,
  events: readonly ImportedEvent[],
  { publish, cuesOfEvent }: ImportOptions,
  actor: Actor,
  created: Map<ImportedEvent, number>,
): Promise<void> {
  const ids = await insertEvents(
    context,
    tx,
    events.map(({ facts, calledOff }) => ({
      facts,
      // What was somebody's own calendar is shown to nobody until a person says so.
      reach: 'invited' as const,
      status: publish && !calledOff ? ('published' as const) : ('draft' as const),
      by: actor.name,
    })),
  );
  if (cuesOfEvent !== null) await takeCues(context, tx, cuesOfEvent, ids);
  events.forEach((event, index) => created.set(event, ids[index] ?? 0));
}

/** @returns whether it gives places, which its new guests may take */
async function changeEvent(
  context: Context,
  tx: StoreSubjects,
  id: number,
  { facts, calledOff }: ImportedEvent,
  actor: Actor,
): Promise<boolean> {
  const event = await tx.events.findForUpdate(id);
  if (!event) return false;
  const before = event.version.facts;
  // What is ours beside their facts stays: topics, how the entry is written, and registration.
  const ours = { topics: before.topics, entry: before.entry, registration: before.registration };
  const after = { ...facts, ...ours };
  const change = { facts: after, calledOff, moveKey: matchDates(before, after), said: 'event: changed by a calendar' };
  await newVersion(context, tx, event, change, actor);
  return after.registration !== null;
}

interface Person extends NewSubscriber {
  readonly reply: ImportedEvent['attendees'][number]['state'];
}

/** Named at most; whoever looks sees what they have in common. */
const mostPassedOver = 50;

/** Events from there that are still to come and published, and are not in it any more: they stay as they are. */
async function countGone(
  tx: StoreSubjects,
  watchId: number,
  events: readonly ImportedEvent[],
  now: Date,
): Promise<number> {
  const there = new Set(events.map(({ uid }) => uid.slice(0, 255)));
  return (await tx.watches.coming(watchId, now)).filter((uid) => !there.has(uid)).length;
}

function peopleOf(
  event: ImportedEvent,
  { takeGuests, people }: ImportOptions,
  region: string,
): { readonly people: Person[]; readonly problems: Problem[] } {
  // They hear of what they are guests of.
  const blank = {
    name: '',
    mobile: '',
    zone: '',
    textConsent: null,
    emailConsent: false,
    reply: 'needs-action',
  } as const;
  const named = takeGuests
    ? event.attendees.map(({ name, email, state }): Person => ({ ...blank, name, email, reply: state }))
    : [];
  if (!people) return { people: named, problems: [] };
  const { description, title } = event.facts;
  const addresses = findAddresses(description);
  const { numbers, passedOver } = findNumbers(description, region);
  const problems = passedOver.map(({ text, reason }): Problem => ({
    code: 'number-not-taken',
    path: title,
    facts: { text, reason },
  }));
  const consent = people.textConsent ? true : null;
  // One address and one number are one person's; otherwise nobody can say whose is whose.
  if (addresses.length === 1 && numbers.length === 1)
    return {
      people: [...named, { ...blank, email: addresses[0] ?? null, mobile: numbers[0] ?? '', textConsent: consent }],
      problems,
    };
  const found = [
    ...named,
    ...addresses.map((email): Person => ({ ...blank, email })),
    ...numbers.map((mobile): Person => ({ ...blank, email: null, mobile, textConsent: consent })),
  ];
  return { people: found, problems };
}

interface Invited {
  readonly eventId: number;
  readonly person: Person;
}

/** @returns how many guests are new */
async function addGuests(
  context: Context,
  tx: StoreSubjects,
  invited: readonly Invited[],
  actor: Actor,
): Promise<number> {
  const ids = await tx.newcomers.ensureMany(
    invited.map(({ person }) => person),
    { source: 'file', how: 'named in a calendar, with the importer’s word that they consent', by: actor.name },
    nowOf(context),
  );
  const guests = invited.flatMap(({ eventId, person: { email, mobile, reply } }) => {
    const subscriberId = ids.get(email ?? mobile);
    const channel = email === null ? ('text' as const) : ('email' as const);
    return subscriberId === undefined ? [] : [{ eventId, subscriberId, reply, channel, holdsVersion: null }];
  });
  return tx.invitees.addGuests(guests, nowOf(context));
}
