import { openHttpStage, pathOf, form, type HttpStage } from '../../testing/http-stage';
import { bringCsv } from '../../testing/bring';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  publishedEvent,
  scriptedEnd,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import type { TextMessage } from '../../mail/message';
import { noAudience, resolveWallTime, wholeEvent, whoOf, type Audience } from '@convite/core';
import { saveCue } from '../countdown/cues';
import { replyByPage } from '../replies/reply-by-page';
import { listMessages } from '../sending/show-message';
import { erasePerson } from './erase-person';
import { heldAbout } from './held-about';
import { mergePeople, partPeople, previewMerge, samePeople } from './merge-people';
import { getPerson } from './persons';
import { addNote, readComing } from './timeline';

describe('two people found to be one', () => {
  let http: HttpStage;
  let stage: Stage;
  beforeEach(async () => {
    http = await openHttpStage(0);
    ({ stage } = http);
    await addPeople(stage, 4);
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));
  });
  afterEach(() => http.close());

  const kept = 1;
  const other = 2;
  const merge = () => mergePeople(stage.context, kept, other, actor);
  const part = async (): Promise<void> => {
    const [one] = (await samePeople(stage.context, kept)).absorbed;
    await partPeople(stage.context, one?.mergeId ?? 0, actor);
  };
  const addresses = (mails: readonly { to: { address: string } }[]): string[] =>
    mails.map(({ to }) => to.address).sort();
  const answer = (event: number, id: number, state: 'accepted' | 'declined') =>
    stage.context.store.transact((tx) =>
      replyByPage(
        { store: tx, clock: stage.clock },
        { eventId: event, subscriberId: id },
        { occurrence: '', state, comment: '' },
      ),
    );
  /** Everything that stands of the two, as a text to compare. */
  const stateOf = async (): Promise<string> => {
    const tables = ['subscriber_field', 'subscriber_topic', 'list_member', 'invitee', 'registration', 'person_note'];
    const rows: unknown[] = [];
    for (const table of tables)
      rows.push(await stage.db(table).whereIn('subscriber_id', [kept, other]).orderByRaw('1, 2'));
    rows.push(await stage.db('subscriber').whereIn('id', [kept, other]).orderBy('id'));
    rows.push(await stage.db('list').orderBy('id'));
    return JSON.stringify(rows);
  };
  /** The other knows things, is a guest of one event alone and of one with the first, and is on a list of their own. */
  const furnish = async () => {
    const { store } = stage.context;
    const [own, both] = [await publishedEvent(stage), await publishedEvent(stage)];
    const list = await store.lists.create('Theirs');
    await store.lists.join(list, [other], new Date(0));
    const seat = await store.fields.create('Seat', 'text');
    await store.fields.write([{ subscriberId: other, field: { id: seat, name: 'Seat', type: 'text' }, typed: 'A4' }]);
    await store.subscribers.giveTopic([kept], 'moon');
    await store.subscribers.giveTopic([other], 'stars');
    await invite(stage, own, { lists: [list] });
    await invite(stage, both);
    await deliver(stage);
    await answer(own, other, 'accepted');
    await answer(both, other, 'declined');
    await addNote(stage.context, other, 'Likes the front row', actor);
    await stage.db('subscriber').where({ id: kept }).update({ name: '', zone: '', mobile: '', most_per_week: 5 });
    await stage
      .db('subscriber')
      .where({ id: other })
      .update({ most_per_week: 1, paused_until: new Date(Date.UTC(2031, 6, 1)) });
    return { own, both, list, seat };
  };

  it('go on as one with what both had; parted again, each has what it had', async () => {
    const { own, both, list } = await furnish();
    const before = await stateOf();
    expect(await previewMerge(stage.context, kept, other)).toEqual({
      fills: [
        { fact: 'name', value: 'Person 2' },
        { fact: 'mobile', value: '+447700900002' },
        { fact: 'zone', value: 'Europe/Lisbon' },
      ],
      email: '',
      joins: ['Theirs'],
      optsOut: false,
    });
    await merge();
    const person = await getPerson(stage.context, kept);
    expect([person.name, person.topics.sort(), person.lists, person.fields[0]?.typed]).toEqual([
      'Person 2',
      ['moon', 'stars'],
      [stage.list, list],
      'A4',
    ]);
    const answers = await stage
      .db('invitee')
      .where({ subscriber_id: kept })
      .orderBy('event_id')
      .select('event_id', 'reply');
    expect(answers).toEqual([
      { event_id: own, reply: 'accepted' },
      { event_id: both, reply: 'declined' },
    ]);
    expect(await stage.db('invitee').where({ subscriber_id: other }).select('event_id')).toEqual([]);
    expect((await listMessages(stage.context, kept, 0)).rows.length).toBe(3);
    expect((await stage.context.store.lists.find(stage.list))?.count).toBe(3);
    expect((await stage.context.store.subscribers.page({ search: 'p2', after: 0, limit: 5 })).rows).toEqual([]);
    expect((await samePeople(stage.context, other)).isReally?.id).toBe(kept);
    await part();
    expect(await stateOf()).toBe(before);
  });

  it('get each message once, and what waits for the one that is gone goes to the one who is left', async () => {
    const event = await publishedEvent(stage);
    await stage.context.store.lists.leave(stage.list, [kept], new Date(0));
    await invite(stage, event);
    await stage.context.store.transact(async (tx) => {
      const id = await tx.firings.lockDue(stage.clock.now());
      const firing = await tx.firings.find(id ?? 0);
      const { expandFiring } = await import('../sending/expand-firing');
      if (firing) await expandFiring(tx, firing, stage.clock.now());
    });
    await merge();
    expect(addresses(await deliver(stage))).toEqual(['p1@people.example', 'p3@people.example', 'p4@people.example']);
  });

  it('are who was picked by hand, in or out, whichever of them that was', async () => {
    await merge();
    const { audiences } = stage.context.store;
    const byHand = (people: Partial<Audience>) => whoOf({ ...noAudience, ...people }, wholeEvent(null));
    const getsIt = async (people: Partial<Audience>): Promise<boolean> =>
      !(await audiences.whyNot(byHand(people), 'email', [kept])).has(kept);
    expect(await getsIt({ people: [other] })).toBeTrue();
    expect(await audiences.countGets(byHand({ people: [kept, other] }), 'email')).toBe(1);
    expect(await getsIt({ people: [kept], exceptPeople: [other] })).toBeFalse();
    await part();
    expect(await getsIt({ people: [other] })).toBeFalse();
  });

  it('are known by either’s addresses and links', async () => {
    const { own } = await furnish();
    const { links, store } = stage.context;
    const reply = pathOf(links.reply(own, other));
    const preferences = pathOf(links.preferences(other, 0));
    await merge();
    const page = await http.visitor().call('GET', reply);
    expect([page.status, page.body]).toEqual([200, jasmine.stringContaining('Person 2')] as never);
    await http.visitor().call('POST', reply, 'state=declined', form);
    expect((await http.visitor().call('GET', preferences)).body).toContain('p1@people.example');
    expect(await store.subscribers.idByEmail('p2@people.example')).toBe(kept);
    expect((await store.invitees.findByEmail(own, 'p2@people.example', ''))?.subscriberId).toBe(kept);
    // A file that brings the other's address brings the one, and nobody new.
    await bringCsv(stage.context, 'Name,Email\nBrought,p2@people.example\n');
    expect(await store.subscribers.page({ search: 'Brought', after: 0, limit: 5 })).toEqual(
      jasmine.objectContaining({ rows: [] }),
    );
    const optOut = pathOf(links.optOut(other));
    await http.visitor().call('POST', optOut, '', form);
    expect((await getPerson(stage.context, kept)).optedOut).toBeTrue();
  });

  it('are out if either said no, and in again only when they are parted', async () => {
    const { store } = stage.context;
    const said = { source: 'form', how: 'pressed the link', by: '' } as const;
    await store.transact((tx) => tx.consents.optOut(other, said, new Date()));
    await merge();
    expect((await getPerson(stage.context, kept)).optedOut).toBeTrue();
    await part();
    expect([(await getPerson(stage.context, kept)).optedOut, (await getPerson(stage.context, other)).optedOut]).toEqual(
      [false, true],
    );
    // What they say themselves meanwhile stays.
    await merge();
    await store.transact((tx) => tx.consents.note(kept, 'email', false, said, new Date()));
    await part();
    expect((await getPerson(stage.context, kept)).optedOut).toBeTrue();
  });

  it('bring a number that said no to texts only with that no, and no file says yes to it', async () => {
    const { store } = stage.context;
    const said = { source: 'text', how: 'STOP', by: '' } as const;
    await store.transact((tx) => tx.consents.note(other, 'text', false, said, new Date()));
    await stage.db('subscriber').where({ id: kept }).update({ mobile: '' });
    await merge();
    const file = { source: 'file', how: 'a file', by: '' } as const;
    const mayBeTexted = async (): Promise<[string, boolean]> => {
      await store.transact((tx) => tx.consents.grantTexts([kept], file, new Date()));
      const { mobile, textConsent } = await getPerson(stage.context, kept);
      return [mobile, textConsent];
    };
    expect(await mayBeTexted()).toEqual(['+447700900002', false]);
    await part();
    expect(await mayBeTexted()).toEqual(['', true]);
  });

  it('are erased together, and what is held names both', async () => {
    await furnish();
    await merge();
    expect(JSON.stringify(await heldAbout(stage.context, kept))).toContain('p2@people.example');
    await erasePerson(stage.context, kept, actor);
    for (const table of ['subscriber', 'person_merge', 'invitee', 'consent', 'person_note'])
      expect(JSON.stringify(await stage.db(table))).not.toMatch(/p[12]@people|front row/);
  });

  it('cannot be put together twice, with themselves, or round in a circle, also at once', async () => {
    await expectAsync(mergePeople(stage.context, 1, 1, actor)).toBeRejected();
    const both = await Promise.allSettled([
      mergePeople(stage.context, 1, 2, actor),
      mergePeople(stage.context, 2, 1, actor),
    ]);
    expect(both.filter(({ status }) => status === 'fulfilled').length).toBe(1);
    // Who has others cannot go over: parted again, they would be nobody's.
    const others = await mergePeople(stage.context, 4, 1, actor).catch((error: unknown) => error);
    expect(others).toEqual(jasmine.objectContaining({ status: 409 }));
    await expectAsync(
      mergePeople(stage.context, 3, 2, actor).then(() => mergePeople(stage.context, 3, 1, actor)),
    ).toBeRejected();
  });

  it('of people who share a number, one text goes there', async () => {
    const mobile = '+447700900001';
    await stage.db('subscriber').whereIn('id', [1, 2, 3]).update({ mobile });
    await stage.db('subscriber').where({ id: 1 }).update({ text_consent: false });
    const event = await publishedEvent(stage);
    const cue = dayBeforeCue({
      channel: 'text',
      audience: { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] },
      body: '{{person.firstName}} {{event.title}}',
    });
    await saveCue(stage.context, event, null, cue, actor);
    await clockTo(stage, resolveWallTime('2031-06-17T19:30', 'Europe/Lisbon'));
    const text = scriptedEnd<TextMessage>();
    const worker = await workOn(stage, { text });
    await untilSettled(stage);
    await worker.stop();
    expect(text.taken.map(({ to }) => to).sort()).toEqual([mobile, '+447700900004'].sort());
    const likely = (await samePeople(stage.context, 1)).likely.map(({ id }) => id);
    expect(likely).toEqual([2, 3]);
    expect((await readComing(stage.context, 3)).rows).toEqual([]);
  });
});
