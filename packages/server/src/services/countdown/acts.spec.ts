import { resolveWallTime, type CueAct } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
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
import type { EmailMessage } from '../../mail/message';
import { readBoard } from './board';
import { saveCue } from './cues';
import { stopFiring } from './firings';
import { finishTask } from './acts';
import { findNeeds } from './find-needs';
import { listCues } from './list-cues';
import { rehearse } from './rehearse';

describe('a cue that does something', () => {
  let stage: Stage;
  let event: number;
  let friends: number;
  const at = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  const fires = at('2031-06-17T19:30');
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
    friends = await stage.context.store.lists.create('Friends');
    // Who opted out, or has no address, is no less on a list for it.
    await stage.db('subscriber').where({ id: 2 }).update({ opted_out_at: new Date() });
    await stage.db('subscriber').where({ id: 3 }).update({ email: null, mobile: '' });
  });
  afterEach(() => stage.close());

  const set = (act: CueAct, isDraft = false): Promise<number> => {
    const audience = { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] };
    return saveCue(stage.context, event, null, dayBeforeCue({ name: 'Do it', act, audience, isDraft }), actor);
  };
  const cueRow = async () => (await listCues(stage.context, event))[0];
  /** Lets its moment come, until it is as it should be. @returns what was mailed beside */
  const play = async (state: string, cues = 1): Promise<readonly EmailMessage[]> => {
    await clockTo(stage, fires);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until(`it is ${state}`, async () => {
      const rows = await listCues(stage.context, event);
      return rows.filter(({ firing }) => firing.state === state).length === cues;
    });
    await worker.stop();
    return mail.taken;
  };
  const onFriends = async (): Promise<number[]> =>
    (await stage
      .db('list_member')
      .where({ list_id: friends })
      .orderBy('subscriber_id')
      .pluck('subscriber_id')) as number[];

  it('puts people on a list and off it, each once, with its log, and writes to nobody', async () => {
    await set({ kind: 'join', list: friends });
    await countAll(stage);
    const before = await cueRow();
    expect([before?.does, before?.firing.tally.gets, before?.hazards]).toEqual(['puts them on Friends', 4, []]);
    expect(await play('done')).toEqual([]);
    expect(await onFriends()).toEqual([1, 2, 3, 4]);
    expect(await stage.db('delivery').where({ channel: 'act', state: 'sent', answer: 'Put on Friends.' })).toHaveSize(
      4,
    );
    expect((await cueRow())?.firing.tally.sent).toBe(4);
    expect((await stage.context.store.lists.find(friends))?.count).toBe(4);
    const { load } = await readBoard(stage.context);
    expect(load.every(({ email, text }) => email === 0 && text === 0)).toBeTrue();
  });

  it('takes them off again, sets a field, or empties it', async () => {
    await stage.context.store.transact((tx) => tx.lists.join(friends, [1, 2, 3, 4], new Date()));
    await set({ kind: 'leave', list: friends });
    const field = await stage.context.store.fields.make('Seat', 'number');
    await set({ kind: 'field', field: field.id, value: '12' });
    await play('done', 2);
    expect(await onFriends()).toEqual([]);
    expect(await stage.db('subscriber_field').where({ field_id: field.id, typed: '12' })).toHaveSize(4);
  });

  it('gives a member a task, by mail and under what needs somebody, until it is done', async () => {
    const ana = { name: 'Ana', email: 'ana@house.example', role: 'marketer', passwordHash: 'x' } as const;
    const id = await stage.context.store.members.create(ana);
    await set({ kind: 'task', member: id, text: 'Ring the caterer\nBcc: x@y.example' });
    await play('done');
    stage.sentAtOnce.splice(0);
    await stage.db('task').update({ told_at: null });
    // That news cannot be read keeps no task back.
    await stage.db.raw('rename table news to news_away');
    const worker = await workOn(stage, { mail: scriptedEnd<EmailMessage>() });
    await until('they are told', () => stage.sentAtOnce.length > 0);
    await worker.stop();
    expect(stage.sentAtOnce.map(({ to, subject }) => [to.address, subject])).toEqual([
      ['ana@house.example', 'A task for you'],
    ]);
    expect(stage.sentAtOnce[0]?.text).toContain('Ring the caterer');
    const needs = async () => (await findNeeds(stage.context)).filter(({ kind }) => kind === 'task');
    const [task] = await needs();
    expect(task?.title).toContain('Ana: Ring the caterer');
    await finishTask(stage.context, task?.taskId ?? 0, actor);
    expect(await needs()).toEqual([]);
    await expectAsync(finishTask(stage.context, task?.taskId ?? 0, actor)).toBeRejectedWithError(/no such task/);
  });

  it('calls another system once, whatever that is told of otherwise', async () => {
    const hook = await stage.context.store.webhooks.create(
      { name: 'Lights', url: 'https://lights.example/on', kinds: ['bounce'], isOn: true },
      'sealed',
      new Date(stage.clock.now()),
    );
    await set({ kind: 'call', webhook: hook });
    await play('done');
    const calls: { kind: string; event_id: number; detail: string }[] = await stage
      .db('webhook_call')
      .select('kind', 'event_id', 'detail');
    expect(calls).toEqual([{ kind: 'cue', event_id: event, detail: 'Do it' }]);
    expect((await cueRow())?.firing.note).toBe('Lights is called.');
  });

  it('says what is wrong: nothing chosen, a value that does not fit, nobody meant; a draft may have gaps', async () => {
    const field = await stage.context.store.fields.make('Seat', 'number');
    for (const act of [
      { kind: 'join', list: 999 },
      { kind: 'field', field: field.id, value: 'by the window' },
      { kind: 'task', member: 999, text: 'x' },
      { kind: 'call', webhook: 999 },
    ] as const) {
      await expectAsync(set(act)).withContext(act.kind).toBeRejected();
      expect(await set(act, true)).toBeGreaterThan(0);
    }
  });

  it('fails for its people alone where its list is gone by then; stopped, it does nothing', async () => {
    await set({ kind: 'join', list: friends });
    await stage.db('list_member').where({ list_id: friends }).delete();
    await stage.db('list').where({ id: friends }).delete();
    await play('failed');
    expect(await stage.db('delivery').where({ state: 'failed', answer: 'The list is gone.' })).toHaveSize(4);
  });

  it('is stopped as any other, and shown in a rehearsal as what is done with that person', async () => {
    await set({ kind: 'join', list: friends });
    const { scenes } = await rehearse(stage.context, event, { personId: 2, archetype: null });
    expect(scenes.map(({ channel, does, whyNot, message }) => [channel, does, whyNot, message])).toEqual([
      ['act', 'puts them on Friends', null, null],
    ]);
    await stopFiring(stage.context, (await cueRow())?.firing.id ?? 0, actor);
    await clockTo(stage, fires + 1000);
    const worker = await workOn(stage, { mail: scriptedEnd<EmailMessage>() });
    await new Promise((done) => setTimeout(done, 1500));
    await worker.stop();
    expect(await onFriends()).toEqual([]);
  });

  it('writes again where it is changed back, with the words that were typed', async () => {
    const id = await set({ kind: 'join', list: friends });
    const audience = { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] };
    await saveCue(stage.context, event, id, dayBeforeCue({ name: 'Do it', audience }), actor);
    const mails = await play('done');
    expect(mails.map(({ to }) => to.address).sort()).toEqual(['p1@people.example', 'p4@people.example']);
    expect(await onFriends()).toEqual([]);
  });
});
