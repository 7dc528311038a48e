import type { CueFields, CuePreview, Settings } from '@convite/contract';
import {
  judge,
  laneOf,
  personalFacts,
  type EpochMs,
  type Lane,
  type PersonFacts,
  type Reason,
  type Tree,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { contentIfSent } from '../sending/if-sent';
import { previewPerson } from '../sending/invite';
import { shownOfEvent } from '../sending/shown-message';
import { checkCue } from './cues';
import { nextOf, whenFor, type NextCue } from './next-cue';

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
  const chosen = personId ?? (await context.store.audiences.firstOf(who, laneOf(fields)));
  const person = await previewPerson(context, eventId, chosen, date?.key);
  const facts = await context.store.personFacts.of(person.id, context.clock.now());
  const { dueMs, date: about, waitsUntilMs, who: asked } = whenFor(context, event, fields, next, { person, facts });
  const reasons = facts
    ? await context.store.audiences.whyNot(asked, laneOf(fields), [person.id])
    : new Map<number, Reason>();
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
    message: await messageFor(context, event, settings, fields, { ...next, date: about }, person),
    problems: await checkCue(context.store, fields, event, context.clock.now()),
  };
}

/** What somebody who may not exist would get, or why not: by core's own rules, as of now. */
export async function whyNotFor(
  { store }: Pick<Context, 'store'>,
  { who }: Pick<NextCue, 'who'>,
  channel: Lane,
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
