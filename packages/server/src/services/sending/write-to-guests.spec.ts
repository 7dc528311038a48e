import { simpleParser } from 'mailparser';
import MailComposer from 'nodemailer/lib/mail-composer';
import type { WriteToGuests } from '@convite/contract';
import { noAudience, plainDocument, resolveWallTime } from '@convite/core';
import { mimeOf } from '../../mail/mime';
import { deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { changeDate } from '../events/dates';
import { listCues } from '../countdown/list-cues';
import { planCues } from '../countdown/plan-firings';
import { getEvent } from '../events/get-event';
import { replyByPage } from '../replies/reply-by-page';
import { listReleases, release } from '../release/releases';
import { writeToGuests } from './write-to-guests';

const zone = 'Europe/Lisbon';
const at = (wall: string): number => resolveWallTime(wall, zone);

describe('writing to some guests of an event by hand', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const silent = { ...noAudience, invitees: ['needs-action' as const] };
  const asked = (over: Partial<WriteToGuests> = {}): WriteToGuests => ({
    channel: 'email',
    audience: silent,
    wording: plainDocument('Will you come to {{event.title}}?', 'Say so: {{link.reply}}'),
    inThread: true,
    date: '',
    confirmedCount: null,
    ...over,
  });
  const write = (over: Partial<WriteToGuests> = {}, key: string | null = null): Promise<number> =>
    writeToGuests(stage.context, event, asked(over), actor, key);
  const answer = (person: number, state: 'accepted' | 'declined', occurrence = '') =>
    replyByPage(stage.context, { eventId: event, subscriberId: person }, { occurrence, state, comment: '' });

  it('reminds who has not answered, in the thread of their invitation, with a log among the cues', async () => {
    await invite(stage, event);
    const invitations = await deliver(stage);
    await answer(2, 'accepted');
    expect(await write()).toBe(3);
    // Planning anew in between loses nothing of it.
    const stored = await getEvent(stage.context, event);
    await stage.context.store.transact(async (tx) =>
      planCues(tx, stored, await tx.cues.ofEvent(event), stage.clock.now()),
    );
    const sent = (await deliver(stage)).filter(({ subject }) => subject.startsWith('Will you come'));
    expect(sent.map(({ to }) => to.address.slice(0, 2)).sort()).toEqual(['p1', 'p3', 'p4']);
    for (const mail of sent) {
      const invitation = invitations.find(({ to }) => to.address === mail.to.address);
      expect(mail.inReplyTo).toBe(invitation?.messageId);
      // RFC 5322 §3.6.4, read back by a parser of others.
      const parsed = await simpleParser(await new MailComposer(mimeOf(mail)).compile().build());
      expect([parsed.inReplyTo, parsed.references]).toEqual([invitation?.messageId, invitation?.messageId]);
    }
    const [row] = await listCues(stage.context, event);
    expect([row?.name, row?.firing.state, row?.firing.tally.sent]).toEqual(['Will you come to Dome night?', 'done', 3]);
  });

  it('goes once for one wish, and outside a thread where none is meant or there is none', async () => {
    await invite(stage, event);
    await deliver(stage);
    await write({ inThread: false }, 'one-wish-of-an-hour');
    await write({ inThread: false }, 'one-wish-of-an-hour');
    expect((await deliver(stage)).map(({ inReplyTo }) => inReplyTo)).toEqual(Array(4).fill(undefined));
    // Somebody picked by hand who was never invited.
    await addPeople(stage, 1, 9);
    await write({ audience: { ...noAudience, people: [9] } });
    expect((await deliver(stage)).map(({ to, inReplyTo }) => [to.address.slice(0, 2), inReplyTo])).toEqual([
      ['p9', undefined],
    ]);
  });

  it('is for one date of a series alone, which it speaks of; not for one that was called off', async () => {
    event = await publishedEvent(stage, { series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] } });
    const [first, second] = ['20310618T193000', '20310625T193000'];
    await invite(stage, event);
    await deliver(stage);
    await answer(1, 'accepted', second);
    await answer(2, 'accepted', first);
    const coming = { ...noAudience, invitees: ['accepted' as const] };
    // Who answered for single dates answered nothing for the whole: as many as are counted are written to.
    expect(await write()).toBe(4);
    expect((await deliver(stage)).filter(({ subject }) => subject.startsWith('Will you')).length).toBe(4);
    const wording = plainDocument('On {{event.date}}', 'See you.');
    expect(await write({ audience: coming, wording, date: second })).toBe(1);
    const [mail] = (await deliver(stage)).filter(({ subject }) => subject.startsWith('On '));
    expect([mail?.to.address, mail?.subject.includes('25')]).toEqual(['p1@people.example', true]);
    const stored = await getEvent(stage.context, event);
    await changeDate(stage.context, event, { kind: 'call-off', key: second }, stored.version.number, actor);
    await expectAsync(write({ audience: coming, date: second })).toBeRejectedWith(
      jasmine.objectContaining({ code: 'date-off' }),
    );
    await expectAsync(write({ date: '20310101T000000' })).toBeRejectedWith(jasmine.objectContaining({ status: 404 }));
  });

  it('thanks who came, and is sorry for who did not', async () => {
    await invite(stage, event);
    await deliver(stage);
    for (const [id, attended] of [
      [1, true],
      [2, false],
    ] as const)
      await stage
        .db('invitee_occurrence')
        .insert({ event_id: event, subscriber_id: id, occurrence: '', reply: null, attended });
    expect(await write({ audience: { ...noAudience, came: ['attended'] } })).toBe(1);
    expect((await deliver(stage)).map(({ to }) => to.address.slice(0, 2))).toEqual(['p1']);
    expect(await write({ audience: { ...noAudience, came: ['no-show'] } })).toBe(1);
    expect((await deliver(stage)).map(({ to }) => to.address.slice(0, 2))).toEqual(['p2']);
  });

  it('asks before more than a hundred, refuses words and people that are missing, and an event that nobody sees', async () => {
    await addPeople(stage, 120, 100);
    await expectAsync(write({ audience: { ...noAudience, lists: [stage.list] } })).toBeRejectedWith(
      jasmine.objectContaining({ code: 'confirm-count' }),
    );
    expect(await write({ audience: { ...noAudience, lists: [stage.list] }, confirmedCount: 124 })).toBe(124);
    await expectAsync(write({ audience: noAudience, wording: plainDocument('', '') })).toBeRejectedWith(
      jasmine.objectContaining({
        more: {
          problems: [
            jasmine.objectContaining({ path: 'body' }),
            jasmine.objectContaining({ path: 'subject' }),
            jasmine.objectContaining({ code: 'no-audience' }),
          ],
        },
      }),
    );
    await stage.db('event').where({ id: event }).update({ held_by: 'Ana' });
    await expectAsync(write()).toBeRejectedWith(jasmine.objectContaining({ code: 'held' }));
  });

  it('waits for a second member where the house asks for one, and goes as they release it', async () => {
    await invite(stage, event);
    await deliver(stage);
    const settings = await stage.context.store.house.settings();
    await stage.context.store.house.saveSettings({ ...settings, asksRelease: true });
    await write();
    expect((await deliver(stage)).length).toBe(0);
    const [waiting] = (await listReleases(stage.context, { name: 'Rui', memberId: 2 })).rows;
    expect([waiting?.what, waiting?.gets]).toEqual(['firing', 4]);
    await release(stage.context, 'firing', waiting?.ref ?? 0, { name: 'Rui', memberId: 2 });
    expect((await deliver(stage)).length).toBe(4);
  });
});
