import { checkConformance } from '@convite/core';
import { deliver, dayBeforeCue, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, countAll, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { listGuests } from '../sending/invite';
import { exportGuests } from './export-guests';
import { prepareReminder } from './remind-guests';
import { putGuestsBack, removeGuests, undoableMs } from './remove-guests';

describe('Guests who are dealt with by hand', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
    await clockTo(stage, Date.UTC(2031, 5, 10));
    event = await publishedEvent(stage, { series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } });
    await invite(stage, event);
    expect((await deliver(stage)).length).toBe(5);
  });
  afterEach(() => stage.close());
  const guests = async (): Promise<number[]> =>
    (await listGuests(stage.context, event, { occurrence: '', search: '', limit: 50 })).rows.map(
      ({ person }) => person.id,
    );
  const ids = async (): Promise<number[]> => stage.db('subscriber').orderBy('id').pluck('id');
  const rowsOf = (table: string) => stage.db(table).where({ event_id: event }).orderBy('subscriber_id');
  const remove = (some: readonly number[]) =>
    removeGuests(stage.context, event, { kind: 'some', ids: [...some] }, actor);
  const later = () => clockTo(stage, stage.clock.now() + undoableMs + 1000);

  it('are gone at once, told by a CANCEL of their own a moment later, and get no cue any more', async () => {
    const [first = 0, second = 0] = await ids();
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const removed = await remove([first, second, 999_999]);
    expect([removed.removed, removed.told]).toEqual([2, 2]);
    expect((await guests()).length).toBe(3);
    expect((await deliver(stage)).length).toBe(0);
    await later();
    const mails = await deliver(stage);
    expect(mails.map(({ to }) => to.address).sort()).toEqual(['p1@people.example', 'p2@people.example']);
    const text = mails[0]?.calendar?.text ?? '';
    expect(mails[0]?.calendar?.method).toBe('CANCEL');
    expect(checkConformance(text).filter(({ isKept }) => !isKept)).toEqual([]);
    expect(text).toContain('STATUS:CANCELLED');
    await expectAsync(putGuestsBack(stage.context, removed.id, actor)).toBeRejectedWith(
      jasmine.objectContaining({ code: 'told-already' }),
    );
    await clockTo(stage, Date.UTC(2031, 5, 17, 18, 30));
    expect((await deliver(stage)).map(({ to }) => to.address).sort()).toEqual(
      [3, 4, 5].map((n) => `p${n}@people.example`),
    );
  });

  it('are put back as if nothing had been, and nobody is told', async () => {
    const [first = 0, second = 0] = await ids();
    await stage
      .db('invitee')
      .where({ subscriber_id: first })
      .update({
        reply: 'accepted',
        replied_at: new Date('2031-06-09T08:30:00.123Z'),
        reply_sequence: 0,
        reply_stamp: new Date('2031-06-09T08:29:59Z'),
        comment: '2031-06-09T08:30:00.000Z',
      });
    await stage.db('invitee_occurrence').insert({
      event_id: event,
      subscriber_id: first,
      occurrence: '20310618T193000',
      reply: 'declined',
      comment: 'With "pleasure" 🌒',
    });
    await stage
      .db('personal')
      .insert({ event_id: event, subscriber_id: second, start: '', end: '', place: 'West', notes: 'n' })
      .catch(() => undefined);
    const before = [await rowsOf('invitee'), await rowsOf('invitee_occurrence'), await rowsOf('personal')];
    const { id } = await remove([first, second]);
    await putGuestsBack(stage.context, id, actor);
    expect([await rowsOf('invitee'), await rowsOf('invitee_occurrence'), await rowsOf('personal')]).toEqual(before);
    await later();
    expect((await deliver(stage)).length).toBe(0);
    await expectAsync(putGuestsBack(stage.context, id, actor)).toBeRejected();
  });

  it('are told once when removing is undone and sent at one moment', async () => {
    const [first = 0] = await ids();
    const { id } = await remove([first]);
    await later();
    const [back, mails] = await Promise.all([
      putGuestsBack(stage.context, id, actor).then(
        () => true,
        () => false,
      ),
      deliver(stage),
    ]);
    expect(mails.length).toBe(back ? 0 : 1);
    expect((await guests()).includes(first)).toBe(back);
  });

  it('are reminded by a draft for them alone, which is counted like any cue', async () => {
    const [, second = 0, third = 0] = await ids();
    await stage.db('invitee').where({ event_id: event, subscriber_id: third }).update({ reply: 'accepted' });
    const all = { kind: 'all', occurrence: '', search: '', filter: 'needs-action' } as const;
    await prepareReminder(stage.context, event, all, actor);
    const cue = await prepareReminder(stage.context, event, { kind: 'some', ids: [second] }, actor);
    await countAll(stage);
    const cues = await stage.context.store.cues.ofEvent(event);
    expect(cues.map(({ isDraft, audience }) => [isDraft, audience.people?.length])).toEqual([
      [true, 4],
      [true, 1],
    ]);
    const mine = cues.find(({ id }) => id === cue);
    if (!mine) throw new Error('the cue is there');
    await saveCue(stage.context, event, cue, { ...mine, isDraft: false }, actor);
    await clockTo(stage, stage.clock.now() + 61 * 60_000);
    const mails = await deliver(stage);
    expect(mails.map(({ to, subject }) => [to.address, subject.split('?')[0]])).toEqual([
      ['p2@people.example', 'Will you come'],
    ]);
  });

  it('refuses more than can be dealt with by hand, and nobody', async () => {
    await expectAsync(
      removeGuests(
        stage.context,
        event,
        { kind: 'all', occurrence: '', search: 'nobody of this name', filter: 'all' },
        actor,
      ),
    ).toBeRejectedWith(jasmine.objectContaining({ code: 'nobody' }));
    expect((await guests()).length).toBe(5);
  });

  it('leave as rows of a file, all of them, page by page', async () => {
    const query = { occurrence: '', search: '', filter: 'all', sort: 'answered' } as const;
    const rows: string[] = [];
    for await (const some of await exportGuests(stage.context, event, query, actor))
      rows.push(...some.map(([, email = '']) => email));
    expect(rows.sort()).toEqual([1, 2, 3, 4, 5].map((n) => `p${n}@people.example`));
  });
});
