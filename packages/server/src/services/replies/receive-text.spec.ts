import type { TextMessage } from '../../mail/message';
import { invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  workOn,
  type Stage,
} from '../../testing/stage';
import { answerLetter, listLetters } from './letters';
import { receiveText } from './receive-text';

describe('a text from a person', () => {
  let stage: Stage;
  let event: number;
  let phones: ReturnType<typeof scriptedEnd<TextMessage>>;
  let worker: Awaited<ReturnType<typeof workOn>>;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
    event = await publishedEvent(stage);
    phones = scriptedEnd<TextMessage>();
    worker = await workOn(stage, { text: phones });
    await invite(stage, event, { channel: 'text', confirmedCount: 2 });
    await until('both are invited', () => phones.taken.length === 2);
  });
  afterEach(async () => {
    await worker.stop();
    await stage.close();
  });

  const number = '+447700900001';
  const say = (text: string, from = number): Promise<void> => receiveText(stage.context, { from, text });
  /** What came to that phone since, oldest first. */
  const backAfter = async (count: number): Promise<string[]> => {
    await until(`${count} texts`, () => phones.taken.length >= 2 + count);
    return phones.taken.slice(2).map(({ to, text }) => `${to} ${text}`);
  };
  const replyOf = (person: number) => stage.context.store.invitees.replyOf(event, person, '');
  const letters = async () => (await listLetters(stage.context, event)).map(({ from, text }) => `${from} ${text}`);

  it('answers what they were texted last; a change of mind counts, and each answer is confirmed', async () => {
    await say('Yes please!');
    expect(await replyOf(1)).toBe('accepted');
    await say('não');
    expect(await replyOf(1)).toBe('declined');
    await say('peut-être');
    expect([await replyOf(1), await replyOf(2)]).toEqual(['tentative', 'needs-action']);
    const back = await backAfter(3);
    expect(back[0]).toMatch(/^\+447700900001 You are coming: .*answer NO/);
    expect(back[1]).toMatch(/You are not coming/);
    expect(back[2]).toMatch(/Perhaps you are coming/);
    // Whoever writes without end is not written to without end.
    for (let n = 0; n < 5; n += 1) await say('yes');
    expect(await stage.db('firing').where({ kind: 'answer' })).toHaveSize(3);
    expect(await letters()).toEqual([]);
  });

  it('says so where there is no place left, and counts no yes', async () => {
    await stage.db('event_version').update({
      facts: stage.db.raw(
        `json_set(facts, '$.registration', json_object('places', 1, 'approval', false, 'closesMinutes', 0))`,
      ),
    });
    await say('yes', '+447700900002');
    await say('yes');
    expect([await replyOf(1), await replyOf(2)]).toEqual(['needs-action', 'accepted']);
    expect((await backAfter(2)).find((text) => text.startsWith(number))).toMatch(/no place left/);
  });

  it('ends and takes up texts in any language, says so once, and answers HELP whoever asks', async () => {
    const consent = async () =>
      (await stage.context.store.subscribers.find(1))?.id &&
      (await stage.db('subscriber').where({ id: 1 }).first('text_consent'))?.text_consent;
    await stage.db('subscriber').where({ id: 1 }).update({ language: 'de' });
    await say('ABMELDEN');
    expect(await consent()).toBe(0);
    await say('Hilfe');
    await say('Starten');
    expect(await consent()).toBe(1);
    const back = await backAfter(3);
    expect(back.map((text) => text.split(': ')[1]?.slice(0, 14))).toEqual([
      'Sie bekommen k',
      'Sie bekommen N',
      'Sie bekommen w',
    ]);
    // Nobody that we do not know is written to.
    await say('HELP', '+447700900999');
    await say('STOP', '+447700900999');
    expect(await stage.db('firing').where({ kind: 'answer' })).toHaveSize(3);
  });

  it('is shown to a member where it says more, who answers it by text', async () => {
    await say('Is there parking? {{event.title}}');
    await say('No idea what this is', '+447700900002');
    await say('stop it, where is the gate?', '+447700900002');
    await say('yes', '+447700900999');
    expect(await replyOf(2)).toBe('needs-action');
    expect(await letters()).toEqual([
      '+447700900002 stop it, where is the gate?',
      '+447700900002 No idea what this is',
      `${number} Is there parking? {{event.title}}`,
    ]);
    const open = await listLetters(stage.context, null);
    expect(open.map(({ from, name, channel }) => [from, name, channel])).toContain(['+447700900999', '', 'text']);
    const asked = open.find(({ from }) => from === number);
    await answerLetter(stage.context, asked?.id ?? 0, 'Yes, behind the dome.', actor, 'a-key-of-its-own');
    await answerLetter(stage.context, asked?.id ?? 0, 'Yes, behind the dome.', actor, 'a-key-of-its-own');
    const back = await backAfter(2);
    expect(back.filter((text) => text.includes('behind the dome'))).toEqual([`${number} Yes, behind the dome.`]);
    expect((await listLetters(stage.context, null)).map(({ id }) => id)).not.toContain(asked?.id ?? 0);
    const stranger = open.find(({ from }) => from === '+447700900999');
    await expectAsync(answerLetter(stage.context, stranger?.id ?? 0, 'x', actor, null)).toBeRejectedWithError(/known/);
  });

  it('of an event that is over, or by who is no guest of it, is for a person to judge', async () => {
    await stage.db('invitee').where({ event_id: event, subscriber_id: 2 }).delete();
    await say('yes', '+447700900002');
    await stage.db('event').where({ id: event }).update({ status: 'called-off' });
    await say('yes');
    expect(await replyOf(1)).toBe('needs-action');
    expect((await listLetters(stage.context, null)).map(({ from }) => from)).toEqual([number, '+447700900002']);
  });

  it('without end is refused after twenty a day, and what came before is kept', async () => {
    for (let n = 0; n < 20; n += 1) await say(`What about ${n}?`);
    await expectAsync(say('And this?')).toBeRejectedWithError(/more than is kept/);
    expect(await listLetters(stage.context, event)).toHaveSize(20);
  });
});
