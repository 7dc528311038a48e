import { resolveWallTime } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, clockTo, countAll, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { takeLease } from '../../worker/lease';
import { saveCue } from '../countdown/cues';
import { replyByPage } from '../replies/reply-by-page';
import { takePlace } from '../registration/register';
import { leaveWaitlist } from '../registration/waitlist';
import { setTells } from './own-account';
import { nextSummaryMs, summariseNext, tellNext } from './tell-members';

const zone = 'Europe/Lisbon';
const at = (wall: string, where = zone): number => resolveWallTime(wall, where);

describe('members are told', () => {
  let stage: Stage;
  let event: number;
  let ana: number;
  let rui: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage, {
      registration: { places: 2, closesMinutes: 0, confirms: false, waitlist: true },
    });
    const member = (name: string) =>
      stage.context.store.members.create({
        name,
        email: `${name.toLowerCase()}@team.example`,
        role: 'marketer',
        passwordHash: 'x',
      });
    ana = await member('Ana');
    rui = await member('Rui');
  });
  afterEach(() => stage.close());

  const register = (person: number) =>
    takePlace(stage.context, event, { name: '', email: `p${person}@people.example`, occurrence: '' });
  const answer = (person: number, state: 'declined' | 'tentative', comment = '') =>
    replyByPage(stage.context, { eventId: event, subscriberId: person }, { occurrence: '', state, comment });
  /** Mails of ours to members since they were asked for last. */
  const mails = () => stage.sentAtOnce.splice(0).map(({ to, subject, text }) => ({ to: to.address, subject, text }));
  const tell = async (): Promise<ReturnType<typeof mails>> => {
    while (await tellNext(stage.context));
    return mails();
  };

  it('who registers, who says no, who writes, and that a place is free: to whom wants to hear it, each thing once', async () => {
    await setTells(stage.context, ana, {
      kinds: ['yes', 'no', 'waits', 'comment', 'place'],
      summaryAt: null,
      zone: 'Asia/Tokyo',
    });
    await setTells(stage.context, rui, { kinds: ['place'], summaryAt: null, zone: '' });
    await register(1);
    await register(2);
    await register(3);
    const first = await tell();
    expect(first.map(({ to, subject }) => [to, subject])).toEqual([
      ['ana@team.example', '2 say yes, one waits for a place: Dome night'],
    ]);
    // On her own clock: noon in Lisbon is eight in the evening in Tokyo.
    expect(first[0]?.text).toContain('20:00 Tokyo: Person 1 says yes');
    await leaveWaitlist(stage.context, { eventId: event, subscriberId: 3, occurrence: '' });
    // What comes within five minutes waits for the next.
    await answer(2, 'declined', 'Ill, <b>sorry</b> http://evil.example');
    expect((await tell()).map(({ to, subject }) => [to, subject])).toEqual([
      ['rui@team.example', 'A place is free: Dome night'],
    ]);
    await clockTo(stage, at('2031-06-10T12:06'));
    const [later, ...others] = await tell();
    expect([later?.to, later?.subject, others.length]).toEqual([
      'ana@team.example',
      'One says no, one wrote a comment, a place is free: Dome night',
      0,
    ]);
    expect(later?.text).toContain('Person 2 says no “Ill, <b>sorry</b> http://evil.example”');
    expect(await tell()).toEqual([]);
  });

  it('nothing of what happened before they asked, and nothing is kept where nobody listens', async () => {
    await register(1);
    expect(await stage.db('news')).toEqual([]);
    await setTells(stage.context, ana, { kinds: ['yes'], summaryAt: null, zone: '' });
    await register(2);
    await setTells(stage.context, rui, { kinds: ['yes'], summaryAt: null, zone: '' });
    expect((await tell()).map(({ to }) => to)).toEqual(['ana@team.example']);
  });

  it('later, where the mail server takes nothing just now, and so many at the most in one mail', async () => {
    await setTells(stage.context, ana, { kinds: ['no'], summaryAt: null, zone: '' });
    await addPeople(stage, 60, 100);
    await stage.db.raw(
      `insert into news (kind, event_id, subscriber_id, at) select 'no', ?, 99 + seq, now(3) from seq_1_to_60`,
      [event],
    );
    const failing = { ...stage.context, mail: { ...stage.context.mail, send: () => Promise.resolve(busy) } };
    expect(await tellNext(failing)).toBeFalse();
    expect(await tellNext(stage.context)).toBeFalse();
    await clockTo(stage, at('2031-06-10T12:02'));
    const [mail] = await tell();
    expect(mail?.text).toContain('and 20 more');
  });
  const busy = { kind: 'transient', answer: 'later', mayHaveLeft: false } as const;

  it('what their day holds, at the time they asked for on their own clock, once a day', async () => {
    // Rui sits in Tokyo, eight hours before Lisbon.
    await setTells(stage.context, rui, { kinds: [], summaryAt: '07:00', zone: 'Asia/Tokyo' });
    await saveCue(
      stage.context,
      event,
      null,
      dayBeforeCue({ audience: { ...dayBeforeCue().audience, lists: [stage.list] } }),
      actor,
    );
    await countAll(stage);
    // A worker is there: else that needs somebody.
    await takeLease(stage.context.store, 3600, stage.clock).beat();
    const summary = async () => {
      while (await summariseNext(stage.context));
      return mails();
    };
    expect(await summary()).toEqual([]);
    // Nothing on an empty day.
    await clockTo(stage, at('2031-06-11T07:00', 'Asia/Tokyo'));
    expect(await summary()).toEqual([]);
    await clockTo(stage, at('2031-06-18T07:00', 'Asia/Tokyo'));
    const [mail, ...others] = await summary();
    expect([mail?.to, mail?.subject, others.length]).toEqual([
      'rui@team.example',
      'Today, Wed 18 Jun 2031: one message goes out',
      0,
    ]);
    expect(mail?.text).toContain('03:30 Tokyo: Tomorrow, Dome night → 5 people by email');
    expect(await summary()).toEqual([]);
    await setTells(stage.context, rui, { kinds: [], summaryAt: null, zone: '' });
    await clockTo(stage, at('2031-06-19T09:00', 'Asia/Tokyo'));
    expect(await summary()).toEqual([]);
  });

  it('at the next such time, also where the clocks leave it out', () => {
    const tells = { kinds: [], summaryAt: '01:30', zone };
    const next = (wall: string) => nextSummaryMs(tells, 'Asia/Tokyo', at(wall));
    expect(next('2031-03-29T00:00')).toBe(at('2031-03-29T01:30'));
    // On 30 March 2031 Lisbon has no half past one.
    expect(next('2031-03-29T01:30')).toBe(at('2031-03-30T02:30'));
    expect(nextSummaryMs({ ...tells, zone: '' }, 'Asia/Tokyo', at('2031-06-10T12:00'))).toBe(
      at('2031-06-11T01:30', 'Asia/Tokyo'),
    );
    expect(nextSummaryMs({ ...tells, summaryAt: null }, zone, 0)).toBeNull();
  });
});
