import type { GuestFilter, GuestQuery } from '@convite/contract';
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
    const shown = async (
      occurrence: string,
      filter: GuestFilter,
      sort: GuestQuery['sort'] = 'joined',
    ): Promise<number[]> => {
      const ids: number[] = [];
      for (let after: string | null = ''; after !== null;) {
        const asked = { occurrence, search: '', filter, sort, version: 2, after, limit: 7 };
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

    // In the order of an answer's time (many at the same one, some never), of the answer itself, and of the version held.
    const at = guests.map(({ id }) => ({
      id,
      answeredMs: random.chance(0.3)
        ? null
        : Date.UTC(2031, 4, 1) + 60_000 * Math.floor(random.chance(0.5) ? 3 : id % 11),
      holds: random.chance(0.2) ? null : 1 + (id % 3),
    }));
    for (const { id, answeredMs, holds } of at)
      await stage
        .db('invitee')
        .where({ event_id: event, subscriber_id: id })
        .update({ replied_at: answeredMs === null ? null : new Date(answeredMs), holds_version: holds });
    const descending = (of: (one: (typeof at)[number]) => number | null): number[] =>
      [...at].sort((a, b) => (of(b) ?? -1) - (of(a) ?? -1) || b.id - a.id).map(({ id }) => id);
    expect(await shown('', 'all', 'answered')).toEqual(descending(({ answeredMs }) => answeredMs));
    expect(await shown('', 'all', 'holds')).toEqual(descending(({ holds }) => holds));
    const byAnswer = [...guests].sort((a, b) => (a.reply < b.reply ? -1 : a.reply > b.reply ? 1 : a.id - b.id));
    expect(await shown('', 'all', 'answer')).toEqual(byAnswer.map(({ id }) => id));
    const accepted = new Set(
      guests.filter(({ reply, isByDate }) => !isByDate && reply === 'accepted').map(({ id }) => id),
    );
    expect(await shown('', 'accepted', 'answered')).toEqual(
      descending(({ answeredMs }) => answeredMs).filter((id) => accepted.has(id)),
    );
    // A cursor that somebody made up is no way in.
    for (const after of ["1' or 1=1 --", 'null|x', '|', '9999999999999|1', 'NaN|NaN'])
      await expectAsync(
        stage.context.store.guests.page(event, {
          occurrence: '',
          search: '',
          sort: 'answered',
          version: 2,
          after,
          limit: 7,
        }),
      )
        .withContext(after)
        .toBeResolved();
  });
});
