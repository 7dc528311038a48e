import { readFileSync } from 'node:fs';
import { inspect } from 'node:util';
import type { EmailMessage, End, Refusal, TextMessage } from '../mail/message';
import { saveCue } from '../services/countdown/cues';
import { setGrace } from '../services/countdown/grace';
import { stopFiring } from '../services/countdown/firings';
import { isOutage } from '../store/database';
import { openSink } from '../testing/sink';
import { dayBeforeCue, invite } from '../testing/acts';
import {
  actor,
  byHand,
  publishedEvent,
  addPeople,
  clockTo,
  openStage,
  scriptedEnd,
  until,
  workOn,
  type Stage,
} from '../testing/stage';
import type { CueFields } from '@convite/contract';
import { wallTimeAt, plainDocument } from '@convite/core';

const hourMs = 3_600_000;

const cue = (over: Partial<CueFields> = {}): CueFields =>
  dayBeforeCue({
    moment: { kind: 'relative', amount: 2, unit: 'hours', direction: 'before', anchor: 'start', at: null },
    ...over,
  });

describe('the worker, with real faults', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 12);
  });
  afterEach(() => stage.close());

  const toList = (): CueFields['audience'] => ({
    invitees: [],
    lists: [stage.list],
    exceptLists: [],
    exceptReplies: [],
    topics: null,
  });
  /** An event three hours from now by the clock, in the event's zone. */
  const soon = (): Promise<number> => {
    const start = wallTimeAt(stage.clock.now() + 3 * hourMs, 'Europe/Lisbon');
    return publishedEvent(stage, {
      span: { kind: 'timed', start, end: wallTimeAt(stage.clock.now() + 5 * hourMs, 'Europe/Lisbon') },
    });
  };
  const answers = async (state: string): Promise<string[]> => stage.db('delivery').where({ state }).pluck('answer');

  it('tells the screens that a firing is done, also when its last message leaves while others are written down', async () => {
    const event = await publishedEvent(stage);
    const topic = `event:${event}`;
    const told = async (): Promise<number> => (await stage.context.store.live.recent(60)).get(topic) ?? 0;
    const isDone = async (): Promise<boolean> =>
      (await stage.context.store.firings.ofEvent(event)).every(({ state }) => state === 'done');
    let release = (): void => undefined;
    const held = new Promise<void>((resolve) => (release = resolve));
    let taken = 0;
    const mail: End<EmailMessage> = {
      send: async () => {
        if ((taken += 1) === 12) await held;
        return null;
      },
      close: () => undefined,
    };
    const { store } = stage.context;
    let written = 0;
    let before = Infinity;
    // Writing the first eleven down takes until the twelfth has left.
    const transact: typeof store.transact = async (work) => {
      const isWriting = taken === 12 && (written += 1) === 1;
      if (isWriting) {
        before = await told();
        release();
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      return store.transact(work);
    };
    await invite(stage, event);
    const worker = await workOn({ ...stage, context: { ...stage.context, store: { ...store, transact } } }, { mail });
    await until('all is written down', async () => (await stage.db('delivery').where({ state: 'sent' })).length === 12);
    await until('the firing is done', isDone, 5);
    await until('the screens are told', async () => (await told()) > before, 5);
    await worker.stop();
  });

  it('fires a cue within two seconds of its instant, once for everybody, by email and by text', async () => {
    const event = await soon();
    await saveCue(stage.context, event, null, cue({ audience: toList() }), actor);
    await saveCue(
      stage.context,
      event,
      null,
      cue({ audience: toList(), channel: 'text', wording: plainDocument('', 'Soon: {{event.title}}') }),
      actor,
    );
    const [mail, text] = [scriptedEnd<EmailMessage>(), scriptedEnd<TextMessage>()];
    const workers = await Promise.all([workOn(stage, { mail, text }), workOn(stage, { mail, text })]);
    const [firing] = await stage.context.store.firings.ofEvent(event);
    const dueMs = firing?.dueMs ?? 0;
    await clockTo(stage, dueMs - 1500);
    await until('the first message leaves', () => mail.taken.length > 0);
    expect(stage.clock.now() - dueMs).toBeGreaterThanOrEqual(0);
    expect(stage.clock.now() - dueMs).toBeLessThan(2000);
    await until('all are sent', async () =>
      (await stage.context.store.firings.ofEvent(event)).every(({ state }) => state === 'done'),
    );
    await Promise.all(workers.map((worker) => worker.stop()));
    expect(mail.taken.map(({ to }) => to.address).sort()).toEqual(
      Array.from({ length: 12 }, (_, index) => `p${index + 1}@people.example`).sort(),
    );
    expect(new Set(text.taken.map(({ to }) => to)).size).toBe(12);
    expect(text.taken.length).toBe(12);
  });

  it('records a permanent refusal with the server’s words and suppresses the address', async () => {
    const sink = await openSink();
    sink.refusal = { code: 550, text: '5.1.1 nobody here by that name' };
    const event = await publishedEvent(stage);
    await invite(stage, event);
    const worker = await workOn(stage, { smtpPort: sink.port });
    await until('the firing is closed', async () =>
      (await stage.context.store.firings.ofEvent(event)).every(({ state }) => state === 'failed'),
    );
    await worker.stop();
    expect((await answers('failed')).length).toBe(12);
    expect((await answers('failed'))[0]).toContain('nobody here by that name');
    expect((await stage.context.store.subscribers.page({ search: '', after: 0, limit: 1 })).rows[0]?.state).toBe(
      'bounced',
    );
    const [firing] = await stage.context.store.firings.ofEvent(event);
    expect([firing?.state, firing?.sent, firing?.failed]).toEqual(['failed', 0, 12]);
    await sink.close();
  });

  it('tries again after a transient refusal, waiting longer each time', async () => {
    const sink = await openSink();
    sink.refusal = { code: 451, text: '4.3.2 later' };
    await invite(stage, await publishedEvent(stage));
    const worker = await workOn(stage, { smtpPort: sink.port });
    await until(
      'all were refused once',
      async () =>
        Number((await stage.db('delivery').where({ state: 'queued', attempts: 1 }).whereNot('answer', '')).length) ===
        12,
    );
    const next = (await stage.db('delivery').max({ at: 'next_at' })) as { at: Date }[];
    expect((next[0]?.at.getTime() ?? 0) - stage.clock.now()).toBeGreaterThan(50_000);
    sink.refusal = null;
    await clockTo(stage, stage.clock.now() + 61_000);
    await until('all are sent', () => sink.mails.length === 12);
    await worker.stop();
    await sink.close();
  });

  it('waits for a mail server that is away, without spending attempts', async () => {
    const sink = await openSink();
    const { port } = sink;
    await sink.close();
    await invite(stage, await publishedEvent(stage));
    const worker = await workOn(stage, { smtpPort: port });
    await until(
      'it was tried in vain',
      async () => (await stage.db('delivery').where({ state: 'queued' })).length === 12,
    );
    await new Promise((resolve) => setTimeout(resolve, 500));
    const back = await openSink(port);
    await until('all are sent', () => back.mails.length === 12, 15);
    expect(Math.max(...(await stage.db('delivery').pluck('attempts')))).toBe(1);
    await worker.stop();
    await back.close();
  });

  it('stops in the middle of sending: what has not left stays', async () => {
    await addPeople(stage, 400, 100);
    const mail = scriptedEnd<EmailMessage>();
    const slow = {
      ...mail,
      send: async (message: EmailMessage): Promise<Refusal | null> => (
        await new Promise((resolve) => setTimeout(resolve, 20)),
        mail.send(message)
      ),
    };
    const event = await publishedEvent(stage);
    await invite(stage, event, { confirmedCount: 412 });
    const worker = await workOn(stage, { mail: slow });
    await until('some have left', () => mail.taken.length > 20);
    const [firing] = await stage.context.store.firings.ofEvent(event);
    await stopFiring(stage.context, firing?.id ?? 0, actor);
    const atStop = mail.taken.length;
    await until(
      'nothing is under way',
      async () => (await stage.db('delivery').whereIn('state', ['queued', 'sending'])).length === 0,
    );
    await worker.stop();
    // A claim may be in hand, but it is given up as soon as the stop is seen, half a second later at the most.
    expect(mail.taken.length - atStop).toBeLessThan(220);
    expect((await answers('stopped')).length).toBe(412 - mail.taken.length);
    await expectAsync(stopFiring(stage.context, firing?.id ?? 0, actor)).toBeRejectedWithError(/Too late/);
  });

  it('gives up a database that stands still, and goes on where it was when that answers again', async () => {
    const pid = Number(process.env['SPEC_DATABASE_PID']);
    await addPeople(stage, 600, 100);
    const sink = await openSink();
    sink.delayMs = 5;
    await invite(stage, await publishedEvent(stage), { confirmedCount: 612 });
    const worker = await workOn(stage, { smtpPort: sink.port });
    await until('some have left', () => sink.mails.length > 100);
    process.kill(pid, 'SIGSTOP');
    // On a busy machine it goes on for some milliseconds.
    await until('it stands still', () => / T /.test(readFileSync(`/proc/${pid}/stat`, 'utf8')));
    const asked = await stage.context.store.live.ping().then(
      () => null,
      (error: unknown) => error,
    );
    process.kill(pid, 'SIGCONT');
    expect(isOutage(asked)).withContext(inspect(asked)).toBeTrue();
    await until('everybody is reached', () => new Set(sink.mails.map(({ to }) => to)).size === 612, 40);
    await worker.stop();
    const ids = new Map<string, Set<string>>();
    for (const { to, messageId } of sink.mails) ids.set(to, (ids.get(to) ?? new Set()).add(messageId));
    expect([...ids.values()].filter((set) => set.size > 1)).toEqual([]);
    await sink.close();
  }, 70_000);

  it('marks as missed what nobody was up for, and drafts that were forgotten', async () => {
    const event = await soon();
    await saveCue(stage.context, event, null, cue({ audience: toList() }), actor);
    await saveCue(stage.context, event, null, cue({ isDraft: true }), actor);
    await clockTo(stage, stage.clock.now() + 3 * hourMs);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('both are missed', async () =>
      (await stage.context.store.firings.ofEvent(event)).every(({ state }) => state === 'missed'),
    );
    await worker.stop();
    expect(mail.taken).toEqual([]);
  });

  it('lets an event say for itself how late its cues still go', async () => {
    const [strict, patient] = [await soon(), await soon()];
    for (const event of [strict, patient])
      await saveCue(stage.context, event, null, cue({ audience: toList() }), actor);
    await setGrace(stage.context, strict, 5, actor);
    await setGrace(stage.context, patient, 720, actor);
    const [firing] = await stage.context.store.firings.ofEvent(patient);
    await clockTo(stage, (firing?.dueMs ?? 0) + hourMs / 2);
    const worker = await workOn(stage, { mail: scriptedEnd<EmailMessage>() });
    const stateOf = async (event: number) => (await stage.context.store.firings.ofEvent(event))[0]?.state;
    await until(
      'each is what its event says',
      async () => [await stateOf(strict), await stateOf(patient)].join() === 'missed,done',
    );
    await worker.stop();
  });

  it('reads the audience at the moment of firing: a late guest gets it, a removed person does not', async () => {
    const event = await soon();
    await saveCue(stage.context, event, null, cue({ audience: toList() }), actor);
    await addPeople(stage, 1, 50);
    await stage.db('list_member').where({ subscriber_id: 3 }).delete();
    await stage.context.store.consents.optOut(4, byHand, new Date());
    const mail = scriptedEnd<EmailMessage>();
    const [firing] = await stage.context.store.firings.ofEvent(event);
    await clockTo(stage, firing?.dueMs ?? 0);
    const worker = await workOn(stage, { mail });
    await until('it is done', async () => (await stage.context.store.firings.find(firing?.id ?? 0))?.state === 'done');
    await worker.stop();
    const reached = mail.taken.map(({ to }) => to.address);
    expect(reached.length).toBe(11);
    expect(reached).toContain('p50@people.example');
    expect(reached).not.toContain('p3@people.example');
    expect(reached).not.toContain('p4@people.example');
  });
});
