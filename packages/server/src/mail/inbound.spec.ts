import nodemailer from 'nodemailer';
import { simpleParser } from 'mailparser';
import { plainDocument, prepareCalendar } from '@convite/core';
import { calendarSource } from '../services/sending/compose-calendar';
import { eventComposer } from '../services/sending/compose-event';
import { countReply } from '../services/replies/count-reply';
import { callOffEvent, saveEvent } from '../services/events/events';
import { houseWordings } from '../services/sending/house-wordings';
import { deliver } from '../testing/acts';
import { isOurAddress, knownAs, receiveMail } from '../services/replies/receive-mail';
import { replyByPage } from '../services/replies/reply-by-page';
import { findNeeds } from '../services/countdown/find-needs';
import { calendarMail, guestAddress } from '../testing/received';
import type { EmailMessage } from './message';
import {
  actor,
  byHand,
  publishedEvent,
  addPeople,
  eventFacts,
  mailDomain,
  openStage,
  specSettings,
  type Stage,
} from '../testing/stage';
import { openInbound } from './inbound';
import { mimeOf } from './mime';

const port = 21_000 + (process.pid % 20_000);

describe('mail that comes in by SMTP', () => {
  let stage: Stage;
  let event: number;
  let inbound: { close(): Promise<void> };
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true });

  beforeAll(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    inbound = openInbound({
      host: '127.0.0.1',
      port,
      relays: ['127.0.0.1'],
      authservId: 'relay.example',
      isOurs: (address) => isOurAddress(stage.context, address),
      knownAs: (address) => knownAs(stage.context, address),
      receive: (mail) => receiveMail(stage.context, mail),
      log: stage.log,
    });
  });
  beforeEach(async () => {
    await stage.db('subscriber').update({ bounced_at: null, opted_out_at: null });
    event = await publishedEvent(stage);
    const invited = [1, 2, 3].map((id) => ({
      subscriberId: id,
      channel: 'email' as const,
      reply: 'needs-action' as const,
      repliedAt: null,
      comment: '',
      invitedAt: new Date(),
      holdsVersion: 1,
    }));
    await stage.bulk.invitees(event, invited);
  });
  afterAll(async () => {
    await inbound.close();
    await stage.close();
  });

  const uid = async (): Promise<string> => (await stage.context.store.events.find(event))?.uid ?? '';
  const replyText = async (
    attendee: string,
    state: string,
    sequence = 0,
    stamp = '20260101T120000Z',
  ): Promise<string> =>
    [
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//x//y//EN',
      'METHOD:REPLY',
      'BEGIN:VEVENT',
      `UID:${await uid()}`,
      `DTSTAMP:${stamp}`,
      `SEQUENCE:${sequence}`,
      'ORGANIZER:mailto:replies@in.convite.example',
      `ATTENDEE;PARTSTAT=${state}:mailto:${attendee}`,
      'COMMENT:See you\\, bye',
      'END:VEVENT',
      'END:VCALENDAR',
      '',
    ].join('\r\n');
  /** As a calendar sends it: to the address that stood in that person's invitation. */
  const send = (
    from: string,
    calendar: string,
    to = guestAddress(stage, Number(/^p(\d+)/.exec(from)?.[1] ?? 0)),
    headers: Record<string, string> = {},
  ): Promise<unknown> =>
    transport.sendMail({
      from,
      to,
      headers,
      subject: 'Re',
      text: 'x',
      alternatives: [{ contentType: 'text/calendar; method=REPLY', content: calendar }],
    });
  const plainAddress = `replies@${mailDomain}`;
  const guest = (search: string) =>
    stage.context.store.guests.page(event, { occurrence: '', search, version: 1, after: '', limit: 5 });
  const reply = async (email: string): Promise<string | undefined> => (await guest(email)).rows[0]?.reply;
  const setAside = async (): Promise<string[]> =>
    (await stage.context.store.replies.setAside(event)).map(({ reason }) => reason);

  it('applies a reply, and the later of two whatever order they come in', async () => {
    await send('p1@people.example', await replyText('p1@people.example', 'ACCEPTED', 0, '20260101T120000Z'));
    expect(await reply('p1@')).toBe('accepted');
    await send('p1@people.example', await replyText('P1@people.example', 'DECLINED', 0, '20260101T110000Z'));
    expect(await reply('p1@')).toBe('accepted');
    expect(await setAside()).toEqual(['older-than-last']);
    expect((await guest('p1@')).rows[0]?.comment).toBe('See you, bye');
  });

  it('sets aside what is forged, unknown or unreadable, and applies none of it', async () => {
    // The UID is public, and From is what somebody writes there.
    await send('p2@people.example', await replyText('p2@people.example', 'DECLINED'), plainAddress);
    await send('mallory@evil.example', await replyText('p2@people.example', 'DECLINED'), plainAddress);
    await send('p4@people.example', await replyText('p4@people.example', 'ACCEPTED'));
    await send('p2@people.example', await replyText('p2@people.example', 'ACCEPTED', 7));
    await send(
      'p2@people.example',
      (await replyText('p2@people.example', 'ACCEPTED')).replace('SEQUENCE:0', 'SEQUENCE:abc'),
    );
    await send('p2@people.example', 'BEGIN:VCALENDAR\r\nMETHOD:REPLY\r\n'.repeat(500));
    expect(await reply('p2@')).toBe('needs-action');
    // What cannot be read is shown with the event that it names, and why.
    expect((await setAside()).sort()).toEqual([
      'calendar-bad-value',
      'from-somebody-else',
      'not-invited',
      'unknown-version',
      'unproven',
    ]);
  });

  it('reads an answer in any charset, with its method in the part’s type alone, or attached as a file alone', async () => {
    const text = (await replyText('p1@people.example', 'ACCEPTED')).replace('See you\\, bye', 'Até já');
    // 0x80, 0x93 and 0x94 are in windows-1252 alone.
    const typographic = text.replace('Até já', '\u00805 \u0093Até já\u0094');
    const raw = (type: string, octets: Buffer, more = ''): Promise<unknown> =>
      transport.sendMail({
        envelope: { from: 'p1@people.example', to: guestAddress(stage, 1) },
        raw: `From: p1@people.example\r\nContent-Type: ${type}\r\nContent-Transfer-Encoding: base64\r\n${more}MIME-Version: 1.0\r\n\r\n${octets.toString('base64')}\r\n`,
      });
    const answered = async () => {
      const [row] = (await guest('p1@')).rows;
      await stage
        .db('invitee')
        .where({ event_id: event })
        .update({ reply: 'needs-action', reply_stamp: null, reply_sequence: null });
      return [row?.reply, row?.comment];
    };
    for (const [type, octets, more] of [
      ['text/calendar; charset=ISO-8859-1; method=REPLY', Buffer.from(text, 'latin1'), ''],
      ['text/calendar; charset=UTF-16; method=REPLY', Buffer.from(`\uFEFF${text}`, 'utf16le'), ''],
      ['text/calendar; method=REPLY', Buffer.from(text.replace('METHOD:REPLY\r\n', '')), ''],
      [
        'application/octet-stream; name="reply.ics"',
        Buffer.from(text),
        'Content-Disposition: attachment; filename="reply.ics"\r\n',
      ],
    ] as const) {
      await raw(type, octets, more);
      expect(await answered())
        .withContext(type)
        .toEqual(['accepted', 'Até já']);
    }
    await raw('text/calendar; charset=windows-1252; method=REPLY', Buffer.from(typographic, 'latin1'));
    expect(await answered()).toEqual(['accepted', '€5 “Até já”']);
  });

  it('takes an answer to the plain address when a relay that we trust says that From is proved, or a person does', async () => {
    const verdict = (domain: string, id = 'relay.example') => ({
      'Authentication-Results': `${id}; spf=none; dmarc=pass header.from=${domain}`,
    });
    const declined = await replyText('p2@people.example', 'DECLINED');
    await send('p2@people.example', declined, plainAddress, verdict('people.example.evil.example'));
    await send('p2@people.example', declined, plainAddress, verdict('people.example', 'another.example'));
    expect([await reply('p2@'), await setAside()]).toEqual(['needs-action', ['unproven', 'unproven']]);
    await send('p2@people.example', declined, plainAddress, verdict('people.example'));
    expect(await reply('p2@')).toBe('declined');
    await send('p3@people.example', await replyText('p3@people.example', 'TENTATIVE'), plainAddress);
    const [aside] = await stage.context.store.replies.setAside(event);
    await countReply(stage.context, event, aside?.id ?? 0, actor);
    expect(await reply('p3@')).toBe('tentative');
    await expectAsync(countReply(stage.context, event, aside?.id ?? 0, actor)).toBeRejectedWithError(/no such/);
  });

  it('caps a stamp from the future, so that nobody is locked out by it', async () => {
    await send('p1@people.example', await replyText('p1@people.example', 'DECLINED', 0, '20990101T000000Z'));
    await replyByPage(
      stage.context,
      { eventId: event, subscriberId: 1 },
      { occurrence: '', state: 'accepted', comment: '' },
    );
    expect(await reply('p1@')).toBe('accepted');
  });

  it('judges hostile mail while everything else goes on, and refuses what is too hard', async () => {
    const observance = (n: number): string =>
      `BEGIN:STANDARD\r\nDTSTART:19700101T0${n % 10}0000\r\nTZOFFSETFROM:+0100\r\nTZOFFSETTO:+0${n % 10}00\r\nRRULE:FREQ=YEARLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-${(n % 300) + 1}\r\nEND:STANDARD\r\n`;
    const zone = (name: string, count: number): string =>
      `BEGIN:VTIMEZONE\r\nTZID:${name}\r\n${Array.from({ length: count }, (_, n) => observance(n)).join('')}END:VTIMEZONE\r\n`;
    const inZones = async (zones: string[], names: string[]): Promise<string> =>
      (await replyText('p1@people.example', 'ACCEPTED')).replace(
        'BEGIN:VEVENT',
        `${zones.join('')}${names.map((name) => `BEGIN:VEVENT\r\nUID:x\r\nDTSTAMP:20260101T000000Z\r\nATTENDEE:mailto:p1@people.example\r\nRECURRENCE-ID;TZID=${name}:20260101T000000\r\nEND:VEVENT\r\n`).join('')}BEGIN:VEVENT`,
      );
    const many = Array.from({ length: 30 }, (_, n) => `Z${n}`);
    const report = [
      'From: <>',
      'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
      '',
      '--b',
      'Content-Type: message/delivery-status',
      '',
      'Action: failed',
      'Status: 5.1.1',
      `Diagnostic-Code:${'\r\n'.repeat(60_000)}x`,
      '--b--',
      '',
    ].join('\r\n');
    let longestMs = 0;
    let lastMs = performance.now();
    const pulse = setInterval(() => {
      longestMs = Math.max(longestMs, performance.now() - lastMs - 10);
      lastMs = performance.now();
    }, 10);
    await send('p1@people.example', await inZones([zone('Z0', 1200)], ['Z0']));
    await send(
      'p1@people.example',
      await inZones(
        many.map((name) => zone(name, 4)),
        many,
      ),
    );
    await transport.sendMail({ envelope: { from: '', to: [plainAddress] }, raw: report });
    const parts = Array.from({ length: 200 }, () => '--b\r\nContent-Type: image/png\r\n\r\nx\r\n').join('');
    await expectAsync(
      transport.sendMail({
        envelope: { from: '', to: [plainAddress] },
        raw: `From: <>\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n${parts}--b--\r\n`,
      }),
    ).toBeRejectedWithError(/cannot be read/);
    clearInterval(pulse);
    // Half of what one of them takes; a slow machine pauses for a fifth of a second by itself.
    expect(longestMs).toBeLessThan(1000);
  }, 30_000);

  it('keeps what people write in words, with the event that they are guests of', async () => {
    await transport.sendMail({
      from: 'P3@people.example',
      to: plainAddress,
      subject: 'Parking',
      text: 'Is there any?',
    });
    await transport.sendMail({ from: 'x@y.example', to: `postmaster@${mailDomain}`, subject: 'Hello', text: 'You?' });
    const letters = await stage.context.store.letters.list('open', 10);
    expect(letters.map(({ from, subject, text, eventId }) => [from, subject, text, eventId !== null])).toEqual([
      ['x@y.example', 'Hello', 'You?', false],
      ['p3@people.example', 'Parking', 'Is there any?', true],
    ]);
    await transport.sendMail({
      from: 'p3@people.example',
      to: plainAddress,
      subject: 'Away',
      text: 'Back on Monday',
      headers: { 'Auto-Submitted': 'auto-replied' },
    });
    // What programs set before RFC 3834.
    for (const headers of [{ Precedence: 'bulk' }, { Precedence: 'auto_reply' }, { 'X-Autoreply': 'yes' }])
      await transport.sendMail({
        from: 'p2@people.example',
        to: guestAddress(stage, 2),
        subject: 'Away',
        text: 'Back on Monday',
        headers,
      });
    expect((await stage.context.store.letters.list('open', 10)).length).toBe(2);
    for (const unknown of [`info@${mailDomain}`, `guests+1-${'0'.repeat(24)}@${mailDomain}`])
      await expectAsync(transport.sendMail({ from: 'a@b.example', to: unknown, text: 'x' })).toBeRejectedWithError(
        /no such address/,
      );
  });

  it('answers a request for the newest entry once an hour, and nobody who opted out', async () => {
    const refresh = async (id: number): Promise<unknown> =>
      send(
        `p${id}@people.example`,
        (await replyText(`p${id}@people.example`, 'NEEDS-ACTION')).replace('METHOD:REPLY', 'METHOD:REFRESH'),
      );
    await stage.context.store.consents.optOut(3, byHand, new Date());
    await Promise.all([refresh(1), refresh(1), refresh(1), refresh(2), refresh(3)]);
    const firings = await stage.context.store.firings.ofEvent(event);
    expect(firings.filter(({ kind }) => kind === 'answer').length).toBe(2);
    expect((await setAside()).sort()).toEqual(['asked-too-often', 'asked-too-often', 'not-written-to']);
  });

  it('answers a request for the newest entry of what was called off with its cancellation (RFC 5546 §3.2.6)', async () => {
    await callOffEvent(stage.context, event, houseWordings.callOff, null, actor);
    await stage.db('firing').where({ event_id: event, kind: 'notice' }).delete();
    await send(
      'p1@people.example',
      (await replyText('p1@people.example', 'NEEDS-ACTION')).replace('METHOD:REPLY', 'METHOD:REFRESH'),
    );
    const mail = (await deliver(stage)).find(({ calendar }) => calendar?.method === 'CANCEL');
    expect([mail?.to.address, mail?.calendar?.method]).toEqual(['p1@people.example', 'CANCEL']);
    expect(mail?.calendar?.text).toContain('STATUS:CANCELLED');
  });

  it('keeps a late answer to an old version without applying it', async () => {
    await saveEvent(
      stage.context,
      event,
      {
        facts: { ...eventFacts, span: { kind: 'timed', start: '2031-06-18T21:30', end: '2031-06-19T00:00' } },
        basedOn: 1,
      },
      actor,
    );
    // What nobody told them yet overtakes nothing.
    await send('p1@people.example', await replyText('p1@people.example', 'ACCEPTED', 0));
    expect(await reply('p1@')).toBe('accepted');
    await stage.context.store.invitees.markHolding(event, [3], 2, new Date());
    await send('p3@people.example', await replyText('p3@people.example', 'ACCEPTED', 0));
    expect(await reply('p3@')).toBe('needs-action');
    expect(await setAside()).toContain('old-version');
    await send('p3@people.example', await replyText('p3@people.example', 'TENTATIVE', 1));
    expect(await reply('p3@')).toBe('tentative');
  });

  it('reads a bounce (RFC 3464) and ties it to its delivery by the envelope sender', async () => {
    const firing = await stage.context.store.firings.create({
      kind: 'notice',
      eventId: event,
      channel: 'email',
      dueMs: 0,
      state: 'stopped',
    });
    await stage.bulk.goneOut(firing ?? 0, 'email', new Date(), [{ subscriberId: 2, state: 'sent', answer: '' }]);
    const [id = 0] = await stage.db('delivery').where({ firing_id: firing }).pluck('id');
    const bounce = (status: string): string =>
      [
        'From: <>',
        'Subject: failed',
        'MIME-Version: 1.0',
        'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
        '',
        '--b',
        'Content-Type: text/plain',
        '',
        'sorry',
        '--b',
        'Content-Type: message/delivery-status',
        '',
        'Reporting-MTA: dns; x.example',
        '',
        'Final-Recipient: rfc822; p2@people.example',
        'Action: failed',
        `Status: ${status}`,
        'Diagnostic-Code: smtp; 550 mailbox',
        ' is gone',
        '',
        '--b--',
        '',
      ].join('\r\n');
    const to = stage.context.links.bounceAddress(Number(id));
    const delayed = bounce('4.2.2').replace('Action: failed', 'Action: delayed');
    await transport.sendMail({ envelope: { from: '', to: [to] }, raw: delayed });
    expect((await stage.context.store.deliveries.find(Number(id)))?.state).toBe('sent');
    await expectAsync(
      transport.sendMail({
        envelope: { from: '', to: [to.replace(/-.{24}@/, `-${'0'.repeat(24)}@`)] },
        raw: bounce('5.1.1'),
      }),
    ).toBeRejectedWithError(/no such address/);
    expect((await stage.context.store.deliveries.find(Number(id)))?.state).toBe('sent');
    await transport.sendMail({ envelope: { from: '', to: [to] }, raw: bounce('5.1.1') });
    expect((await stage.context.store.deliveries.find(Number(id)))?.state).toBe('bounced');
    expect(
      (await stage.context.store.subscribers.page({ search: 'p2@', after: 0, limit: 1 })).rows[0]?.bounceText,
    ).toContain('mailbox is gone');
  });

  it('pauses nothing by reports that anybody can write, and shows a person how many there are', async () => {
    const { store } = stage.context;
    const firing = await store.firings.create({
      kind: 'notice',
      eventId: event,
      channel: 'email',
      dueMs: 0,
      state: 'stopped',
    });
    await addPeople(stage, 24, 10);
    const people = Array.from({ length: 24 }, (_, index) => ({
      subscriberId: index + 10,
      state: 'sent' as const,
      answer: '',
    }));
    await stage.bulk.goneOut(firing ?? 0, 'email', new Date(), people);
    const ids: number[] = await stage.db('delivery').where({ firing_id: firing }).orderBy('id').pluck('id');
    const report = (id: number, fromAddress: string, isProved: boolean) =>
      receiveMail(stage.context, {
        ...calendarMail('', fromAddress),
        to: [stage.context.links.bounceAddress(id)],
        bounce: { isFailed: true, about: 'policy', text: '550 5.7.1 we do not want you' },
        isProved: () => Promise.resolve(isProved),
      });
    const kinds = async () => (await findNeeds(stage.context)).map(({ kind }) => kind);
    for (const id of ids.slice(0, 6)) await report(id, 'postmaster@evil.example', true);
    for (const id of ids.slice(6, 9)) await report(id, `postmaster@${mailDomain}`, false);
    expect(await kinds()).not.toContain('refusal-reports');
    for (const id of ids.slice(9, 12)) await report(id, `postmaster@${mailDomain}.evil.example`, true);
    expect([await store.troubles.pauses(), (await kinds()).includes('refusal-reports')]).toEqual([[], true]);
    // One person's reports concern that person: the others are written to.
    expect(await stage.db('subscriber').whereNotNull('bounced_at').pluck('id')).toEqual([]);
    for (const id of ids.slice(12, 22)) await report(id, `postmaster@relay.${mailDomain}`, true);
    expect((await store.troubles.pauses()).length).toBe(1);
    await store.troubles.resume('email');
    await store.refusals.forgetPolicy();
  });

  it('counts letters that nothing proves apart: whoever writes in a guest’s name does not keep them from writing', async () => {
    const { store } = stage.context;
    await stage.db('letter').delete();
    const write = (to: string, isProved: boolean) =>
      receiveMail(stage.context, {
        ...calendarMail('', 'p1@people.example', { calendars: [], subject: 'Hello', text: 'Is there parking?' }),
        to: [to],
        isProved: () => Promise.resolve(isProved),
      });
    for (let n = 0; n < 20; n += 1) await write(plainAddress, false);
    await expectAsync(write(plainAddress, false)).toBeRejectedWithError(/too many letters/);
    // To the address of their invitation, and by a proved one.
    await write(guestAddress(stage, 1), false);
    await write(plainAddress, true);
    expect((await stage.db('letter').pluck('is_proved')).filter(Boolean).length).toBe(2);
    for (let n = 2; n < 20; n += 1) await write(plainAddress, true);
    await expectAsync(write(guestAddress(stage, 1), false)).toBeRejectedWithError(/too many letters/);
    expect((await store.letters.list('open', 100)).length).toBe(40);
    await stage.db('letter').delete();
  });

  it('opts out by the address in List-Unsubscribe, relays for nobody, and refuses what is too big', async () => {
    await transport.sendMail({
      from: 'p4@people.example',
      to: stage.context.links.optOutMailto(4).replace('mailto:', ''),
      subject: '',
      text: '',
    });
    expect((await stage.context.store.subscribers.page({ search: 'p4@', after: 0, limit: 1 })).rows[0]?.state).toBe(
      'opted-out',
    );
    await expectAsync(
      transport.sendMail({ from: 'a@b.example', to: 'c@elsewhere.example', text: 'x' }),
    ).toBeRejectedWithError(/no relaying/);
    await expectAsync(
      transport.sendMail({ from: 'a@b.example', to: `replies@${mailDomain}`, text: 'x'.repeat(3_000_000) }),
    ).toBeRejectedWithError(/too big|maximum|closed/i);
  });

  it('writes MIME that an independent parser reads back whole (RFC 6047, 8058, 3834), with no header from data', async () => {
    const stored = await stage.context.store.events.find(event);
    if (!stored) throw new Error('no event');
    const facts = { ...eventFacts, title: 'Noite\r\nBcc: evil@x.example ção 🌒', description: 'é, ñ; 漢字' };
    const odd = { ...stored, version: { ...stored.version, facts } };
    const content = {
      kind: 'invitation',
      document: plainDocument('{{event.title}}', '{{event.description}}'),
      version: 1,
      stampMs: 0,
      audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
    } as const;
    const person = {
      id: 1,
      name: 'Zoë "Z", Ação',
      email: 'p1@people.example',
      mobile: '',
      zone: '',
      language: '',
      feedNonce: 0,
      own: null,
      dates: null,
      isGuest: true,
      reply: 'needs-action' as const,
    };
    const message = eventComposer(stage.context, specSettings, odd, {
      channel: 'email',
      content,
      occurrence: '',
      guests: [],
      atMs: 0,
    })(person, 77) as EmailMessage;
    const raw = await new Promise<Buffer>((resolve, reject) =>
      nodemailer
        .createTransport({ streamTransport: true, buffer: true, newline: 'windows' })
        .sendMail(mimeOf(message), (error, info) => (error ? reject(error) : resolve(info.message as Buffer))),
    );
    const parsed = await simpleParser(raw);
    expect(parsed.subject).toBe('Noite Bcc: evil@x.example ção 🌒');
    expect(parsed.bcc).toBeUndefined();
    expect(parsed.to && 'value' in parsed.to && parsed.to.value[0]).toEqual(
      jasmine.objectContaining({ name: 'Zoë "Z", Ação', address: 'p1@people.example' }),
    );
    const [part, file] = parsed.attachments;
    expect([part?.contentType, file?.filename, file?.contentType]).toEqual([
      'text/calendar',
      'invitation.ics',
      'application/ics',
    ]);
    const expected = prepareCalendar(calendarSource(stage.context, specSettings, odd, 0), 'REQUEST')(person);
    expect([part?.content.toString(), file?.content.toString()]).toEqual([expected, expected]);
    expect(raw.toString()).toMatch(/text\/calendar; charset=UTF-8; method=REQUEST;\s+component=VEVENT/i);
    const listHeaders = parsed.headerLines
      .filter(({ key }) => key.startsWith('list-unsubscribe'))
      .map(({ line }) => line.replace(/\s+/g, ' '));
    expect(listHeaders.sort()).toEqual(
      [
        'List-Unsubscribe-Post: List-Unsubscribe=One-Click',
        `List-Unsubscribe: <${message.optOut?.url}>, <${message.optOut?.mailto}>`,
      ].sort(),
    );
    expect(parsed.headers.get('auto-submitted')).toBe('auto-generated');
    expect(parsed.text).toContain('Spec Street 1');
    expect(parsed.messageId).toBe(message.messageId);
  });
});
