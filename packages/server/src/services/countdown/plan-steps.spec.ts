import type { CueFields } from '@convite/contract';
import { plainDocument, resolveWallTime, type EventFacts, type StepMoment } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { replyByPage } from '../replies/reply-by-page';
import { takePlace } from '../registration/register';
import { readBoard } from './board';
import { saveCue } from './cues';
import { setFiringAgain, stopFiring } from './firings';
import { listCues } from './list-cues';
import { planNextSteps } from './plan-steps';
import { previewCue } from './preview-cue';

const zone = 'Europe/Lisbon';
const at = (wall: string): number => resolveWallTime(wall, zone);
const registration = { places: null, closesMinutes: 0, confirms: false };
const weekly: Partial<EventFacts> = {
  registration,
  series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] },
};
const first = '20310618T193000';
const second = '20310625T193000';

describe('cues counted from what people do', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage, { registration });
  });
  afterEach(() => stage.close());

  const cueOf = (moment: Omit<StepMoment, 'kind'>, over: Partial<CueFields> = {}): CueFields =>
    dayBeforeCue({
      moment: { kind: 'step', ...moment },
      audience: { ...dayBeforeCue().audience, invitees: ['accepted'] },
      wording: plainDocument('For {{event.date}}', 'See you.'),
      ...over,
    });
  const save = (fields: CueFields, id: number | null = null): Promise<number> =>
    saveCue(stage.context, event, id, fields, actor);
  const hoursAfter = (amount: number): CueFields => cueOf({ step: 'registration', amount, unit: 'hours', at: null });
  const nextDay = (over: Partial<CueFields> = {}): CueFields =>
    cueOf({ step: 'registration', amount: 1, unit: 'days', at: '10:00' }, over);
  const register = async (person: number, wall: string, occurrence = ''): Promise<void> => {
    await clockTo(stage, at(wall));
    const done = await takePlace(stage.context, event, {
      name: `Person ${person}`,
      email: `p${person}@people.example`,
      occurrence,
    });
    expect(done?.kind).toBe('down');
  };
  const decline = (person: number) =>
    replyByPage(
      stage.context,
      { eventId: event, subscriberId: person },
      { occurrence: '', state: 'declined', comment: '' },
    );
  const plan = async (): Promise<void> => {
    // A worker may have looked a moment ago.
    await clockTo(stage, stage.clock.now() + 10_000);
    while (await planNextSteps(stage.context));
  };
  const firings = (): Promise<{ slot: string; zone: string; state: string; due_at: Date }[]> =>
    stage.db('firing').where({ kind: 'cue' }).orderBy('due_at').select('slot', 'zone', 'state', 'due_at');
  /** What goes out at an instant, as `p1: For Wed 18 Jun 2031`. */
  const sentAt = async (wall: string, count: number): Promise<string[]> => {
    await deliver(stage);
    await clockTo(stage, at(wall));
    await countAll(stage);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('they were written to', () => mail.taken.length >= count);
    await new Promise((done) => setTimeout(done, 1200));
    await worker.stop();
    return mail.taken.map(({ to, subject }) => `${to.address.slice(0, 2)}: ${subject}`).sort();
  };

  it('go so long after each person’s own step, to the minute, once; who left meanwhile gets nothing', async () => {
    await save(hoursAfter(2));
    await register(1, '2031-06-10T12:00');
    await register(2, '2031-06-10T12:40');
    await register(3, '2031-06-10T12:40');
    await plan();
    expect((await firings()).map(({ slot, state }) => [slot, state])).toEqual([
      ['r2031-06-10T11:00Z@', 'set'],
      ['r2031-06-10T11:40Z@', 'set'],
    ]);
    // One line for both, on the board and in the countdown, and nobody is alarmed for each.
    await countAll(stage);
    const [row] = await listCues(stage.context, event);
    expect([row?.firing.otherZones?.count, row?.firing.tally.gets, row?.firing.step?.at]).toEqual([
      1,
      3,
      '2031-06-10T11:00:00.000Z',
    ]);
    expect((await readBoard(stage.context, { kind: 'cue' })).ahead.map(({ title }) => title)).toEqual(['Tomorrow']);
    expect(await stage.context.store.firings.takeStandby(at('2031-06-10T13:55'), 600_000)).toBeNull();
    expect((await sentAt('2031-06-10T14:00', 1)).map((one) => one.slice(0, 6))).toEqual(['p1: Fo']);
    await decline(3);
    expect((await sentAt('2031-06-10T14:40', 1)).map((one) => one.slice(0, 6))).toEqual(['p2: Fo']);
  });

  it('of a series are about the date that was registered for, and go to all of a day together', async () => {
    event = await publishedEvent(stage, weekly);
    await save(nextDay());
    await register(1, '2031-06-11T00:00', first);
    await register(1, '2031-06-11T18:00', second);
    await register(2, '2031-06-11T23:59', second);
    await plan();
    expect((await firings()).map(({ slot }) => slot)).toEqual(
      jasmine.arrayWithExactContents([`r2031-06-11@${first}`, `r2031-06-11@${second}`]),
    );
    const sent = await sentAt('2031-06-12T10:00', 3);
    expect(sent.map((one) => one.slice(0, 2))).toEqual(['p1', 'p1', 'p2']);
    expect(new Set(sent.filter((one) => one.startsWith('p1'))).size).toBe(2);
    expect(sent[2]).toContain('25');
  });

  it('do not go once what they are about has begun, and come back with an event that is put off', async () => {
    await save(nextDay());
    await register(1, '2031-06-18T09:00');
    await plan();
    expect(await firings()).toEqual([]);
    const { version } = await getEvent(stage.context, event);
    const later = { kind: 'timed', start: '2031-06-20T19:30', end: '2031-06-20T22:00' } as const;
    await saveEvent(stage.context, event, { facts: { ...version.facts, span: later }, basedOn: version.number }, actor);
    await plan();
    expect((await firings()).map(({ slot, state }) => [slot, state])).toEqual([['r2031-06-18@', 'set']]);
  });

  it('remind of an invitation that nobody answered, in each person’s own morning', async () => {
    await stage.db('subscriber').where({ id: 2 }).update({ zone: 'Asia/Tokyo' });
    const audience = { ...dayBeforeCue().audience, invitees: ['needs-action' as const] };
    await save(cueOf({ step: 'invitation', amount: 3, unit: 'days', at: '10:00', clock: 'person' }, { audience }));
    await invite(stage, event);
    await deliver(stage);
    await plan();
    expect((await firings()).map(({ slot, zone: theirs, due_at }) => [slot, theirs, due_at.toISOString()])).toEqual([
      ['i2031-06-10@', 'Asia/Tokyo', '2031-06-13T01:00:00.000Z'],
      ['i2031-06-10@', 'Europe/Lisbon', '2031-06-13T09:00:00.000Z'],
    ]);
    await decline(1);
    expect((await sentAt('2031-06-13T02:00', 1)).map((one) => one.slice(0, 2))).toEqual(['p2']);
    expect((await sentAt('2031-06-13T10:00', 2)).map((one) => one.slice(0, 2))).toEqual(['p3', 'p4']);
  });

  it('follow their cue as it is changed: what fits no more goes, what people did before is found again', async () => {
    const id = await save(hoursAfter(2));
    await register(1, '2031-06-10T12:00');
    await plan();
    await save(nextDay(), id);
    await plan();
    expect((await firings()).map(({ slot, state }) => [slot, state])).toEqual([['r2031-06-10@', 'set']]);
    await save(nextDay({ isDraft: true }), id);
    await register(2, '2031-06-11T12:00');
    await plan();
    expect((await firings()).map(({ slot, state }) => [slot, state])).toEqual([
      ['r2031-06-10@', 'draft'],
      ['r2031-06-11@', 'draft'],
    ]);
    const preview = await previewCue(stage.context, event, nextDay(), 2);
    expect([preview.dueAt, preview.person?.whyNot, preview.problems]).toEqual(['2031-06-12T09:00:00.000Z', null, []]);
    expect((await previewCue(stage.context, event, nextDay(), 3)).dueAt).toBeNull();
  });

  it('are held and set again together, where they go by the minute', async () => {
    await save(hoursAfter(3));
    await register(1, '2031-06-10T12:00');
    await register(2, '2031-06-10T12:05');
    await plan();
    const [one = 0] = await stage.db('firing').where({ kind: 'cue' }).orderBy('due_at').pluck('id');
    await stopFiring(stage.context, Number(one), actor);
    expect((await firings()).map(({ state }) => state)).toEqual(['stopped', 'stopped']);
    await setFiringAgain(stage.context, Number(one), actor);
    expect((await firings()).map(({ state }) => state)).toEqual(['set', 'set']);
  });

  it('say what cannot be: so many hours, a day without a time, a registration where there is none', async () => {
    const refused = (fields: CueFields, problem: object) =>
      expectAsync(save(fields)).toBeRejectedWith(
        jasmine.objectContaining({
          more: { problems: [jasmine.objectContaining({ path: 'moment', ...problem })] },
        }),
      );
    await refused(hoursAfter(73), { code: 'bad-number' });
    await refused(hoursAfter(0), { code: 'bad-number' });
    await refused(cueOf({ step: 'registration', amount: 1, unit: 'days', at: null }), { code: 'required' });
    event = await publishedEvent(stage);
    await refused(nextDay(), { code: 'no-registration' });
  });

  it('are all found where more people did it than are read at once', async () => {
    await save(cueOf({ step: 'registration', amount: 72, unit: 'hours', at: null }));
    await stage.db.raw(
      `insert into subscriber (id, email, name, zone, created_at) select 1000 + seq, concat('m', seq, '@people.example'), 'M', 'Europe/Lisbon', now() from seq_1_to_4300`,
    );
    await stage.db.raw(
      `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at)
       select ?, 1000 + seq, '', 'confirmed', timestampadd(minute, -(seq div 2), ?), now() from seq_1_to_4300`,
      [event, new Date(at('2031-06-10T12:00'))],
    );
    await plan();
    expect((await firings()).length).toBe(2151);
  });
});
