import { letter } from '@convite/core';
import type { LiveCount, ManualPlan } from '@convite/contract';
import type { TextMessage } from '../../mail/message';
import { deliver } from '../../testing/acts';
import {
  actor,
  addPeople,
  openStage,
  scriptedEnd,
  specSettings,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { listMessages, showMessage } from './show-message';
import { countMessage } from '../audience/count-message';
import { previewManual, sendManual } from './write-manual';
import { readBoard } from '../countdown/board';

describe('a message by hand', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
  });
  afterEach(() => stage.close());

  const wording = letter('The dome is closed', '{{person.firstName|Friend}}, we are closed on Friday.');
  const nobody = {
    lists: [],
    segments: [],
    people: [],
    exceptLists: [],
    exceptSegments: [],
    exceptPeople: [],
  };
  const request = (over: Partial<ManualPlan> = {}) => ({
    ...nobody,
    lists: [stage.list],
    channel: 'email' as const,
    wording,
    confirmedCount: null,
    ...over,
  });

  it('goes to lists, segments and people, less others, each once, and is shown again as it went', async () => {
    const { store } = stage.context;
    const other = await store.lists.create('Other');
    await store.lists.join(other, [1], new Date(0));
    const chosen = request({ lists: [other], people: [1, 2, 3, 4], exceptPeople: [3] });
    let counted: LiveCount | null = null;
    for await (const count of await countMessage(stage.context, { kind: 'manual', ...chosen })) counted = count;
    expect(counted?.audience.gets).toBe(3);
    expect((await previewManual(stage.context, chosen)).message.text).toContain('Person, we are closed on Friday.');
    await stage.db('subscriber').where({ id: 4 }).update({ opted_out_at: new Date() });
    expect(await sendManual(stage.context, chosen, actor, 'by-hand-0001')).toBe(2);
    expect(await sendManual(stage.context, chosen, actor, 'by-hand-0001')).toBe(2);
    const mails = await deliver(stage);
    expect(mails.map(({ to }) => to.address).sort()).toEqual(['p1@people.example', 'p2@people.example']);
    expect(mails[0]?.text).toContain('Spec Street 1');
    expect(mails[0]?.text).toMatch(/opt-out/);
    const [row] = (await listMessages(stage.context, 1, 0)).rows;
    expect(row?.name).toBe('The dome is closed');
    expect((await showMessage(stage.context, row?.deliveryId ?? 0)).subject).toBe('The dome is closed');
    const board = await readBoard(stage.context);
    expect(board.behind.map(({ title }) => title)).toEqual(['The dome is closed']);
  });

  it('goes by text too, where there is a number and consent', async () => {
    await stage.db('subscriber').where({ id: 2 }).update({ text_consent: false });
    await sendManual(stage.context, request({ channel: 'text' }), actor, null);
    const text = scriptedEnd<TextMessage>();
    const worker = await workOn(stage, { text });
    await untilSettled(stage);
    await worker.stop();
    expect(text.taken.length).toBe(4);
    expect(text.taken[0]?.text).toContain('we are closed on Friday');
  });

  it('counts for how often people are written to, and asks again as it goes', async () => {
    const { store } = stage.context;
    await store.house.saveSettings({ ...specSettings, pressure: { perWeek: 1, sparesComers: true } });
    await sendManual(stage.context, request({ lists: [], people: [1] }), actor, null);
    await sendManual(stage.context, request(), actor, null);
    expect((await deliver(stage)).length).toBe(5);
    await expectAsync(sendManual(stage.context, request(), actor, null)).toBeRejected();
  });

  it('needs the count above a hundred, and words of its own', async () => {
    await addPeople(stage, 150, 10);
    await expectAsync(sendManual(stage.context, request(), actor, null)).toBeRejectedWith(
      jasmine.objectContaining({ status: 409 }),
    );
    const ofEvent = { ...request(), wording: letter('{{event.title}}', 'See {{link.reply}}', { kind: 'event' }) };
    await expectAsync(sendManual(stage.context, ofEvent, actor, null)).toBeRejectedWith(
      jasmine.objectContaining({ status: 422 }),
    );
    expect(await stage.db('firing').select('id')).toEqual([]);
  });
});
