import { findMisuses } from '../../store/migrations/0062-link-endings';
import { deliver, invite } from '../../testing/acts';
import { openHttpStage, form, pathOf, type HttpStage } from '../../testing/http-stage';
import { calendarMail } from '../../testing/received';
import { mailDomain, publishedEvent, secret, until, type Stage } from '../../testing/stage';
import { findNeeds } from '../countdown/find-needs';
import { isOurAddress, receiveMail } from '../replies/receive-mail';
import { endPersonalLinks, keepLinkGeneration } from './link-generation';
import { makeLinks, type Links } from './links';

const linksIn = (generation: number): Links =>
  makeLinks({ publicUrl: 'http://convite.example', secret, mailDomain, generation: () => generation });

describe('personal links, once all were ended', () => {
  it('are others of each kind, and the old ones are known as ended; what acts for nobody stays', () => {
    const [before, after] = [linksIn(0), linksIn(2)];
    const tokenOf = (url: string): string => (/\/([0-9a-z.]+-[0-9a-f]{24})/.exec(url) ?? [])[1] ?? '';
    const pages = {
      i: (links: Links) => links.personIcs(7, 3),
      r: (links: Links) => links.reply(7, 3),
      my: (links: Links) => links.personPage(3, 1),
      'feed/person': (links: Links) => links.personFeed(3, 1),
      p: (links: Links) => links.preferences(3, 1),
      a: (links: Links) => links.addressChange(3, 'new'),
      j: (links: Links) => links.confirmSignup(3),
      c: (links: Links) => links.confirmHold(3),
    } as const;
    for (const [page, make] of Object.entries(pages) as [keyof typeof pages, (links: Links) => string][]) {
      const [old, young] = [tokenOf(make(before)), tokenOf(make(after))];
      expect([page, before.isEnded(page, old), after.isEnded(page, old), after.isEnded(page, young)]).toEqual([
        page,
        false,
        true,
        false,
      ]);
      expect(
        after.isEnded(
          page,
          old.replace(/.$/, (last) => (last === '0' ? '1' : '0')),
        ),
      ).toBeFalse();
    }
    expect(after.readPreferences(tokenOf(before.preferences(3, 1)))).toBeNull();
    expect(after.readPreferences(tokenOf(after.preferences(3, 1)))).toEqual({ subscriberId: 3, nonce: 1 });
    expect(after.readGuestAddress(before.guestAddress(3))).toBeNull();
    expect(after.isEndedGuestAddress(before.guestAddress(3))).toBeTrue();
    // RFC 8058: mail is opened years later, and opting out works.
    expect(after.readOptOut(tokenOf(before.optOut(3)))).toBe(3);
    expect(after.readBounceAddress(before.bounceAddress(3))).toBe(3);
    expect(after.readMessageId(before.messageId(3))).toBe(3);
    expect(after.readCounted(before.counted('person', 3, 1).split('/').at(-1) ?? '')?.id).toBe(3);
  });

  describe('in a whole Convite', () => {
    let http: HttpStage;
    let stage: Stage;
    beforeEach(async () => {
      http = await openHttpStage(20);
      ({ stage } = http);
    });
    afterEach(() => http.close());

    it('end for every process by one row, an owner’s alone to write', async () => {
      const owner = http.visitor();
      await owner.signIn('owner');
      const marketer = http.visitor();
      await marketer.signIn('marketer');
      expect((await marketer.call('POST', '/api/personal-links/end', {})).status).toBe(403);
      const generation = await keepLinkGeneration(stage.context.store);
      expect((await owner.call('POST', '/api/personal-links/end', {})).status).toBe(204);
      expect(generation.now()).toBe(0);
      await generation.look();
      expect(generation.now()).toBe(1);
    });

    it('make calendars that answer to an old address prove who they are', async () => {
      const event = await publishedEvent(stage);
      await invite(stage, event);
      await deliver(stage);
      const context = { ...stage.context, links: linksIn(1) };
      const answer = [
        'BEGIN:VCALENDAR',
        'METHOD:REPLY',
        'BEGIN:VEVENT',
        `UID:${(await context.store.events.find(event))?.uid}`,
        'DTSTAMP:20260101T000000Z',
        'SEQUENCE:0',
        'ATTENDEE;PARTSTAT=ACCEPTED:mailto:p3@people.example',
        'END:VEVENT',
        'END:VCALENDAR',
        '',
      ].join('\r\n');
      const to = [linksIn(0).guestAddress(3)];
      expect(isOurAddress(context, to[0] ?? '')).toBeTrue();
      const replyOf = () => context.store.invitees.replyOf(event, 3, '');
      const forged = calendarMail(answer, 'p3@people.example', { to, isProved: () => Promise.resolve(false) });
      await receiveMail(context, forged);
      expect(await replyOf()).toBe('needs-action');
      await receiveMail(context, calendarMail(answer, 'p3@people.example', { to }));
      expect(await replyOf()).toBe('accepted');
    });

    it('lead to a page that says so, whatever is asked, and a new link is mailed to whom it is for', async () => {
      const event = await publishedEvent(stage);
      await endPersonalLinks(stage.context, { name: 'Spec' });
      await http.close();
      http = await openHttpStage(20, linksIn(1));
      ({ stage } = http);
      const old = linksIn(0);
      const urls = [old.reply(event, 3), old.preferences(3, 0), old.personPage(3, 0), old.personFeed(3, 0)];
      for (const url of urls)
        for (const method of ['GET', 'POST'] as const) {
          const page = await http
            .visitor()
            .call(method, pathOf(url), method === 'POST' ? 'state=accepted' : undefined, form);
          expect([url, page.status, page.body.includes('action="/p/again"')]).toEqual([url, 410, true]);
        }
      await http.visitor().call('POST', '/p/again', 'email=p3%40people.example', form);
      await until('it is mailed', () => stage.sentAtOnce.length > 0);
      const mailed = /http:\/\/convite\.example(\/p\/\S+)/.exec(stage.sentAtOnce.at(-1)?.text ?? '')?.[1] ?? '';
      expect((await http.visitor().call('GET', mailed)).status).toBe(200);
    });

    it('were perhaps used by others: what was done before is looked through once, for the owner to review', async () => {
      const { db } = stage;
      const event = await publishedEvent(stage);
      await invite(stage, event);
      await deliver(stage);
      const at = (minutes: number): Date => new Date(Date.now() - minutes * 60_000);
      const viewer = (await db('user').where({ role: 'viewer' }).first('id')) as { id: number };
      const log = (minutes: number, by: string, action: string, what: string, more: object = {}) =>
        db('audit').insert({ at: at(minutes), by_name: by, kind: action.split(':', 1)[0], action, what, ...more });
      await log(50, 'Vera', 'sign-in: in', 'viewer@x.example', { member_id: viewer.id, address: '192.0.2.7' });
      await db('invitee')
        .where({ event_id: event, subscriber_id: 3 })
        .update({ reply: 'declined', replied_at: at(40) });
      await db('invitee')
        .where({ event_id: event, subscriber_id: 4 })
        .update({ reply: 'declined', replied_at: at(400) });
      await log(39, 'person 5', 'preferences: saved by themselves', '');
      await log(38, 'themselves', 'person: erased', 'person 6', { address: '192.0.2.7' });
      await log(300, 'themselves', 'person: erased', 'person 7', { address: '192.0.2.99' });
      await db('subscriber')
        .where({ id: 8 })
        .update({ text_consent: true, created_at: at(9000) });
      await log(30, 'person 8', 'sign-up: confirmed', 'Letters');
      await log(20, 'mail server', 'bounce: came back', 'person 9: 550 5.7.1 blocked');
      await log(19, 'mail server', 'sending: paused', 'it refuses us as the sender: 550 5.7.1 blocked');
      await log(9, 'mail server', 'sending: paused', 'it refuses us as the sender: 554 5.7.1 in the dialogue');
      await findMisuses(db);
      const owner = http.visitor();
      await owner.signIn('owner');
      const { body } = await owner.call('GET', '/api/personal-links/misuses');
      const rows = body['rows'] as unknown as { id: number; kind: string; personId: number | null }[];
      expect(rows.map(({ kind, personId }) => `${kind} ${personId}`).sort()).toEqual([
        'act 5',
        'act 6',
        'answer 3',
        'number 8',
        'pause null',
      ]);
      const needs = async (isOwner: boolean) =>
        (await findNeeds(stage.context, isOwner)).find(({ kind }) => kind === 'misuse')?.count;
      expect([await needs(true), await needs(false)]).toEqual([5, undefined]);
      for (const { id } of rows) await owner.call('POST', `/api/personal-links/misuses/${id}/reviewed`, {});
      expect(await needs(true)).toBeUndefined();
      expect((await owner.call('POST', `/api/personal-links/misuses/${rows[0]?.id}/reviewed`, {})).status).toBe(404);
    });
  });
});
