import { blankFacts, findOccurrence, letter, resolveWallTime, splitSeries, type EventFacts } from '@convite/core';
import { byHand, actor, clockTo, publishedEvent, type Stage } from '../../testing/stage';
import { countedChanges, deliver, invite } from '../../testing/acts';
import { eventPage } from '../../testing/event-page';
import { openHttpStage, pathOf, type HttpStage } from '../../testing/http-stage';
import { changeDate } from '../events/dates';
import { callOffEvent, publishEvent, saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { newVersion } from '../events/new-version';
import { sendNotice } from '../sending/notices';
import { giveByHand } from './register';
import { askNextWaiting, leaveWaitlist, listWaiting, putWaiting } from './waitlist';

const zone = 'Europe/Lisbon';
const hourMs = 3_600_000;
const one: Partial<EventFacts> = {
  title: 'Dome night',
  registration: { places: 1, closesMinutes: 60, confirms: false, waitlist: true },
};
const weekly: Partial<EventFacts> = { ...one, series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] } };
const second = '20310625T193000';

describe('the waitlist', () => {
  let http: HttpStage;
  let stage: Stage;
  let event: number;
  beforeAll(async () => {
    http = await openHttpStage();
    ({ stage } = http);
  });
  beforeEach(async () => {
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
    event = await publishedEvent(stage, one);
  });
  afterEach(() => deliver(stage));
  afterAll(() => http.close());

  const context = () => stage.context;
  const register = (email: string, occurrence = '', id = event) =>
    eventPage(http).register(id, { name: '', email, occurrence });
  const idOf = (email: string) => eventPage(http).idOf(email);
  const answer = (email: string, state: string, occurrence = '') =>
    eventPage(http).answer(event, email, state, occurrence);
  const page = (email: string) => eventPage(http).replyPage(event, email);
  const waiting = async (occurrence = ''): Promise<string[]> =>
    (await listWaiting(context(), event, { occurrence, after: '', limit: 50 })).rows.map(
      ({ person, keptUntil }) => `${person.email}${keptUntil ? ' asked' : ''}`,
    );
  /** Everything that is due, as the worker looks; and what that sends. */
  const look = async (): Promise<string[]> => {
    for (let round = 0; round < 20 && (await askNextWaiting(context())); round += 1);
    return (await deliver(stage)).map(({ to, subject }) => `${to.address}: ${subject.split(':')[0]}`);
  };

  const span = { kind: 'timed', start: '2031-06-18T21:30', end: '2031-06-18T23:00' } as const;
  const moved = letter('Moved: {{event.title}}', 'It has moved.');
  const changeEvent = async (more: Partial<EventFacts>): Promise<void> => {
    const { version } = await getEvent(context(), event);
    await saveEvent(context(), event, { facts: { ...version.facts, ...more }, basedOn: version.number }, actor);
  };

  it('tells who comes too late that they wait, asks whoever has waited longest, and gives them the place by a yes', async () => {
    await register('first@new.example');
    expect(await look()).toEqual(['first@new.example: You are registered for Dome night, Wed 18 Jun 2031']);
    for (const name of ['second', 'third']) {
      const done = await register(`${name}@new.example`);
      expect([done.status, done.body.includes('you are on the waitlist')]).toEqual([200, true]);
      await clockTo(stage, stage.clock.now() + 1000);
    }
    expect((await look()).sort()).toEqual([
      'second@new.example: On the waitlist',
      'third@new.example: On the waitlist',
    ]);
    // Asking again says the same, and writes to nobody.
    await register('second@new.example');
    expect([await look(), await waiting()]).toEqual([[], ['second@new.example', 'third@new.example']]);
    expect(await page('second@new.example')).toContain('You are on the waitlist');

    await answer('first@new.example', 'declined');
    expect(await look()).toEqual(['second@new.example: A place is free']);
    expect(await waiting()).toEqual(['second@new.example asked', 'third@new.example']);
    // It is kept for them: a yes of anybody else waits on.
    expect((await answer('third@new.example', 'accepted')).body).toContain('you are on the waitlist');
    expect((await register('fourth@new.example')).body).toContain('you are on the waitlist');
    expect(await page('second@new.example')).toContain('A place is free for you');
    expect((await answer('second@new.example', 'accepted')).body).toContain('your answer is “yes”');
    expect(await waiting()).toEqual(['third@new.example', 'fourth@new.example']);
    const sent = await look();
    expect(sent).toContain('second@new.example: You are registered for Dome night, Wed 18 Jun 2031');
    expect(sent.some((line) => line.includes('A place is free'))).toBeFalse();
  });

  it('keeps a place for so long as it says, in the reader’s words, and then asks the next', async () => {
    await register('first@new.example');
    await register('second@new.example');
    await clockTo(stage, stage.clock.now() + 1000);
    await register('third@new.example');
    await look();
    await answer('first@new.example', 'declined');
    for (let round = 0; round < 20 && (await askNextWaiting(context())); round += 1);
    const [asked] = await deliver(stage);
    expect(asked?.text).toContain('kept for you until Wed 11 Jun 2031 12:00 Lisbon time');
    await clockTo(stage, stage.clock.now() + 24 * hourMs - 60_000);
    expect(await look()).toEqual([]);
    await clockTo(stage, stage.clock.now() + 60_000);
    expect(await look()).toEqual(['third@new.example: A place is free']);
    expect(await waiting()).toEqual(['third@new.example asked']);
    // Too late is as if they came new: they wait behind the others.
    expect((await answer('second@new.example', 'accepted')).body).toContain('you are on the waitlist');
    expect((await answer('third@new.example', 'declined')).body).toContain('You wait for it no longer.');
    expect((await look()).filter((line) => line.includes('A place'))).toEqual(['second@new.example: A place is free']);
  });

  it('asks as many as places are added, gives one by hand where there is none, and nobody once it is closed', async () => {
    for (const name of ['first', 'second', 'third', 'fourth']) {
      await register(`${name}@new.example`);
      await clockTo(stage, stage.clock.now() + 1000);
    }
    await look();
    await changeEvent({ registration: { places: 2, closesMinutes: 60, confirms: false, waitlist: true } });
    expect(await look()).toEqual(['second@new.example: A place is free']);
    const place = { eventId: event, subscriberId: await idOf('fourth@new.example'), occurrence: '' };
    await giveByHand(context(), place, actor);
    expect(await look()).toEqual(['fourth@new.example: You are registered for Dome night, Wed 18 Jun 2031']);
    await expectAsync(giveByHand(context(), place, actor)).toBeRejectedWithError(/no longer/);
    expect(
      await leaveWaitlist(context(), { ...place, subscriberId: await idOf('second@new.example') }, actor),
    ).toBeTrue();
    // Two have a place of two: the third waits on.
    expect([await look(), await waiting()]).toEqual([[], ['third@new.example']]);
    await clockTo(stage, resolveWallTime('2031-06-18T18:31', zone));
    await answer('first@new.example', 'declined');
    expect([await look(), await waiting()]).toEqual([[], ['third@new.example']]);
    expect(await stage.db('waitlist').where({ event_id: event })).toEqual([]);
  });

  it('hears that the event is called off, as everybody does; and not, where it is taken up again before that leaves', async () => {
    await register('first@people.example');
    await register('second@people.example');
    await deliver(stage);
    const told = async (): Promise<string[]> =>
      (await deliver(stage)).map(({ to, calendar }) => `${to.address} ${calendar?.method ?? 'in words'}`).sort();
    await callOffEvent(context(), event, letter('Off: {{event.title}}', 'It is off.'), null, actor);
    expect(await told()).toEqual(['first@people.example CANCEL', 'second@people.example in words']);
    expect(await waiting()).toEqual([]);

    event = await publishedEvent(stage, one);
    await register('first@people.example');
    await register('second@people.example');
    await deliver(stage);
    await callOffEvent(context(), event, letter('Off: {{event.title}}', 'It is off.'), null, actor);
    const off = await getEvent(context(), event);
    await context().store.transact(async (tx) => {
      const change = { facts: off.version.facts, calledOff: false, said: 'event: taken up' };
      await newVersion(context(), tx, off, change, actor);
    });
    await publishEvent(context(), event, actor, true);
    expect((await told()).filter((one) => one.startsWith('second'))).toEqual([]);
  });

  it('is of one date; a date that is called off has none', async () => {
    event = await publishedEvent(stage, weekly);
    await register('first@new.example', second);
    await register('second@new.example', second);
    await look();
    expect(await waiting(second)).toEqual(['second@new.example']);
    expect(await page('second@new.example')).toContain('Wed 25 Jun 2031');
    await changeDate(context(), event, { kind: 'call-off', key: second }, 1, actor);
    expect(await look()).not.toContain('second@new.example: A place is free');
    // They hear of it with the notice, and wait no longer.
    const wording = letter('Off: {{event.date}}', 'We are sorry.');
    await sendNotice(context(), event, wording, null, actor);
    expect(await look()).toContain('second@new.example: Called off');
    expect(await waiting(second)).toEqual([]);
    expect(await stage.db('waitlist').where({ event_id: event })).toEqual([]);
  });

  it('hears of a change, once, by mail or by text, and keeps its turn', async () => {
    for (const name of ['first', 'second']) await register(`${name}@told.example`);
    await look();
    const phone = { name: 'Only a phone', mobile: '+351912000777', text_consent: true, created_at: new Date() };
    const [texted = 0] = await stage.db('subscriber').insert(phone);
    await context().store.transact(async (tx) => {
      const locked = await tx.events.findForUpdate(event);
      const place = { eventId: event, subscriberId: texted, occurrence: '' };
      if (locked) await putWaiting({ store: tx, clock: stage.clock }, locked, place, { isTold: true });
    });
    const behind = async () => (await countedChanges(stage, event)).waiting;
    const change = async (more: Partial<EventFacts>): Promise<string[]> => {
      await changeEvent(more);
      said.push(await behind());
      await sendNotice(context(), event, moved, null, actor).catch(() => null);
      return (await look()).sort();
    };
    const said: { email: number; text: number }[] = [];
    expect(await change({ span })).toEqual(['first@told.example: Moved', 'second@told.example: Changed']);
    said.push(await behind());
    const texts = await stage.db('delivery').where({ subscriber_id: texted, channel: 'text' }).pluck('state');
    expect(texts).toEqual(['sent']);
    // What no entry holds is no news to them.
    const registration = { places: 1, closesMinutes: 90, confirms: false, waitlist: true };
    expect(await change({ registration })).not.toContain('second@told.example: Changed');
    const none = { email: 0, text: 0 };
    expect(said).toEqual([{ email: 1, text: 1 }, none, none]);
    await answer('first@told.example', 'declined');
    expect(await look()).toContain('second@told.example: A place is free');
  });

  it('tells as many as wait, each once, where nobody holds the event', async () => {
    const wait = 1500;
    await stage.db.raw(
      `insert into subscriber (email, created_at) select concat('many', seq, '@wait.example'), now() from seq_1_to_${wait}`,
    );
    await stage.db.raw(
      `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at, waits_since, knows_version)
       select ?, id, '', 'waitlisted', now(), now(), now(), 1 from subscriber where email like 'many%@wait.example'`,
      [event],
    );
    await changeEvent({ span });
    const { toTell, waiting: behind } = await countedChanges(stage, event);
    expect([toTell, behind]).toEqual([
      { email: 0, text: 0 },
      { email: wait, text: 0 },
    ]);
    await sendNotice(context(), event, moved, wait, actor);
    const contents: { personId: number; alsoIds: number[] }[] = await stage
      .db('firing')
      .where({ event_id: event, kind: 'answer' })
      .pluck('content');
    const told = contents.flatMap(({ personId, alsoIds }) => [personId, ...alsoIds]);
    expect([told.length, new Set(told).size]).toEqual([wait, wait]);
    await stage.db('firing').where({ event_id: event }).update({ state: 'stopped' });
    await stage.db('registration').where({ event_id: event }).delete();
  });

  it('goes along with a date that goes its own way; who is erased waits no longer', async () => {
    event = await publishedEvent(stage, weekly);
    for (const name of ['first', 'erased', 'third']) {
      await register(`${name}@split.example`, second);
      await clockTo(stage, stage.clock.now() + 1000);
    }
    await look();
    const stored = await context().store.events.find(event);
    const facts = stored?.version.facts ?? blankFacts;
    const date = findOccurrence(facts, second);
    const base = date ? splitSeries(facts, date)?.after : null;
    const span = { kind: 'timed', start: '2031-06-25T20:30', end: '2031-06-25T22:00' } as const;
    const edit = { facts: { ...facts, ...base, span }, basedOn: 1, scope: { kind: 'following', key: second } } as const;
    event = (await saveEvent(context(), event, edit, actor)).followingId ?? 0;
    expect(await waiting('20310625T203000')).toEqual(['erased@split.example', 'third@split.example']);
    await context().store.erasures.erase(await idOf('erased@split.example'), new Date(stage.clock.now()));
    await answer('first@split.example', 'declined', '20310625T203000');
    expect((await look()).filter((line) => line.includes('A place'))).toEqual(['third@split.example: A place is free']);
    expect(await waiting('20310625T203000')).toEqual(['third@split.example asked']);
  });

  it('lets the yes of an invitee wait, and counts it once a place is kept for them', async () => {
    const list = await context().store.lists.create(`Invited ${event}`);
    const people = ['ines', 'joao'].map((name) => ({
      ...{ name, email: `${name}@invited.example`, mobile: '', zone: '', textConsent: null },
    }));
    await context().store.newcomers.addToList(list, people, byHand, new Date());
    await invite(stage, event, { lists: [list] });
    await look();
    await answer('ines@invited.example', 'accepted');
    expect((await answer('joao@invited.example', 'accepted')).body).toContain('you are on the waitlist');
    expect(await look()).toEqual(['joao@invited.example: On the waitlist']);
    await answer('ines@invited.example', 'tentative');
    expect(await look()).toEqual(['joao@invited.example: A place is free']);
    expect((await answer('joao@invited.example', 'accepted')).body).toContain('your answer is “yes”');
    expect((await answer('ines@invited.example', 'accepted')).body).toContain('you are on the waitlist');
  });

  it('gives one free place to one of many who ask at once, and writes to nobody whose mail comes back', async () => {
    await register('first@new.example');
    for (const name of ['gone', 'third']) {
      await register(`${name}@new.example`);
      await clockTo(stage, stage.clock.now() + 1000);
    }
    await look();
    await stage.db('subscriber').where({ email: 'gone@new.example' }).update({ bounced_at: new Date() });
    await answer('first@new.example', 'declined');
    await Promise.all([askNextWaiting(context()), askNextWaiting(context()), askNextWaiting(context())]);
    expect(await look()).toEqual(['third@new.example: A place is free']);
    expect(await waiting()).toEqual(['third@new.example asked']);
  });

  it('asks an address to confirm before it waits, and holds no place for it', async () => {
    const confirms = { places: 1, closesMinutes: 60, confirms: true, waitlist: true };
    event = await publishedEvent(stage, { ...one, registration: confirms });
    const path = () => pathOf(/http\S+\/c\/\S+/.exec(stage.sentAtOnce.splice(0).at(-1)?.text ?? '')?.[0] ?? '');
    const press = () => eventPage(http).confirm(path());
    await register('first@ask.example');
    await press();
    await register('second@ask.example');
    expect(await waiting()).toEqual([]);
    expect((await press()).body).toContain('You are on the waitlist');
    await register('third@ask.example');
    await answer('first@ask.example', 'declined');
    await look();
    expect(await waiting()).toEqual(['second@ask.example asked']);
  });
});

describe('in person or online', () => {
  let http: HttpStage;
  let stage: Stage;
  let event: number;
  beforeAll(async () => {
    http = await openHttpStage();
    ({ stage } = http);
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
    event = await publishedEvent(stage, { ...one, venue: 'Dome', joinLink: 'https://join.example/dome' });
  });
  afterAll(() => http.close());
  const context = () => stage.context;
  const register = async (email: string, presence: string) =>
    (await eventPage(http).register(event, { name: '', email, presence })).body;
  const takes = async (email: string, state: string) => (await eventPage(http).answer(event, email, state)).body;

  it('is chosen on the form; online takes no place, and how one comes can be changed as long as there is one', async () => {
    const { publicKey } = await getEvent(context(), event);
    const { body } = await http.visitor().call('GET', `/e/${publicKey}`);
    expect([body.includes('How you come'), body.includes('one place left in person')]).toEqual([true, true]);
    expect(body).not.toContain('join.example');
    expect(await register('ana@new.example', 'online')).toContain('You are registered');
    expect(await register('rui@new.example', 'in-person')).toContain('You are registered');
    expect(await register('eva@new.example', 'in-person')).toContain('you are on the waitlist');
    expect(await register('leo@new.example', 'online')).toContain('You are registered');
    await deliver(stage);
    const count = async (kind: 'in-person' | 'online' | 'waitlisted'): Promise<number> => {
      const who = { in: { kind, about: { event, date: '' } }, out: [], about: event } as const;
      return context().store.audiences.countGets(who, 'email');
    };
    expect([await count('in-person'), await count('online'), await count('waitlisted')]).toEqual([1, 2, 1]);
    expect(await eventPage(http).replyPage(event, 'ana@new.example')).toContain('yes, online');
    // The one place is taken: who comes online comes online still.
    expect(await takes('ana@new.example', 'in-person')).toContain('Somebody was faster');
    expect([await count('in-person'), await count('online')]).toEqual([1, 2]);
    // Who goes online gives a place back, and whoever waits is asked.
    expect(await takes('rui@new.example', 'online')).toContain('your answer is “yes”');
    for (let round = 0; round < 20 && (await askNextWaiting(context())); round += 1);
    expect((await deliver(stage)).map(({ to, subject }) => `${to.address}: ${subject.split(':')[0]}`)).toEqual([
      'eva@new.example: A place is free',
    ]);
    expect(await takes('eva@new.example', 'in-person')).toContain('your answer is “yes”');
    expect([await count('in-person'), await count('online'), await count('waitlisted')]).toEqual([1, 3, 0]);
  });
});
