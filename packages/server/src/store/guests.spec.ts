import type { GuestFilter } from '@convite/contract';
import { replyStates, type ReplyState } from '@convite/core';
import { seededRandom } from '../demo/random';
import { listDates } from '../services/events/dates';
import { addPeople, clockTo, countAll, openStage, publishedEvent, type Stage } from '../testing/stage';
import { noReplies } from './guests';

const seed = 7;
const people = 120;
const keys = ['20310618T193000', '20310625T193000', '20310702T193000'];

describe('answers by date, as they are kept', () => {
  let stage: Stage;
  beforeAll(async () => {
    stage = await openStage();
    await addPeople(stage, people);
    await clockTo(stage, Date.UTC(2031, 5, 10));
  });
  afterAll(() => stage.close());

  it(`are those for the date, else those for the whole, and of people by date only their own (seed ${seed})`, async () => {
    const event = await publishedEvent(stage, { series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } });
    const random = seededRandom(seed);
    const guests = Array.from({ length: people }, (_, index) => ({
      id: index + 1,
      reply: random.pick(replyStates),
      isByDate: random.chance(0.2),
      isInvited: random.chance(0.9),
      dates: new Map(
        keys.slice(0, 2).flatMap((key): [string, ReplyState | null][] => {
          if (!random.chance(0.5)) return [];
          return [[key, random.chance(0.8) ? random.pick(replyStates) : null]];
        }),
      ),
    }));
    await stage.db.batchInsert(
      'invitee',
      guests.map(({ id, reply, isByDate, isInvited }) => ({
        event_id: event,
        subscriber_id: id,
        channel: 'email',
        reply,
        is_by_date: isByDate,
        invited_at: isInvited ? new Date() : null,
      })),
    );
    await stage.db.batchInsert(
      'invitee_occurrence',
      guests.flatMap(({ id, dates }) =>
        [...dates].map(([occurrence, reply]) => ({ event_id: event, subscriber_id: id, occurrence, reply })),
      ),
    );
    await stage.context.store.live.touch(`event:${event}`);
    await countAll(stage);
    const expected = keys.map((key) => {
      const counts = noReplies();
      for (const { reply, isByDate, isInvited, dates } of guests) {
        const said = dates.get(key) ?? (isByDate ? null : reply);
        if (isInvited && said) counts[said] += 1;
      }
      return counts;
    });
    expect((await listDates(stage.context, event, 3)).map(({ replies }) => replies)).toEqual(expected);

    // The same guests narrowed by what they said, page by page, of a date and of the whole.
    const shown = async (occurrence: string, filter: GuestFilter): Promise<number[]> => {
      const ids: number[] = [];
      for (let after: number | null = 0; after !== null;) {
        const asked = { occurrence, search: '', filter, version: 2, after, limit: 7 };
        const page: Awaited<ReturnType<typeof stage.context.store.guests.page>> = await stage.context.store.guests.page(
          event,
          asked,
        );
        ids.push(...page.rows.map(({ person }) => person.id));
        after = page.next;
      }
      return ids;
    };
    for (const state of replyStates) {
      const [key = ''] = keys;
      const ofDate = guests.filter(
        ({ reply, isByDate, dates }) => (dates.get(key) ?? (isByDate ? null : reply)) === state,
      );
      expect(await shown(key, state)).toEqual(ofDate.map(({ id }) => id));
      const ofWhole = guests.filter(({ reply, isByDate }) => !isByDate && reply === state);
      expect(await shown('', state)).toEqual(ofWhole.map(({ id }) => id));
    }
    expect(await shown('', 'by-date')).toEqual(guests.flatMap(({ id, isByDate }) => (isByDate ? [id] : [])));
    await stage.db('invitee').where({ event_id: event }).where('subscriber_id', '<=', 9).update({ holds_version: 1 });
    await stage.db('invitee').where({ event_id: event }).where('subscriber_id', '>', 9).update({ holds_version: 2 });
    expect((await shown('', 'older-version')).length).toBe(9);
  });
});
