import { letter, noPace } from '@convite/core';
import { digestFields } from '@convite/contract';
import type { EmailMessage } from '../../mail/message';
import { retryLocked } from '../../store/retry-locked';
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
import { calendarMail } from '../../testing/received';
import { proveSender } from '../beginning/prove-sender';
import { saveCue } from '../countdown/cues';
import { listCues } from '../countdown/list-cues';
import { saveDigest } from '../digests/digests';
import { isOurAddress, receiveMail } from '../replies/receive-mail';
import { replyByPage } from '../replies/reply-by-page';
import { houseWording } from '../wording/house-wording';
import { listWordings } from '../wording/kept-wordings';
import { sendInvitations } from '../sending/invite';
import { sendManual } from '../sending/write-manual';
import {
  askSenderText,
  chooseSender,
  houseHealth,
  listSenders,
  pauseSender,
  proveSenderText,
  saveSender,
} from './senders';

const club = {
  ...{
    name: 'Star club',
    email: 'club@spec.example',
    replyTo: '',
    textSender: '',
    signature: '',
    takesNoAnswers: false,
  },
  ...{ copyTo: '', hidesAddress: false, pace: noPace },
};
const toList = (list: number) =>
  dayBeforeCue({ audience: { invitees: [], lists: [list], exceptLists: [], exceptReplies: [], topics: null } });
const nobody = { lists: [], segments: [], people: [], exceptLists: [], exceptSegments: [], exceptPeople: [] };

describe('what comes of senders and wordings', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 12);
  });
  afterEach(() => stage.close());

  const add = async (over: Partial<typeof club> = {}): Promise<number> => {
    const id = await saveSender(stage.context, null, { ...club, ...over }, actor);
    await proveSender(stage.context, 'club@spec.example');
    return id;
  };
  const inviteAs = async (sender: number | null): Promise<number> => {
    const event = await publishedEvent(stage);
    await chooseSender(stage.context, event, sender, actor);
    const wording = await houseWording(stage.context.store, 'invitation');
    const request = { lists: [stage.list], channel: 'email', wording, confirmedCount: null } as const;
    await sendInvitations(stage.context, event, request, actor);
    return event;
  };
  const health = async () => (await listSenders(stage.context))[0]?.lately;
  const deliveryTo = async (email: string) =>
    stage
      .db('delivery as d')
      .join('subscriber as s', 's.id', 'd.subscriber_id')
      .where('s.email', email)
      .orderBy('d.id', 'desc')
      .first('d.id');

  it('goes as fast as the sender lets it, which holds up nobody else', async () => {
    const id = await add({ pace: { ...noPace, perHour: 5 } });
    await inviteAs(id);
    const other = await publishedEvent(stage);
    await invite(stage, other);
    const mail = scriptedEnd<EmailMessage>();
    const workers = [await workOn(stage, { mail }), await workOn(stage, { mail })];
    const count = (from: string) => mail.taken.filter((one) => one.from.name === from).length;
    await until('all of the house’s are gone', () => mail.taken.length - count('Star club') === 12);
    await until('its hour is used up', () => count('Star club') === 5);
    await new Promise((resolve) => setTimeout(resolve, 800));
    expect(count('Star club')).toBe(5);
    // Workers hold the rows as well.
    await retryLocked(() =>
      stage
        .db('pace')
        .where({ sender_id: id })
        .update({ since: stage.db.raw('now(3) - interval 61 minute') }),
    );
    await until('the next hour lets more go', () => count('Star club') === 10);
    await Promise.all(workers.map((worker) => worker.stop()));
  });

  it('finishes when both paces let it, as its countdown says', async () => {
    const id = await add({ pace: { ...noPace, perDay: 5 } });
    const event = await publishedEvent(stage);
    await chooseSender(stage.context, event, id, actor);
    await saveCue(stage.context, event, null, toList(stage.list), actor);
    await countAll(stage);
    const finishesAfter = async (): Promise<number | null> => {
      const [cue] = await listCues(stage.context, event);
      const { finishAt } = cue?.firing.tally ?? {};
      return finishAt ? Date.parse(finishAt) - Date.parse(cue?.firing.dueAt ?? '') : null;
    };
    // Twelve, five a day: the last two go two days later.
    expect(await finishesAfter()).toBe(2 * 86_400_000);
    await pauseSender(stage.context, id, true, actor);
    expect(await finishesAfter()).toBeNull();
  });

  it('is kept for thirty days: accepted, refused, come back, unwanted, paused', async () => {
    const id = await add();
    await inviteAs(id);
    await deliver(stage, ({ to }) =>
      to.address.startsWith('p1@') ? { kind: 'permanent', about: 'message', answer: '554 no' } : null,
    );
    expect(await health()).toEqual({ accepted: 11, refused: 1, bounced: 0, complaints: 0, pauses: 0 });
    const { links } = stage.context;
    const gone = Number((await deliveryTo('p2@people.example'))?.id);
    const bounce = { isFailed: true, about: 'mailbox', text: '5.2.2 full' } as const;
    await receiveMail(stage.context, {
      ...calendarMail('', ''),
      calendars: [],
      to: [links.bounceAddress(gone)],
      bounce,
    });
    const unwanted = Number((await deliveryTo('p3@people.example'))?.id);
    const complain = (messageId: string) =>
      receiveMail(stage.context, { ...calendarMail('', ''), calendars: [], complaint: messageId });
    expect(await complain(links.messageId(unwanted).replace(/\.[0-9a-f]/, '.x'))).toBe('ignored');
    expect(await complain(links.messageId(unwanted))).toBe('complaint');
    expect(await complain(links.messageId(unwanted))).toBe('ignored');
    expect((await stage.db('subscriber').where({ email: 'p3@people.example' }).first())?.opted_out_at).not.toBeNull();
    await pauseSender(stage.context, id, true, actor);
    await pauseSender(stage.context, id, true, actor);
    expect(await health()).toEqual({ accepted: 11, refused: 1, bounced: 1, complaints: 1, pauses: 1 });
    // While it is paused it is the house that writes.
    await inviteAs(id);
    await deliver(stage);
    expect((await houseHealth(stage.context)).accepted).toBeGreaterThan(8);
    expect((await health())?.accepted).toBe(11);
    await clockTo(stage, stage.clock.now() + 40 * 86_400_000);
    expect((await health())?.accepted).toBe(0);
  });

  it('is counted once where what failed is sent again', async () => {
    const id = await add();
    const event = await inviteAs(id);
    await deliver(stage, () => ({ kind: 'permanent', about: 'message', answer: '554 no' }));
    const [firing] = await stage.context.store.firings.ofEvent(event);
    await stage.context.store.firings.requeueFailed(firing?.id ?? 0, new Date(stage.clock.now()));
    await deliver(stage);
    expect(await health()).toEqual({ accepted: 12, refused: 0, bounced: 0, complaints: 0, pauses: 0 });
  });

  it('shows an address of ours in place of a private one, and hands answers on', async () => {
    const id = await add({ hidesAddress: true });
    await inviteAs(id);
    const [mail] = await deliver(stage);
    const address = mail?.from.address ?? '';
    expect(address).toMatch(/^from\+[\w-]+@in\.convite\.example$/);
    expect(JSON.stringify(mail)).not.toContain('club@spec.example');
    expect(isOurAddress(stage.context, address)).toBeTrue();
    expect(isOurAddress(stage.context, address.replace('+', '+1'))).toBeFalse();
    const letterTo = {
      ...calendarMail('', 'p1@people.example'),
      calendars: [],
      to: [address],
      text: 'Is there parking?',
    };
    await receiveMail(stage.context, letterTo);
    const handed = stage.sentAtOnce.at(-1);
    expect([handed?.to.address, handed?.replyTo]).toEqual(['club@spec.example', 'p1@people.example']);
    expect(handed?.text).toContain('Is there parking?');
  });

  it('texts come from its own number once the code that came there is typed, and few tries are given', async () => {
    const id = await add({ textSender: '+351910000999' });
    const fault = async () => (await listSenders(stage.context))[0]?.hasTextFault;
    expect(await fault()).toBeTrue();
    await askSenderText(stage.context, id, actor);
    const [text] = stage.textedAtOnce;
    expect([text?.to, text?.from]).toEqual(['+351910000999', '+351910000999']);
    const code = /\d{6}/.exec(text?.text ?? '')?.[0] ?? '';
    const wrong = code === '000000' ? '000001' : '000000';
    for (let tries = 0; tries < 5; tries += 1)
      await expectAsync(proveSenderText(stage.context, id, wrong, actor)).toBeRejected();
    await expectAsync(proveSenderText(stage.context, id, code, actor)).toBeRejected();
    await askSenderText(stage.context, id, actor);
    const again = /\d{6}/.exec(stage.textedAtOnce[1]?.text ?? '')?.[0] ?? '';
    await clockTo(stage, stage.clock.now() + 16 * 60_000);
    await expectAsync(proveSenderText(stage.context, id, again, actor)).toBeRejected();
    await askSenderText(stage.context, id, actor);
    await proveSenderText(stage.context, id, /\d{6}/.exec(stage.textedAtOnce[2]?.text ?? '')?.[0] ?? '', actor);
    expect(await fault()).toBeFalse();
    const before = { ...club, textSender: '+351910000999' };
    await saveSender(stage.context, id, { ...before, textSender: 'StarClub', was: before }, actor);
    expect(await fault()).toBeFalse();
    await expectAsync(askSenderText(stage.context, id, actor)).toBeRejectedWith(
      jasmine.objectContaining({ status: 409 }),
    );
  });

  it('digests and messages by hand come from a sender too', async () => {
    const id = await add();
    const wording = letter('Closed', 'We are closed.');
    await sendManual(
      stage.context,
      { ...nobody, lists: [stage.list], channel: 'email', wording, senderId: id, confirmedCount: null },
      actor,
      null,
    );
    const day = new Date(stage.clock.now() + 20 * 86_400_000).toISOString().slice(0, 10);
    await publishedEvent(stage, { span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T22:00` } });
    const whom = { ...nobody, lists: [stage.list] };
    const fields = { name: 'Weekly', weekday: 5, at: '13:00', zone: 'Europe/Lisbon', windowDays: 60, whom, isOn: true };
    const digest = digestFields.parse({ ...fields, wording: letter('Soon', 'Coming up:'), senderId: id });
    const digestId = await saveDigest(stage.context, null, digest, actor);
    const [issue] = await stage.context.store.firings.ofDigest(digestId, stage.clock.now());
    expect((await deliver(stage)).map(({ from }) => from.name)).toEqual(Array(12).fill('Star club'));
    await clockTo(stage, (issue?.dueMs ?? 0) + 1000);
    const issues = await deliver(stage);
    expect(new Set(issues.map(({ from }) => from.name))).toEqual(new Set(['Star club']));
    expect((await health())?.accepted).toBe(12 + issues.length);
  });

  it('says of a wording what was sent, and who answered or opted out within a week of it', async () => {
    const event = await inviteAs(null);
    await deliver(stage);
    const came = async () => (await listWordings(stage.context)).find(({ key }) => key === 'invitation')?.came;
    expect(await came()).toEqual({ sent: 12, replies: 0, optOuts: 0 });
    const answer = (subscriberId: number) =>
      stage.context.store.transact((tx) =>
        replyByPage(
          { store: tx, clock: stage.clock },
          { eventId: event, subscriberId },
          { occurrence: '', state: 'accepted', comment: '' },
        ),
      );
    await answer(1);
    const optOut = (id: number) =>
      stage.context.store.consents.optOut(id, { source: 'mail', how: 'wrote', by: '' }, new Date(stage.clock.now()));
    await optOut(2);
    await optOut(2);
    expect(await came()).toEqual({ sent: 12, replies: 1, optOuts: 1 });
    await clockTo(stage, stage.clock.now() + 8 * 86_400_000);
    await optOut(3);
    expect(await came()).toEqual({ sent: 12, replies: 1, optOuts: 1 });
  });
});
