import type { TestRequest } from '@convite/contract';
import { letter, plainDocument, wallTimeAt } from '@convite/core';
import { addPeople, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { fiveReaders } from './five-readers';
import { exampleReader } from './invite';
import { sendTest } from './send-test';

const me = { name: 'Marta', email: 'marta@house.example' };

describe('a message that is tried', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const wording = letter('{{event.title}}', 'Dear {{person.firstName|friend}}, {{event.when}}', { kind: 'reply' });
  const request = (over: Partial<TestRequest> = {}): TestRequest => ({
    ...{ kind: 'cue', channel: 'email', wording, eventId: event, personId: 2, asFive: false, to: [] },
    ...over,
  });

  it('goes to whoever tries it at once, as that person, marked, with nobody’s way out and nobody’s answer in it', async () => {
    expect(await sendTest(stage.context, request(), me)).toEqual({ sent: 1, to: [me.email], refused: [] });
    const [mail] = stage.sentAtOnce;
    expect([mail?.subject, mail?.to.address, mail?.optOut]).toEqual(['[Test] Dome night', me.email, null]);
    expect(mail?.text).toContain('Dear Person,');
    const { links } = stage.context;
    const reply = /\/r\/([^\s?]+)/.exec(mail?.text ?? '')?.[1] ?? '';
    expect(links.readPersonEvent('reply', reply)).toEqual({ eventId: event, subscriberId: 0 });
    for (const id of [1, 2]) expect(mail?.html).not.toContain(links.optOut(id));
    // Counted nowhere, and in the log.
    expect(await stage.db('delivery').count({ n: '*' }).first()).toEqual({ n: 0 });
    expect((await stage.db('audit').orderBy('id', 'desc').first()).action).toBe('message: test sent');
  });

  it('of a cue leads whoever is signed in to where it is held, in every language, and in no real message', async () => {
    const languages = { pt: letter('Amanhã', 'Venha.') };
    await sendTest(stage.context, request({ cueId: 7, wording: { ...wording, languages } }), me);
    const where = stage.context.links.holdCue(event, 7);
    expect(stage.sentAtOnce[0]?.text).toContain(`Hold this: ${where}`);
    await stage.db('subscriber').where({ id: 2 }).update({ language: 'pt' });
    await sendTest(stage.context, request({ cueId: 7, wording: { ...wording, languages } }), me);
    expect(stage.sentAtOnce[1]?.text).toMatch(/^Venha\.[^]*Hold this: http/);
    await sendTest(stage.context, request(), me);
    expect(stage.sentAtOnce[2]?.text).not.toContain('Hold this');
  });

  it('goes as five readers who are easily forgotten: each as they would read it', async () => {
    await sendTest(stage.context, request({ asFive: true, to: ['a@x.example', 'B@x.example'] }), me);
    expect(stage.sentAtOnce.length).toBe(10);
    const [nameless, away, rtl, , portuguese] = stage.sentAtOnce;
    expect(nameless?.text).toContain('Dear friend,');
    expect(away?.text).toContain('for you:');
    expect(rtl?.text).toContain('Dear נועה,');
    expect(portuguese?.text).toMatch(/qua|junho|jun/i);
    expect(new Set(stage.sentAtOnce.map(({ messageId }) => messageId)).size).toBe(10);
  });

  it('brings the calendar entry of an invitation, and strikes it out for one called off', async () => {
    for (const kind of ['invitation', 'notice', 'call-off'] as const)
      await sendTest(stage.context, request({ kind }), me);
    expect(stage.sentAtOnce.map(({ calendar }) => calendar?.method)).toEqual(['REQUEST', 'REQUEST', 'CANCEL']);
  });

  it('goes as a text to a number that is typed, and as a message about no event', async () => {
    const text = { channel: 'text' as const, wording: plainDocument('', 'Tonight {{event.time}}') };
    await expectAsync(sendTest(stage.context, request(text), me)).toBeRejected();
    await expectAsync(sendTest(stage.context, request({ ...text, to: ['nonsense'] }), me)).toBeRejected();
    await sendTest(stage.context, request({ ...text, to: ['07700 900123'] }), me);
    expect(stage.textedAtOnce.map(({ to, text: said }) => [to, said])).toEqual([
      ['+447700900123', '[Test] Tonight 19:30 Lisbon time'],
    ]);
    const none = { kind: 'manual' as const, eventId: null, personId: 1, wording: letter('Hi', '{{person.name}}') };
    await sendTest(stage.context, request(none), me);
    expect(stage.sentAtOnce[0]?.text).toContain('Person 1');
    await expectAsync(sendTest(stage.context, request({ ...none, wording }), me)).toBeRejected();
    await expectAsync(sendTest(stage.context, request({ to: ['no address'] }), me)).toBeRejected();
  });

  it('says in the other side’s words what it did not take', async () => {
    const refusal = { kind: 'permanent', answer: '550 nobody here', about: 'address' } as const;
    const context = { ...stage.context, mail: { send: () => Promise.resolve(refusal) } };
    await expectAsync(sendTest(context, request(), me)).toBeRejectedWithError(/550 nobody here/);
  });
});

describe('five readers', () => {
  it('live eleven hours away wherever the event is, winter and summer', () => {
    for (const zone of ['Europe/Lisbon', 'Asia/Kolkata', 'America/Los_Angeles', 'Pacific/Auckland', 'UTC'])
      for (const atMs of [Date.UTC(2031, 0, 15), Date.UTC(2031, 6, 15)]) {
        const away = fiveReaders(exampleReader, { zone, atMs })[1]?.person.zone ?? '';
        const at = (one: string): number => Date.parse(`${wallTimeAt(atMs, one).slice(0, 16)}Z`);
        const hours = Math.abs(at(away) - at(zone)) / 3_600_000;
        expect(hours).withContext(zone).toBeGreaterThanOrEqual(10);
        expect(hours).withContext(zone).toBeLessThanOrEqual(12);
      }
  });
});
