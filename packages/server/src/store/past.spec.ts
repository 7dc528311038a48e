import { logQuery, type LogPage } from '@convite/contract';
import { saveCue } from '../services/countdown/cues';
import { readLog } from '../services/log/read-log';
import { dayBeforeCue, deliver, invite } from '../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, until, workOn, type Stage } from '../testing/stage';

const dayMs = 86_400_000;

describe('what went out', () => {
  let stage: Stage;
  const notReached = (firing: number) => readLog(stage.context, logQuery.parse({ firing, state: 'not-reached' }));
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 20);
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());
  const refusing = (code: number) => (message: { to: { address: string } }) =>
    message.to.address === 'p7@people.example'
      ? ({
          kind: code < 500 ? 'transient' : 'permanent',
          answer: `${code} no`,
          mayHaveLeft: false,
          about: 'message',
        } as const)
      : null;
  const counts = async () => {
    const [hot, past] = await Promise.all([
      stage.db('delivery').count({ n: '*' }),
      stage.db('delivery_past').count({ n: '*' }),
    ]);
    return [Number(hot[0]?.['n']), Number(past[0]?.['n'])];
  };

  it('keeps what was answered to each attempt, and shows it with who was not reached', async () => {
    await invite(stage, event);
    await deliver(stage, refusing(451));
    await clockTo(stage, stage.clock.now() + 5 * 60_000);
    await deliver(stage, refusing(550));
    const [{ id = 0 } = {}] = await stage.context.store.firings.ofEvent(event);
    const { rows, zone } = await notReached(id);
    expect([rows.length, zone]).toEqual([1, 'Europe/Lisbon']);
    expect(rows[0]?.attempts.map(({ answer }) => answer)).toEqual(['451 no', '550 no']);
    expect(rows[0]?.answer).toBe('550 no');
  });

  it('moves aside by month once it is long over, and is shown from there as before; old months are dropped', async () => {
    await invite(stage, event);
    await deliver(stage, refusing(550));
    const [{ id = 0 } = {}] = await stage.context.store.firings.ofEvent(event);
    const before = await notReached(id);
    const { past } = stage.context.store;
    const nowMs = stage.clock.now();
    expect(await past.moveSome(new Date(nowMs - 60 * dayMs))).toBeFalse();
    // Out of order: the earlier month comes after the later one.
    const [other = 0] = await stage.db('firing').insert({
      kind: 'notice',
      channel: 'email',
      due_at: new Date(nowMs - 500 * dayMs),
      state: 'done',
      is_expanded: true,
    });
    await stage
      .db('delivery')
      .insert({ firing_id: other, subscriber_id: 3, channel: 'email', state: 'sent', next_at: new Date() });
    await stage
      .db('firing')
      .where({ id })
      .update({ due_at: new Date(nowMs - 300 * dayMs) });
    await stage.db('firing').where({ id: other }).update({ is_past: true });
    while (await past.moveSome(new Date(nowMs - 60 * dayMs)));
    expect(await counts()).toEqual([1, 20]);
    await stage.db('firing').where({ id: other }).update({ is_past: false });
    // By the worker itself, as it does in the background.
    const worker = await workOn(stage, {});
    await until('the other is moved too', async () => (await counts())[1] === 21);
    await worker.stop();
    expect(await counts()).toEqual([0, 21]);
    const without = ({ rows }: LogPage) => rows.map(({ dueAt: _, ...row }) => row);
    expect(without(await notReached(id))).toEqual(without(before));
    expect((await stage.context.store.firings.find(id))?.sent).toBe(19);
    expect(await past.dropBefore(new Date(nowMs - 400 * dayMs))).toBe(1);
    expect(await counts()).toEqual([0, 20]);
    expect(await past.dropBefore(new Date(nowMs - 400 * dayMs))).toBe(0);
  });

  it('of what is still to go, or went lately, leaves everything where it is', async () => {
    await clockTo(stage, Date.UTC(2031, 5, 10));
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    await invite(stage, event);
    await deliver(stage);
    await stage
      .db('firing')
      .where({ kind: 'invitation' })
      .update({ state: 'sending', due_at: new Date(0) });
    expect(await stage.context.store.past.moveSome(new Date(stage.clock.now() - 60 * dayMs))).toBeFalse();
    expect(await counts()).toEqual([20, 0]);
  });
});
