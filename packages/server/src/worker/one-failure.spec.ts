import { createConnection } from 'node:net';
import { createServer } from 'node:http';
import { SMTPServer } from 'smtp-server';
import { logQuery, type Need } from '@convite/contract';
import type { EmailMessage, End, TextMessage } from '../mail/message';
import { refusalAbout } from '../mail/refusal';
import { smtpSender } from '../mail/smtp-sender';
import { probeHttp, probeSmtp } from '../net/probe';
import { readBoard, readStrip } from '../services/countdown/board';
import { saveCue } from '../services/countdown/cues';
import { callOffEvent, saveEvent } from '../services/events/events';
import { sendFiringNow, tryAgain } from '../services/countdown/firings';
import { clockProbe, readTroubles } from '../services/health';
import { houseWordings } from '../services/sending/house-wordings';
import { expandFiring } from '../services/sending/expand-firing';
import { listEvents } from '../services/events/list-events';
import { resumeSending } from '../services/sending/note-refusal';
import { sendNotice } from '../services/sending/notices';
import { textGateway } from '../text/gateway';
import { readLog } from '../services/log/read-log';
import { dayBeforeCue, deliver, invite } from '../testing/acts';
import { openSink } from '../testing/sink';
import {
  actor,
  addPeople,
  clockTo,
  eventFacts,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  untilSettled,
  workOn,
  type Stage,
} from '../testing/stage';

describe('one thing’s failure is its own', () => {
  let stage: Stage;
  const notReached = (firing: number) => readLog(stage.context, logQuery.parse({ firing, state: 'not-reached' }));
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 12);
  });
  afterEach(() => stage.close());
  const later = { kind: 'timed', start: '2031-06-18T21:00', end: '2031-06-18T23:00' } as const;
  const store = () => stage.context.store;
  const needs = async (kind: Need['kind']): Promise<string[]> =>
    (await readBoard(stage.context)).needs.flatMap((need) => (need.kind === kind ? [need.title] : []));
  /** One invitation as it would go. */
  const composed = async (): Promise<EmailMessage | undefined> => {
    await invite(stage, await publishedEvent(stage));
    return (await deliver(stage))[0];
  };
  const firingsOf = (event: number) => store().firings.ofEvent(event);

  it('marks a firing that cannot be read as failed, with the reason, and fires the others', async () => {
    const [bad, fine] = [await publishedEvent(stage), await publishedEvent(stage)];
    await invite(stage, bad);
    await invite(stage, fine);
    await stage.db('firing').where({ event_id: bad }).update({ content: '{"kind":"invitation"}' });
    const mails = await deliver(stage);
    expect(mails.length).toBe(12);
    expect((await firingsOf(fine)).map(({ state }) => state)).toEqual(['done']);
    const [firing] = await firingsOf(bad);
    expect([firing?.state, firing?.note]).toEqual([
      'failed',
      jasmine.stringContaining('cannot be read') as unknown as string,
    ]);
    expect((await needs('failed')).length).toBe(1);
  });

  it('closes what a worker that died left open, behind a hundred that are not over', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    const [left] = await firingsOf(event);
    await stage.db('firing').where({ id: left?.id }).update({ state: 'sending' });
    const nextWeek = new Date(stage.clock.now() + 7 * 86_400_000);
    for (let number = 0; number < 101; number += 1) {
      const content = { kind: 'to-writer', personId: 1, document: houseWordings.change } as const;
      const answer = { kind: 'answer', channel: 'email', dueMs: 0, state: 'set', content } as const;
      const firing_id = await store().firings.create(answer);
      await stage.db('firing').where({ id: firing_id }).update({ state: 'sending', is_expanded: true });
      await stage
        .db('delivery')
        .insert({ firing_id, subscriber_id: 1, channel: 'email', state: 'queued', next_at: nextWeek });
    }
    const worker = await workOn(stage, { mail: scriptedEnd<EmailMessage>() });
    await until('it is closed', async () => (await firingsOf(event))[0]?.state === 'done');
    await worker.stop();
    expect(await stage.db('firing').where({ state: 'sending' })).toHaveSize(101);
  });

  it('shows all other events when the facts of one cannot be read, and says which', async () => {
    const [bad, fine] = [await publishedEvent(stage), await publishedEvent(stage, { title: 'Fine' })];
    await stage.db('event_version').where({ event_id: bad }).update({ facts: '{"title":7}' });
    const { rows } = await listEvents(stage.context, { when: 'coming', search: '', after: 0 });
    expect(rows.map(({ title }) => title)).toEqual(['Fine']);
    expect((await readStrip(stage.context)).next).toBeNull();
    await until('the fault is told', async () => (await needs('fault')).length === 1);
    expect((await needs('fault'))[0]).toMatch(new RegExp(`^Event no. ${bad} cannot be read: title`));
    await invite(stage, fine);
    expect((await deliver(stage)).length).toBe(12);
  });

  it('fails the messages that cannot be composed, and goes on with the lane', async () => {
    const [bad, fine] = [await publishedEvent(stage), await publishedEvent(stage)];
    await invite(stage, bad);
    const [{ id = 0 } = {}] = await firingsOf(bad);
    const due = await store().firings.find(id);
    await store().transact((tx) => expandFiring(tx, due as NonNullable<typeof due>, stage.clock.now()));
    await stage.db('event_version').where({ event_id: bad }).update({ facts: '{}' });
    await invite(stage, fine);
    const mails = await deliver(stage);
    expect(mails.length).toBe(12);
    const [firing] = await firingsOf(bad);
    expect([firing?.state, firing?.failed]).toEqual(['failed', 12]);
    const { rows } = await notReached(firing?.id ?? 0).catch(() => ({ rows: [] }));
    expect(rows.length === 0 || rows[0]?.answer.startsWith('It could not be composed')).toBeTrue();
  });

  it('gives up what is not on the wire when its lease ran out while it lived: nobody is reached twice', async () => {
    await addPeople(stage, 600, 100);
    const sink = await openSink();
    sink.delayMs = 3;
    await invite(stage, await publishedEvent(stage), { confirmedCount: 612 });
    const workers = await Promise.all([workOn(stage, { smtpPort: sink.port }), workOn(stage, { smtpPort: sink.port })]);
    await until('some have left', () => sink.mails.length > 60);
    await stage.db('worker').update({ alive_until: new Date(0) });
    await until('everybody is reached', () => new Set(sink.mails.map(({ to }) => to)).size === 612, 40);
    await untilSettled(stage);
    await Promise.all(workers.map((worker) => worker.stop()));
    // What was on the wire at that very moment may go again, under the same Message-ID.
    expect(sink.mails.length - 612).toBeLessThanOrEqual(24);
    await sink.close();
  }, 60_000);

  it('sends an invitation that was asked for twice once, also by two wishes and several workers', async () => {
    await addPeople(stage, 88, 100);
    const event = await publishedEvent(stage);
    await Promise.all([invite(stage, event), invite(stage, event), invite(stage, event)]);
    const mails = [scriptedEnd<EmailMessage>(), scriptedEnd<EmailMessage>(), scriptedEnd<EmailMessage>()];
    const workers = await Promise.all(mails.map((mail) => workOn(stage, { mail })));
    await untilSettled(stage);
    await Promise.all(workers.map((worker) => worker.stop()));
    const reached = mails.flatMap(({ taken }) => taken.map(({ to }) => to.address));
    expect([reached.length, new Set(reached).size]).toEqual([100, 100]);
  });

  it('does work again that met another’s locks', async () => {
    const [a, b] = [await publishedEvent(stage), await publishedEvent(stage)];
    let meets = 0;
    const both = (first: number, second: number) =>
      store().transact(async (tx) => {
        meets += 1;
        await tx.events.findForUpdate(first);
        await new Promise((resolve) => setTimeout(resolve, 100));
        await tx.events.findForUpdate(second);
      });
    await Promise.all([both(a, b), both(b, a)]);
    expect(meets).toBeGreaterThan(2);
  });

  it('says within its reports what is not there: worker, mail server, gateway, clock', async () => {
    const said = async (): Promise<string[]> => (await readTroubles(store())).map(({ part }) => part);
    expect(await said()).toEqual(['worker']);
    const worker = await workOn(stage, {});
    const refused = await probeSmtp({ host: '127.0.0.1', port: 1, isSecure: false });
    await store().troubles.report('spec', { part: 'mail-server', isOk: refused === null, text: refused ?? '' });
    const away = await probeHttp('http://127.0.0.1:1/x');
    await store().troubles.report('spec', { part: 'text-gateway', isOk: away === null, text: away ?? '' });
    const fast = await clockProbe(store(), () => Date.now() + 3000).ask();
    await store().troubles.report('spec', { part: 'clock', isOk: fast === null, text: fast ?? '' });
    expect(await clockProbe(store()).ask()).toBeNull();
    expect((await said()).sort()).toEqual(['clock', 'mail-server', 'text-gateway']);
    expect((await readStrip(stage.context)).troubles.length).toBe(3);
    await store().troubles.report('spec', { part: 'clock', isOk: true, text: '' });
    expect((await said()).includes('clock')).toBeFalse();
    await worker.stop();
  });

  it('holds up nobody else’s messages for more than ten seconds when a mail server hangs on one of them', async () => {
    const server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['AUTH', 'STARTTLS'],
      disableReverseLookup: true,
      closeTimeout: 100,
      onRcptTo: ({ address }, _session, callback) => void (address.startsWith('p1@') ? undefined : callback()),
      onData: (stream, _session, callback) => {
        stream.resume();
        stream.on('end', () => callback(null, 'ok'));
      },
    });
    server.on('error', () => undefined);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const bound = server.server.address();
    const port = typeof bound === 'object' && bound ? bound.port : 0;
    const mail = smtpSender({ url: `smtp://127.0.0.1:${port}`, connections: 1 });
    await invite(stage, await publishedEvent(stage));
    const worker = await workOn(stage, { mail });
    await until(
      'the others are reached',
      async () => (await stage.db('delivery').where({ state: 'sent' })).length === 11,
      45,
    );
    const [held] = await stage.db('delivery').whereNot({ state: 'sent' }).select('state', 'answer', 'may_have_left');
    expect(held).toEqual({ state: 'queued', answer: jasmine.stringContaining('hangs'), may_have_left: 0 });
    await worker.stop();
    await new Promise<void>((resolve) => server.close(() => resolve()));
  }, 90_000);

  it('lets go of a gateway that trickles or answers garbage', async () => {
    const garbage = createServer((_request, response) => void response.socket?.end('!!\n'.repeat(1000)));
    await new Promise<void>((resolve) => garbage.listen(0, '127.0.0.1', resolve));
    const address = garbage.address();
    const gatewayPort = typeof address === 'object' && address ? address.port : 0;
    const text: TextMessage = { kind: 'text', reference: 'd1', from: 'x', to: '+1', date: new Date(), text: 'x' };
    const gateway = textGateway({ url: `http://127.0.0.1:${gatewayPort}`, key: '', callbackUrl: '' });
    expect((await gateway.send(text))?.kind).toBe('unreachable');
    garbage.close();
    const trickle = createServer((_request, response) => {
      response.writeHead(500);
      setInterval(() => response.write('x'), 500).unref();
    });
    await new Promise<void>((resolve) => trickle.listen(gatewayPort, '127.0.0.1', resolve));
    expect((await gateway.send(text))?.kind).toBe('transient');
    trickle.closeAllConnections();
    trickle.close();
  }, 60_000);

  it('knows a message that may have been taken before the connection went from one that was never handed over', async () => {
    const message = (await composed()) as EmailMessage;
    const outcome = async (when: 'rcpt' | 'data'): Promise<unknown> => {
      const server = new SMTPServer({
        authOptional: true,
        disabledCommands: ['AUTH', 'STARTTLS'],
        disableReverseLookup: true,
        closeTimeout: 100,
        onRcptTo: (_address, session, callback) => {
          if (when === 'rcpt') hangUp(session.id);
          else callback();
        },
        onData: (stream, session) => {
          stream.resume();
          stream.on('end', () => hangUp(session.id));
        },
      });
      const hangUp = (id: string): void => server.connections.forEach((one) => void (one.id === id && one.close()));
      server.on('error', () => undefined);
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
      const address = server.server.address();
      const port = typeof address === 'object' && address ? address.port : 0;
      const refusal = await smtpSender({ url: `smtp://127.0.0.1:${port}`, connections: 1 }).send(message);
      await new Promise<void>((resolve) => server.close(() => resolve()));
      return refusal?.kind === 'transient' ? refusal.mayHaveLeft : refusal?.kind;
    };
    expect([await outcome('rcpt'), await outcome('data')]).toEqual(['unreachable', true]);
  });

  it('suppresses only an address that does not exist, a mailbox that refuses on a third day, and pauses what refuses us', async () => {
    const abouts = [
      ['550 5.1.1 no such user', 'address'],
      ['550 5.7.1 sending IP blocked', 'policy'],
      ['554 5.7.26 unauthenticated', 'policy'],
      ['550 rejected as spam', 'policy'],
      ['552 5.2.2 mailbox full', 'mailbox'],
      ['550 mailbox unavailable', 'mailbox'],
      ['550 5.1.8 bad sender', 'policy'],
      ['554 5.6.0 cannot be converted', 'message'],
    ] as const;
    for (const [words, about] of abouts) expect([words, refusalAbout(words)]).toEqual([words, about]);
    const refusing = (answer: string) => () => ({ kind: 'permanent', answer, about: refusalAbout(answer) }) as const;
    const bounced = async (): Promise<number> => (await stage.db('subscriber').whereNotNull('bounced_at')).length;
    const aDayLater = () =>
      stage
        .db('refusal')
        .where({ about: 'mailbox' })
        .update({ at: stage.db.raw('at - interval 1 day') });
    const refuseAll = async (): Promise<void> => {
      await invite(stage, await publishedEvent(stage));
      await deliver(stage, refusing('552 5.2.2 mailbox full'));
    };
    // Three within minutes say no more than one.
    for (const _ of [1, 2, 3]) await refuseAll();
    await aDayLater();
    await refuseAll();
    await aDayLater();
    expect(await bounced()).toBe(0);
    await invite(stage, await publishedEvent(stage));
    const mail = scriptedEnd<EmailMessage>(refusing('550 5.7.1 sending IP blocked'));
    let worker = await workOn(stage, { mail });
    await until('it is paused', async () => (await store().troubles.pauses()).length === 1);
    await worker.stop();
    expect(await bounced()).toBe(0);
    expect((await readTroubles(store())).map(({ part }) => part)).toContain('pause');
    const event = await publishedEvent(stage);
    await invite(stage, event);
    worker = await workOn(stage, {});
    await until('it is expanded', async () => (await firingsOf(event))[0]?.isExpanded ?? false);
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect((await stage.db('delivery').where({ state: 'queued' })).length).toBe(12);
    await worker.stop();
    await resumeSending(stage.context, 'email', actor);
    await deliver(stage, refusing('552 5.2.2 mailbox full'));
    expect(await bounced()).toBe(12);
  });

  it('keeps one order of states, whoever writes first: a bounce before “sent” stands, and the firing says so', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    const mail: End<EmailMessage> = {
      send: async ({ messageId, to }) => {
        if (to.address === 'p1@people.example')
          await store().deliveries.setAftermath(Number(/^<d(\d+)/.exec(messageId)?.[1]), 'bounced', 'gone', new Date());
        return null;
      },
      close: () => undefined,
    };
    const worker = await workOn(stage, { mail });
    await untilSettled(stage);
    await until('it is over', async () => (await firingsOf(event))[0]?.state === 'done');
    await worker.stop();
    const state = async (): Promise<unknown[]> => {
      const [firing] = await firingsOf(event);
      return [firing?.state, firing?.sent, firing?.failed];
    };
    expect(await state()).toEqual(['done', 11, 1]);
    const ids: number[] = await stage.db('delivery').where({ state: 'sent' }).pluck('id');
    const receipts = () =>
      Promise.all(ids.map((id) => store().deliveries.setAftermath(id, 'failed', 'no such number', new Date())));
    // A text gateway's receipt says nothing of a mail.
    await receipts();
    expect(await state()).toEqual(['done', 11, 1]);
    await stage.db('delivery').whereIn('id', ids).update({ channel: 'text' });
    await receipts();
    expect(await state()).toEqual(['failed', 0, 12]);
    await stage.db('delivery').whereIn('id', ids).update({ channel: 'email' });
    const [firing] = await firingsOf(event);
    const { rows } = await notReached(firing?.id ?? 0);
    expect([rows.length, rows[0]?.answer]).toEqual([12, 'no such number']);
    await tryAgain(stage.context, firing?.id ?? 0, actor);
    expect((await deliver(stage)).length).toBe(11);
  });

  it('composes what was put off from the newest version, drops what is off, and repeats only what may have left', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    const later4xx = { kind: 'transient', answer: '451 greylisted', mayHaveLeft: false } as const;
    const cutOff = { kind: 'transient', answer: 'cut off', mayHaveLeft: true } as const;
    const first = await deliver(stage, ({ to }) =>
      to.address === 'p1@people.example' ? later4xx : to.address === 'p2@people.example' ? cutOff : null,
    );
    expect(first.length).toBe(10);
    await saveEvent(stage.context, event, { facts: { ...eventFacts, span: later }, basedOn: 1 }, actor);
    await sendNotice(stage.context, event, houseWordings.change, null, actor);
    expect((await deliver(stage)).length).toBe(10);
    await clockTo(stage, stage.clock.now() + 61_000);
    const second = await deliver(stage);
    const startOf = (address: string): (string | undefined)[] =>
      second.flatMap(({ to, calendar }) =>
        to.address === address ? [/DTSTART;[^:]*:(\d{8}T\d{4})/.exec(calendar?.text ?? '')?.[1]] : [],
      );
    // The one hears the newest at once; the other the same again, and then what changed since.
    expect(startOf('p1@people.example')).toEqual(['20310618T2100']);
    expect(startOf('p2@people.example')).toEqual(['20310618T1930', '20310618T2100']);
    expect((await stage.db('invitee').where('holds_version', 2)).length).toBe(12);
  });

  it('drops an invitation that was put off when its event is called off, with the reason', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage, ({ to }) =>
      to.address === 'p1@people.example' ? { kind: 'transient', answer: '451', mayHaveLeft: false } : null,
    );
    await callOffEvent(stage.context, event, houseWordings.callOff, null, actor);
    await clockTo(stage, stage.clock.now() + 61_000);
    const mails = await deliver(stage);
    expect(new Set(mails.map(({ calendar }) => calendar?.method))).toEqual(new Set(['CANCEL']));
    expect(mails.map(({ to }) => to.address)).not.toContain('p1@people.example');
    const [invitation] = await firingsOf(event);
    const { rows } = await notReached(invitation?.id ?? 0);
    expect(rows.map(({ state, answer }) => [state, answer])).toEqual([
      ['skipped', 'The event was called off before it went.'],
    ]);
  });

  it('sends nothing of the countdown of a called-off event by any way', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const cue = (await firingsOf(event)).find(({ kind }) => kind === 'cue');
    await clockTo(stage, (cue?.dueMs ?? 0) + 2 * 3_600_000);
    const worker = await workOn(stage, {});
    await until('it is missed', async () => (await store().firings.find(cue?.id ?? 0))?.state === 'missed');
    await worker.stop();
    const offered = async (): Promise<boolean[]> =>
      (await readBoard(stage.context)).behind.flatMap((item) => (item.kind === 'cue' ? [item.canSendByHand] : []));
    expect(await offered()).toEqual([true]);
    await callOffEvent(stage.context, event, houseWordings.callOff, null, actor);
    expect([(await offered()).some(Boolean), await needs('missed')]).toEqual([false, []]);
    await expectAsync(sendFiringNow(stage.context, cue?.id ?? 0, 12, actor)).toBeRejectedWithError(/called off/);
    expect((await deliver(stage)).every(({ subject }) => subject.startsWith('Called off'))).toBeTrue();
  });

  it('lets go of a peer that says nothing at all', async () => {
    const sink = await openSink();
    const socket = createConnection(sink.port, '127.0.0.1');
    await new Promise((resolve) => socket.once('data', resolve));
    socket.destroy();
    expect(await probeSmtp({ host: '127.0.0.1', port: sink.port, isSecure: false })).toBeNull();
    await sink.close();
  });
});
