import { archetypes, type Archetype, type Rehearsal, type RehearsalScene } from '@convite/contract';
import { isOnPeople, laneOf, noGuest, type GuestFacts, type PersonFacts } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { elevenHoursFrom } from '../sending/five-readers';
import { exampleReader, previewPerson } from '../sending/invite';
import { listCues } from './list-cues';
import { nextOf, whenFor, type Reader } from './next-cue';
import { isoOrNull, messageFor, whyNotFor } from './preview-cue';

/**
 * A dry run of an event's countdown for one person: every message that they would get from here on, worded as they read it and on
 * their own clock, and why not, where one does not come. With an archetype it is somebody like them, with that one difference.
 */
export async function rehearse(
  context: Context,
  eventId: number,
  { personId, archetype }: { readonly personId: number | null; readonly archetype: Archetype | null },
): Promise<Rehearsal> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const real = await realReader(context, eventId, personId);
  const reader = archetype === null ? real : asArchetype(real, archetype, event, context.clock.now());
  const scenes: RehearsalScene[] = [];
  for (const cue of await listCues(context, eventId)) {
    // What is done once concerns nobody.
    if (cue.act && !isOnPeople(cue.act)) continue;
    const next = await nextOf(context, event, settings, cue);
    const { dueMs, date, waitsUntilMs, who } = whenFor(context, event, cue, next, reader);
    const whyNot = reader.facts === null ? null : await whyNotFor(context, { who }, laneOf(cue), reader.facts);
    const { state } = cue.firing;
    scenes.push({
      cueId: cue.id,
      name: cue.name,
      channel: laneOf(cue),
      does: cue.does,
      state,
      occurrenceAt: date?.key ? new Date(date.startMs).toISOString() : null,
      dueAt: isoOrNull(dueMs),
      isPast: dueMs !== null && dueMs < context.clock.now(),
      waitsUntil: isoOrNull(waitsUntilMs),
      whyNot,
      message:
        whyNot === null && !cue.act
          ? await messageFor(context, event, settings, cue, { ...next, date }, reader.person)
          : null,
    });
  }
  return {
    zone: event.version.facts.zone,
    person: {
      id: real.person.id,
      name: reader.person.name,
      zone: reader.person.zone || event.version.facts.zone,
      isReal: archetype === null && real.facts !== null,
    },
    archetypes: [...archetypes],
    scenes: scenes.sort((a, b) => (a.dueAt ?? '9').localeCompare(b.dueAt ?? '9')),
  };
}

/** Who was chosen, or somebody of the event; where there is nobody yet, an invented reader of whom all is known. */
async function realReader(context: Context, eventId: number, personId: number | null): Promise<Reader> {
  const person = await previewPerson(context, eventId, personId);
  return { person, facts: await context.store.personFacts.of(person.id, context.clock.now()) };
}

/** Somebody like them who is nobody: what a link leads to answers for nobody. */
function asArchetype({ person, facts }: Reader, archetype: Archetype, event: StoredEvent, nowMs: number): Reader {
  const { zone } = event.version.facts;
  // Where nobody is there yet, it is somebody who comes.
  const comes: GuestFacts = { ...noGuest, isGuest: true, isInvited: true, reply: 'accepted' };
  const known = facts ?? { ...blankFacts, zone: exampleReader.zone, guestOf: new Map([[event.id, comes]]) };
  const guest = known.guestOf.get(event.id) ?? noGuest;
  const asGuest = (over: Partial<GuestFacts>): PersonFacts => ({
    ...known,
    guestOf: new Map(known.guestOf).set(event.id, { ...guest, isGuest: true, isInvited: true, ...over }),
  });
  const nobody = { ...person, id: 0, feedNonce: 0 };
  const far = elevenHoursFrom(zone, nowMs);
  switch (archetype) {
    case 'far-away':
      return { person: { ...nobody, zone: far }, facts: { ...known, zone: far } };
    case 'no-name':
      return { person: { ...nobody, name: '' }, facts: known };
    case 'no-mobile':
      return { person: { ...nobody, mobile: '' }, facts: { ...known, hasMobile: false } };
    case 'no-texts':
      return { person: nobody, facts: { ...known, textConsent: false } };
    case 'no-consent':
      return { person: nobody, facts: { ...known, emailConsent: false, textConsent: false } };
    case 'opted-out':
      return { person: nobody, facts: { ...known, optedOut: true } };
    case 'registered-yesterday':
      return {
        person: { ...nobody, reply: 'accepted', isGuest: true },
        facts: asGuest({
          reply: 'accepted',
          repliedAtMs: nowMs - 86_400_000,
          places: new Map(guest.places).set('', 'confirmed'),
        }),
      };
    case 'unanswered':
      return {
        person: { ...nobody, reply: 'needs-action', isGuest: true },
        facts: asGuest({ reply: 'needs-action', repliedAtMs: null, dates: new Map(), places: new Map() }),
      };
    case 'waitlisted':
      return {
        person: { ...nobody, reply: 'needs-action', isGuest: true },
        facts: asGuest({ reply: 'needs-action', places: new Map([['', 'waitlisted']]), online: [] }),
      };
  }
}

/** Somebody of whom nothing holds a message back, and who has to do with nothing. */
export const blankFacts: PersonFacts = {
  id: 0,
  isSameAsOther: false,
  sharesNumberWith: [],
  hasEmail: true,
  hasMobile: true,
  isPaused: false,
  emailConsent: true,
  textConsent: true,
  optedOut: false,
  bounced: false,
  zone: '',
  lists: [],
  topics: [],
  fields: new Map(),
  guestOf: new Map(),
  had: [],
  mostPerWeek: null,
  counted: [],
  got: [],
};
