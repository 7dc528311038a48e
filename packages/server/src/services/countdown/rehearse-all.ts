import { mostRehearsed, type RehearsalForAll } from '@convite/contract';
import { cueMoments, isOfPeople, noGuest } from '@convite/core';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { nextOf } from './next-cue';
import { aroundOf } from './plan-firings';
import { whyNotFor } from './preview-cue';
import { blankFacts } from './rehearse';

const yearMs = 366 * 86_400_000;

/**
 * What a rehearsal for everybody is counted from. Who gets a cue is asked as it is asked when it goes, for the date that is next; later
 * dates of a series are taken to go to the same people.
 */
export async function rehearseForAll(context: Context, eventId: number): Promise<RehearsalForAll> {
  const { store, clock } = context;
  const event = await getEvent(context, eventId);
  const settings = await store.house.settings();
  const around = aroundOf(settings, event);
  const { facts } = event.version;
  const nowMs = clock.now();
  const alive = (await store.cues.ofEvent(eventId)).filter(({ isRetired }) => !isRetired);
  const newcomer = {
    ...blankFacts,
    zone: facts.zone,
    guestOf: new Map([
      [
        eventId,
        {
          ...noGuest,
          ...{ isGuest: true, isInvited: true, reply: 'accepted' as const, repliedAtMs: nowMs },
          places: new Map([['', 'confirmed' as const]]),
        },
      ],
    ]),
  };
  const cues: RehearsalForAll['cues'] = [];
  for (const cue of alive.filter(({ moment }) => !isOfPeople(moment))) {
    const next = await nextOf(context, event, settings, cue);
    const people = await store.audiences.idsOf(next.who, cue.channel, mostRehearsed + 1);
    const due = cueMoments(cue.moment, facts, nowMs, nowMs + yearMs, [facts.zone], around);
    cues.push({
      id: cue.id,
      name: cue.name,
      channel: cue.channel,
      dueAt: due
        .filter(({ dueMs, occurrence }) => dueMs >= nowMs && !occurrence?.calledOff)
        .map(({ dueMs }) => new Date(dueMs).toISOString()),
      people: people.slice(0, mostRehearsed),
      hasMore: people.length > mostRehearsed,
      reachesNew: (await whyNotFor(context, next, cue.channel, newcomer)) === null,
    });
  }
  return { zone: facts.zone, perWeek: settings.pressure.perWeek, cues, apart: alive.length - cues.length };
}
