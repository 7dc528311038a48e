import { findOccurrence, writeFeed, type EventFacts, type ReplyState } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import { calendarSource, sourceFor } from '../sending/compose-calendar';
import type { Context } from '../context';

/** What was over longer ago leaves the feed. */
const keepMs = 90 * 86_400_000;
const refreshMinutes = 60;

/** Every published event of a topic. Null when there is no such topic. */
export async function topicFeed(context: Context, topic: string): Promise<string | null> {
  const { topics, organisation } = await context.store.house.settings();
  const found = await context.store.events.forFeed({ topic }, context.clock.now() - keepMs);
  const events = found.filter(({ reach }) => reach === 'public');
  if (!topics.includes(topic) && events.length === 0) return null;
  return write(context, `${organisation}: ${topic}`, context.links.topicFeed(topic), events, withoutJoinLink);
}

/** One event or series. Null for one that is not published for all. */
export async function eventFeed(context: Context, publicKey: string): Promise<string | null> {
  const event = await context.store.events.findByPublicKey(publicKey);
  if (!event || event.status === 'draft' || event.reach !== 'public') return null;
  return write(context, event.version.facts.title, context.links.eventFeed(publicKey), [event], withoutJoinLink);
}

/** An event as anybody may read it: where to join is told to whoever was invited or registered. */
export function withoutJoinLink(event: StoredEvent): StoredEvent {
  const { facts } = event.version;
  const hidden: EventFacts = {
    ...facts,
    joinLink: '',
    series: facts.series && {
      ...facts.series,
      exceptions: facts.series.exceptions.map((one) => ({ ...one, joinLink: one.joinLink === null ? null : '' })),
    },
  };
  return { ...event, version: { ...event.version, facts: hidden } };
}

/** Everything a person said yes to, with their own times. Null for an address that was reset, or never made. */
export async function personFeed(context: Context, token: string): Promise<string | null> {
  const person = await personOfFeed(context, token);
  if (!person) return null;
  const { store, links, clock } = context;
  const { organisation } = await store.house.settings();
  const ids = await store.invitees.acceptedEvents(person.id);
  const events = await store.events.forFeed({ ids }, clock.now() - keepMs);
  const answers = new Map<number, Awaited<ReturnType<typeof store.dates.answersOf>>>();
  const own = new Map<number, Recipient>();
  for (const event of events) {
    answers.set(event.id, await store.dates.answersOf(event.id, person.id));
    own.set(event.id, { ...person, own: await store.personal.find(event.id, person.id) });
  }
  return write(
    context,
    `${person.name || 'You'} at ${organisation}`,
    links.personFeed(person.id, person.feedNonce),
    events,
    (event) => {
      const { reply = null, dates = new Map<string, ReplyState>() } = answers.get(event.id) ?? {};
      return { ...event, version: { ...event.version, facts: onlyAccepted(event.version.facts, reply, dates) } };
    },
    own,
  );
}

/** Whose feed it is, while its address is the newest. */
export async function personOfFeed({ store, links }: Context, token: string): Promise<Recipient | null> {
  const named = links.readFeed(token);
  const person = named && (await store.subscribers.find(named.subscriberId));
  if (!person || person.feedNonce !== named.nonce) return null;
  const id = await store.subscribers.whoIs(person.id);
  return id === person.id ? person : store.subscribers.find(id);
}

/**
 * A series as one person takes part: whole with dates left out, where they said yes to all but some; else only the dates
 * that they said yes to.
 */
function onlyAccepted(facts: EventFacts, reply: ReplyState | null, dates: ReadonlyMap<string, ReplyState>): EventFacts {
  const { series } = facts;
  if (!series || dates.size === 0) return facts;
  const occurrences = [...dates].flatMap(([key, answer]) => {
    const occurrence = findOccurrence(facts, key);
    return occurrence ? [{ occurrence, answer }] : [];
  });
  if (reply === 'accepted') {
    const left = occurrences.filter(({ answer }) => answer === 'declined').map(({ occurrence }) => occurrence.at);
    const others = series.exceptions.filter(({ at }) => !left.includes(at));
    const off = left.map((at) => ({
      at,
      calledOff: true,
      span: null,
      title: null,
      description: null,
      venue: null,
      joinLink: null,
    }));
    return { ...facts, series: { ...series, exceptions: [...others, ...off] } };
  }
  const accepted = occurrences.filter(({ answer }) => answer === 'accepted').map(({ occurrence }) => occurrence);
  const [first, ...rest] = accepted;
  if (!first) return facts;
  return {
    ...facts,
    span: first.facts.span,
    series: {
      rule: '',
      added: rest.map(({ at }) => at),
      exceptions: series.exceptions.filter(({ at }) => rest.some((one) => one.at === at)),
    },
  };
}

async function write(
  context: Context,
  name: string,
  url: string,
  events: readonly StoredEvent[],
  shape: (event: StoredEvent) => StoredEvent,
  own: ReadonlyMap<number, Recipient> = new Map(),
): Promise<string> {
  const settings = await context.store.house.settings();
  const entries = events.map((event) => {
    // The stamp is the version's, not the clock's: an unchanged feed is the same octets.
    const source = calendarSource(context, settings, shape(event), event.at.getTime());
    const reader = own.get(event.id) ?? null;
    return { source: reader ? sourceFor(source, reader) : source, reader };
  });
  return writeFeed({ name, url, colour: '', refreshMinutes, entries });
}
