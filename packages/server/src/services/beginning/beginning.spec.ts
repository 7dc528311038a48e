import { unnamedHouse } from '@convite/contract';
import { deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  specSettings,
  type Stage,
} from '../../testing/stage';
import { readBoard } from '../countdown/board';
import { loadInvented, removeInvented } from './invented';
import { askForProof, proveSender } from './prove-sender';

describe('A house that begins', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await stage.context.store.house.saveSettings({ ...specSettings, organisation: unnamedHouse, postalAddress: '' });
  });
  afterEach(() => stage.close());
  const beginning = async () => (await readBoard(stage.context)).beginning;
  const done = async () => (await beginning())?.steps.filter(({ isDone }) => isDone).map(({ key }) => key);
  const rows = async (table: string): Promise<number> => Number((await stage.db(table).count({ n: '*' }))[0]?.['n']);

  it('ticks each step by itself, and is gone when all are done', async () => {
    expect(await beginning()).toEqual(jasmine.objectContaining({ canInvent: true, hasInvented: false }));
    expect(await done()).toEqual([]);
    await stage.context.store.house.saveSettings(specSettings);
    expect(await done()).toEqual(['house']);
    await addPeople(stage, 1);
    expect(await done()).toEqual(['house', 'people']);
    await publishedEvent(stage);
    expect(await done()).toEqual(['house', 'people', 'event']);
    await proveSender(stage.context, 'house@spec.example');
    expect(await beginning()).toBeNull();
  });

  it('has its sender proven by a link that came from it, and asks anew when the sender changes', async () => {
    expect(await askForProof(stage.context, { ...actor, email: 'owner@spec.example' })).toBe('owner@spec.example');
    const [mail] = stage.sentAtOnce;
    expect([mail?.from.address, mail?.to.address]).toEqual(['house@spec.example', 'owner@spec.example']);
    const token = /\/s\/(\S+)/.exec(mail?.text ?? '')?.[1] ?? '';
    const { links } = stage.context;
    expect(links.readProvenSender(token)).toBe('house@spec.example');
    for (const forged of [
      '',
      'x',
      `${token}0`,
      token.replace(/^./, 'z'),
      `${'a'.repeat(500)}.${'0'.repeat(24)}`,
      '../..',
    ])
      expect(links.readProvenSender(forged)).withContext(forged).toBeNull();
    await proveSender(stage.context, 'house@spec.example');
    expect(await done()).toContain('sender');
    await stage.context.store.house.saveSettings({
      ...specSettings,
      sender: { name: 'x', email: 'new@spec.example', replyTo: '' },
    });
    expect(await done()).not.toContain('sender');
    expect(await proveSender(stage.context, 'house@spec.example')).toBeFalse();
  });

  it('takes invented data in, sends nothing to it, and takes all of it out again', async () => {
    await stage.db('list').delete();
    await loadInvented(stage.context, actor);
    await expectAsync(loadInvented(stage.context, actor)).toBeRejectedWith(
      jasmine.objectContaining({ code: 'not-empty' }),
    );
    await countAll(stage);
    const board = await readBoard(stage.context);
    expect(board.beginning).toEqual(jasmine.objectContaining({ hasInvented: true, canInvent: false }));
    // What is invented ticks nothing.
    expect(board.beginning?.steps.filter(({ isDone }) => isDone).map(({ key }) => key)).toEqual([]);
    const [first] = board.ahead.filter(({ state, tally }) => state === 'set' && tally.gets > 0);
    expect(first).toBeDefined();
    await stage.context.store.house.saveSettings(specSettings);
    // Its moment comes: every one of them is passed over at the last moment.
    await clockTo(stage, Date.parse(first?.dueAt ?? '') + 1000);
    expect((await deliver(stage)).length).toBe(0);
    const states: { state: string }[] = await stage.db('delivery').distinct('state');
    expect(states.map(({ state }) => state)).toEqual(['skipped']);
    // Invented people on somebody's own list, invited to an event of its own.
    const own = await stage.context.store.lists.create('Own');
    const [one] = await stage.db('subscriber').limit(1).pluck('id');
    await stage.context.store.transact((tx) => tx.lists.join(own, [Number(one)], new Date(0)));
    const event = await publishedEvent(stage);
    await invite(stage, event, { lists: [own] });
    expect((await deliver(stage)).length).toBe(0);

    await removeInvented(stage.context, actor);
    expect(await stage.context.store.lists.all()).toEqual([{ id: own, name: 'Own', count: 0, isArchived: false }]);
    for (const table of ['subscriber', 'delivery', 'invitee', 'consent', 'invented'])
      expect(await rows(table))
        .withContext(table)
        .toBe(0);
    expect(await rows('event')).toBe(1);
    expect((await readBoard(stage.context)).beginning?.hasInvented ?? false).toBeFalse();
  });

  it('is under way once something went out, whatever of the board is looked at', async () => {
    await stage.context.store.house.saveSettings(specSettings);
    await addPeople(stage, 1);
    const event = await publishedEvent(stage);
    await invite(stage, event);
    expect((await readBoard(stage.context)).beginning).not.toBeNull();
    expect((await deliver(stage)).length).toBe(1);
    expect((await readBoard(stage.context, { kind: 'digest' })).beginning).toBeNull();
  });

  it('is no place for invented data once somebody is there', async () => {
    await addPeople(stage, 1);
    await expectAsync(loadInvented(stage.context, actor)).toBeRejectedWith(
      jasmine.objectContaining({ code: 'not-empty' }),
    );
  });
});
