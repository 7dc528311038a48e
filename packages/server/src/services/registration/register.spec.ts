import { calendarMail } from '../../testing/received';
import { findOccurrence, resolveWallTime, splitSeries, type EventFacts, type Scope } from '@convite/core';
import { dayBeforeCue, deliver, invite, countedChanges } from '../../testing/acts';
import { eventPage } from '../../testing/event-page';
import { form, openHttpStage, pathOf, type HttpStage } from '../../testing/http-stage';
import type { EmailMessage } from '../../mail/message';
import { actor, byHand, clockTo, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { changeDate } from '../events/dates';
import { countReply } from '../replies/count-reply';
import { saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { personFeed } from '../digests/feeds';
import { houseWordings } from '../sending/house-wordings';
import { listGuests } from '../sending/invite';
import { sendNotice } from '../sending/notices';
import { receiveMail } from '../replies/receive-mail';
import { listWaiting } from './waitlist';

const zone = 'Europe/Lisbon';
/** Wednesdays from 18 June 2031, two places each, until an hour before. */
const facts: Partial<EventFacts> = {
  title: 'Dome night',
  series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] },
  registration: { places: 2, closesMinutes: 60, confirms: false },
};
const first = '20310618T193000';
const second = '20310625T193000';
const third = '20310702T193000';

describe('registration on the event page', () => {
  let http: HttpStage;
  let stage: Stage;
  let event: number;
  beforeAll(async () => {
    http = await openHttpStage();
    ({ stage } = http);
  });
  beforeEach(async () => {
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
    event = await publishedEvent(stage, facts);
  });
  // What one spec leaves on its way must not arrive in the next.
  afterEach(() => deliver(stage));
  afterAll(() => http.close());

  const context = () => stage.context;
  const pageOf = (id = event) => eventPage(http).pathTo(id);
  const register = (fields: Record<string, string>, id = event) => eventPage(http).register(id, fields);
  const idOf = (email: string) => eventPage(http).idOf(email);
  const guests = async (occurrence: string): Promise<string[]> =>
    (await listGuests(context(), event, { occurrence, search: '', after: '', limit: 50 })).rows.map(
      ({ person, reply, isByDate }) => `${person.email} ${isByDate && !occurrence ? 'by date' : reply}`,
    );
  const namesIn = (text: string): string[] => text.match(/RECURRENCE-ID[^\r]*:(\d{8})|RRULE|RDATE|EXDATE/g) ?? [];

  it('puts a new person down for one date: a guest of that date alone, confirmed at once, in their calendar', async () => {
    const page = await http.visitor().call('GET', await pageOf());
    expect(page.body).toContain('<h2>Register</h2>');
    expect(page.body.match(/2 left/g)?.length).toBe(10);
    const done = await register({ name: 'Zoë <b>', email: ' Zoe@New.example ', occurrence: second });
    expect([done.status, done.body.includes('Wed 25 Jun 2031 19:30')]).toEqual([200, true]);
    expect(done.body).toContain('zoe@new.example');
    // Nothing on that page is theirs alone.
    expect(done.body).not.toContain('/r/');
    const [confirmation] = await deliver(stage);
    expect([confirmation?.to.address, confirmation?.subject]).toEqual([
      'zoe@new.example',
      'You are registered for Dome night, Wed 25 Jun 2031',
    ]);
    const calendar = confirmation?.calendar?.text ?? '';
    expect([confirmation?.calendar?.method, namesIn(calendar)]).toEqual([
      'REQUEST',
      [`RECURRENCE-ID;TZID=Europe/Lisbon:20310625`],
    ]);
    expect(calendar.replace(/\r\n /g, '')).toContain('PARTSTAT=ACCEPTED;CN=Zoë <b>:mailto:zoe@new.example');
    expect(await guests('')).toEqual(['zoe@new.example by date']);
    expect([await guests(first), await guests(second)]).toEqual([[], ['zoe@new.example accepted']]);
    const page2 = await http.visitor().call('GET', await pageOf());
    expect(page2.body).toContain('one place left');
  });

  it('sends the cues of their dates and no others, and nothing that goes to those who have not answered', async () => {
    await saveCue(context(), event, null, dayBeforeCue(), actor);
    const declined = dayBeforeCue({
      name: 'Sorry',
      subject: 'Sorry',
      audience: { invitees: ['declined'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
    });
    await saveCue(context(), event, null, declined, actor);
    await register({ name: 'Rui', email: 'rui@new.example', occurrence: second });
    expect((await deliver(stage)).length).toBe(1);
    const subjects: string[] = [];
    for (const day of ['2031-06-17', '2031-06-24', '2031-07-01']) {
      await clockTo(stage, resolveWallTime(`${day}T19:30`, zone));
      subjects.push(...(await deliver(stage)).map(({ subject }) => subject));
    }
    expect(subjects).toEqual(['Tomorrow: Dome night, Wed 25 Jun 2031']);
  });

  it('reminds a list to register before it closes, and leaves out whoever did', async () => {
    const list = await context().store.lists.create(`Readers ${event}`);
    const people = ['ready', 'late'].map((name) => ({
      name,
      email: `${name}@readers.example`,
      mobile: '',
      zone: '',
      textConsent: null,
    }));
    await context().store.newcomers.addToList(list, people, byHand, new Date());
    const cue = dayBeforeCue({
      subject: 'Until {{event.registrationEnds}}: {{event.title}}',
      moment: { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'deadline', at: null },
      audience: { invitees: [], lists: [list], exceptLists: [], exceptReplies: ['accepted'], topics: null },
    });
    await saveCue(context(), event, null, cue, actor);
    await register({ name: '', email: 'ready@readers.example', occurrence: second });
    await deliver(stage);
    const reminded: string[] = [];
    for (const day of ['2031-06-17', '2031-06-24']) {
      await clockTo(stage, resolveWallTime(`${day}T18:29`, zone));
      reminded.push(...(await deliver(stage)).map(({ to }) => `too early: ${to.address}`));
      await clockTo(stage, resolveWallTime(`${day}T18:30`, zone));
      reminded.push(...(await deliver(stage)).map(({ to, subject }) => `${to.name}: ${subject}`).sort());
    }
    const until = (day: string): string => `Until Wed ${day} Jun 2031 18:30 Lisbon time: Dome night`;
    // Who registered for the second date is still asked for the first, and not for the one they have.
    expect(reminded).toEqual([`late: ${until('18')}`, `ready: ${until('18')}`, `late: ${until('25')}`]);
    const once = await publishedEvent(stage);
    await expectAsync(saveCue(context(), once, null, cue, actor)).toBeRejected();
  });

  it('gives each place once, also to two at the same moment, and takes back what is given back', async () => {
    const tries = await Promise.all(
      ['a', 'b', 'c', 'd'].map((name) => register({ name, email: `${name}@rush.example`, occurrence: first })),
    );
    expect(tries.map(({ status }) => status).sort()).toEqual([200, 200, 409, 409]);
    const late = tries.find(({ status }) => status === 409);
    expect(late?.body).toContain('Somebody was faster');
    expect(late?.body).toMatch(/value="[abcd]@rush.example"/);
    expect(late?.body).toMatch(new RegExp(`value="${first}" disabled`));
    expect((await deliver(stage)).length).toBe(2);
    // Down already reads as full does, and nobody is written to.
    const [holder = ''] = (await guests(first)).map((line) => line.split(' ')[0]);
    expect((await register({ name: '', email: holder, occurrence: first })).status).toBe(409);
    expect(await deliver(stage)).toEqual([]);
    // Their reply page knows their date alone, gives the place back, and takes no other by the back door.
    const path = pathOf(context().links.reply(event, await idOf(holder)));
    const { call } = http.visitor();
    const own = await call('GET', path);
    expect([own.body.includes('Your answer for all dates'), own.body.match(/class="date"/g)?.length]).toEqual([
      false,
      1,
    ]);
    await call('POST', path, `state=declined&occurrence=${first}`, form);
    expect((await register({ name: 'e', email: 'e@rush.example', occurrence: first })).status).toBe(200);
    expect((await call('POST', path, `state=accepted&occurrence=${first}`, form)).body).toContain(
      'Somebody was faster',
    );
    expect((await guests(first)).filter((line) => line.endsWith('accepted')).length).toBe(2);
  });

  it('refuses, in words, what cannot be: no address, no such date, closed, called off; and keeps what was typed', async () => {
    const answerTo = async (fields: Record<string, string>): Promise<string> => {
      const { status, body } = await register({ name: 'Ana', email: 'ana@new.example', occurrence: second, ...fields });
      expect(body).toContain('value="Ana"');
      return `${status} ${/role="alert"[^>]*>([^<]*)/.exec(body)?.[1]}`;
    };
    expect(await answerTo({ email: 'ana@' })).toBe('422 “ana@” is not an email address.');
    expect(await answerTo({ email: '' })).toBe('422 Type the address that we may write to.');
    expect(await answerTo({ occurrence: '20310626T193000' })).toBe('409 Choose one of the dates.');
    expect(await answerTo({ occurrence: '' })).toBe('409 Choose one of the dates.');
    await changeDate(context(), event, { kind: 'call-off', key: second }, 1, actor);
    expect(await answerTo({})).toBe('409 Registration for that date is closed.');
    await clockTo(stage, resolveWallTime('2031-06-18T18:31', zone));
    expect(await answerTo({ occurrence: first })).toBe('409 Registration for that date is closed.');
    expect([await guests(''), await idOf('ana@new.example')]).toEqual([[], 0]);
    const closed = await publishedEvent(stage, { ...facts, registration: null });
    expect((await http.visitor().call('GET', await pageOf(closed))).body).not.toContain('<h2>Register</h2>');
    const refused = await register({ email: 'ana@new.example', occurrence: second }, closed);
    expect([refused.status, refused.body.includes('Registration for that date is closed.')]).toEqual([409, true]);
  });

  const asked = (): EmailMessage[] =>
    stage.sentAtOnce.splice(0).filter(({ subject }) => subject.startsWith('Confirm your place'));
  const confirmPath = ({ text }: EmailMessage): string => pathOf(/http\S+\/c\/\S+/.exec(text)?.[0] ?? '');

  const { offered, confirm } = {
    offered: (path: string) => eventPage(http).offered(path),
    confirm: (...what: Parameters<ReturnType<typeof eventPage>['confirm']>) => eventPage(http).confirm(...what),
  };
  const confirmed = (places: number | null, more: object = {}) =>
    publishedEvent(stage, { ...facts, registration: { places, closesMinutes: 0, confirms: true, ...more } });
  const at10 = (hours: number, minutes = 0): Promise<void> =>
    clockTo(stage, resolveWallTime('2031-06-10T12:00', zone) + (hours * 60 + minutes) * 60_000);

  it('asks the owner of an address by mail, keeps no place meanwhile, and registers nobody by looking', async () => {
    event = await confirmed(1);
    const done = await register({ name: 'Ana', email: 'ana@ask.example', occurrence: first });
    expect([
      done.status,
      /we wrote to <strong>ana@ask.example<\/strong> on Tue 10 Jun 2031 12:00/.test(done.body),
    ]).toEqual([200, true]);
    expect(done.body).toContain('Places go to whoever confirms first.');
    const [mail] = asked();
    expect([mail?.to, mail?.optOut, mail?.text.includes('Ana')]).toEqual([
      { name: '', address: 'ana@ask.example' },
      null,
      false,
    ]);
    expect([await guests(''), await idOf('ana@ask.example'), await deliver(stage)]).toEqual([[], 0, []]);
    const path = mail ? confirmPath(mail) : '';
    expect((await offered(path)).page).toContain('Confirm registration');
    expect(await guests('')).toEqual([]);
    const { ids } = await offered(path);
    expect([(await confirm(path)).status, (await confirm(path, {}, ids)).status]).toEqual([200, 200]);
    expect([(await guests(first)).length, (await deliver(stage)).length]).toEqual([1, 1]);
    expect((await offered(path)).page).toContain('You are registered.');
    // Full and down already read alike, for whoever types an address.
    const answers = [
      await register({ name: 'A', email: 'ana@ask.example', occurrence: first }),
      await register({ name: 'C', email: 'c@ask.example', occurrence: first }),
    ];
    expect(answers.map(({ status }) => status)).toEqual([409, 409]);
  });

  it('gives the place to whoever confirms first: ten invented addresses keep none of it', async () => {
    event = await confirmed(1);
    for (let n = 0; n < 10; n += 1) await register({ name: 'Z', email: `z${n}@invented.example`, occurrence: first });
    expect(asked().length).toBe(10);
    await register({ name: 'Late', email: 'late@ask.example', occurrence: first });
    const [late] = asked();
    await register({ name: 'Next', email: 'next@ask.example', occurrence: first });
    const [next] = asked();
    expect((await confirm(next ? confirmPath(next) : '')).status).toBe(200);
    const refused = await confirm(late ? confirmPath(late) : '');
    expect([refused.status, refused.body.includes('Somebody was faster')]).toEqual([409, true]);
    expect(await guests(first)).toEqual(['next@ask.example accepted']);
  });

  it('puts whoever confirms too late at the front of the waitlist, and says so beforehand', async () => {
    event = await confirmed(1, { waitlist: true });
    const asking = async (name: string): Promise<string> => {
      const { body } = await register({ name, email: `${name}@ask.example`, occurrence: first });
      expect([name, body.includes('at the front of the waitlist')]).toEqual([name, true]);
      const [mail] = asked();
      return mail ? confirmPath(mail) : '';
    };
    const slow = await asking('slow');
    await at10(0, 1);
    const fast = await asking('fast');
    await confirm(fast);
    await at10(0, 2);
    const later = await asking('later');
    expect((await offered(slow)).page).toContain('at the front of the waitlist');
    await confirm(later);
    await at10(0, 3);
    expect((await confirm(slow)).body).toContain('at the front of the waitlist');
    expect((await offered(slow)).page).toContain('You are on the waitlist.');
    const { rows } = await listWaiting(context(), event, { occurrence: first, after: '', limit: 9 });
    expect(rows.map(({ person }) => person.email)).toEqual(['slow@ask.example', 'later@ask.example']);
    await deliver(stage);
  });

  it('keeps each request beside the others: a stranger overwrites none, reopens none, and floods nobody', async () => {
    event = await confirmed(5);
    const ask = (name: string, occurrence = first) => register({ name, email: 'ana@own.example', occurrence });
    await ask('Ana');
    const [mail, ...more] = asked();
    const path = mail ? confirmPath(mail) : '';
    await at10(0, 4);
    const second4 = await ask('Mallory');
    // No other mail within ten minutes, and the page says when it was sent.
    expect([more, asked(), second4.body.includes('on Tue 10 Jun 2031 12:00')]).toEqual([[], [], true]);
    await ask('Mallory', second);
    for (let n = 0; n < 9; n += 1) await ask(`Junk ${n}`);
    const { page, ids } = await offered(path);
    expect([ids.length, page.includes('Ana'), page.includes('Mallory'), page.includes('value="Ana"')]).toEqual([
      5,
      true,
      true,
      true,
    ]);
    // Its reader chooses, and corrects.
    expect((await confirm(path, {}, [])).status).toBe(422);
    expect((await confirm(path, { name: 'http://evil.example' }, ids.slice(0, 1))).status).toBe(422);
    expect((await confirm(path, { name: 'Ana Sousa' }, ids.slice(0, 1))).status).toBe(200);
    expect([await guests(first), await guests(second)]).toEqual([['ana@own.example accepted'], []]);
    expect((await context().store.subscribers.find(await idOf('ana@own.example')))?.name).toBe('Ana Sousa');
    expect((await deliver(stage)).length).toBe(1);
    // Those of that date are settled; what they are down for stays so, whoever asks again.
    expect((await offered(path)).ids.length).toBe(1);
    await at10(0, 15);
    await ask('Mallory');
    await at10(0, 16);
    expect([asked().length, await guests(first), await deliver(stage)]).toEqual([1, ['ana@own.example accepted'], []]);
    // One person counts once.
    const left = async () => /(\d) left/.exec((await http.visitor().call('GET', await pageOf())).body)?.[1];
    expect(await left()).toBe('4');
  });

  it('lets nobody keep somebody from their confirmation: any mail of the day leads to all that was asked', async () => {
    const events = await Promise.all(Array.from({ length: 7 }, () => confirmed(null)));
    for (const id of events.slice(0, 6))
      await register({ name: 'X', email: 'victim@ask.example', occurrence: first }, id);
    const mails = asked();
    expect(mails.length).toBe(5);
    const own = await register({ name: 'Victim', email: 'victim@ask.example', occurrence: first }, events[6]);
    expect([asked(), own.body.includes('we wrote to')]).toEqual([[], true]);
    const { page } = await offered(mails[4] ? confirmPath(mails[4]) : '');
    const elsewhere = [...page.matchAll(/href="[^"]*(\/c\/[^"]+)"/g)].map(([, path = '']) => path);
    expect(elsewhere.length).toBe(6);
    expect((await confirm(elsewhere.at(-1) ?? '', { name: 'Victim' })).status).toBe(200);
    event = events[6] ?? 0;
    expect(await guests(first)).toEqual(['victim@ask.example accepted']);
    // Sub-addresses of a mailbox count together, and not against its plain address; they name nobody else.
    for (let n = 0; n < 60; n += 1)
      await register({ name: 'X', email: `ben+${n}@ask.example`, occurrence: first }, events[n % 7]);
    expect(asked().length).toBe(5);
    await register({ name: 'Ben', email: 'ben@ask.example', occurrence: first }, events[0]);
    const [ben] = asked();
    expect(ben?.to.address).toBe('ben@ask.example');
    expect((await offered(ben ? confirmPath(ben) : '')).page).not.toContain('Also asked for this address');
  });

  it('slows a school down and refuses nobody in it', async () => {
    event = await confirmed(null);
    const school = http.visitor();
    const stamp = context().links.formStamp(stage.clock.now() - 5000);
    const path = `${await pageOf()}/register`;
    const statuses = new Set<number>();
    for (let n = 0; n < 64; n += 1) {
      const fields = new URLSearchParams({ stamp, name: 'S', email: `s${n}@school.example`, occurrence: first });
      statuses.add((await school.call('POST', path, fields.toString(), form)).status);
    }
    expect([...statuses]).toEqual([200]);
    expect(asked().length).toBe(64);
  });

  it('takes what a machine fills in for a question, and what is no name for none', async () => {
    const at = stage.clock.now();
    const hasty = { stamp: context().links.formStamp(at - 500) };
    const doubtful: Record<string, string>[] = [hasty, { website: 'x' }, { stamp: '' }, { stamp: 'abc-123' }];
    for (const [index, fields] of doubtful.entries())
      await register({ name: 'Bot', email: `bot${index}@ask.example`, occurrence: second, ...fields });
    expect(asked().length).toBeGreaterThan(0);
    expect(await guests('')).toEqual([]);
    for (const name of ['https://evil.example/win', 'Ana www.evil.example', 'evil.example', 'a@b.example'])
      expect((await register({ name, email: 'n@ask.example', occurrence: second })).status).toBe(422);
    // Another spelling of a date is no date.
    expect((await register({ name: 'S', email: 's@ask.example', occurrence: '20310625T193007' })).status).toBe(409);
    expect(await guests('')).toEqual([]);
  });

  it('writes to nobody who opted out, and answers as to everybody', async () => {
    event = await confirmed(null);
    await context().store.consents.optOut(9, byHand, new Date());
    const { status, body } = await register({ name: 'P', email: 'p9@people.example', occurrence: first });
    expect([status, body.includes('we wrote to')]).toEqual([200, true]);
    expect(asked()).toEqual([]);
  });

  it('asks again after a mail that could not be sent', async () => {
    event = await confirmed(null);
    const send = spyOn(context().mail, 'send').and.resolveTo({ kind: 'unreachable', answer: 'away' });
    const ask = () => register({ name: 'A', email: 'again@ask.example', occurrence: first });
    expect((await ask()).status).toBe(502);
    send.and.callThrough();
    expect([(await ask()).status, asked().length]).toEqual([200, 1]);
  });

  /** Sends the notice that the marketer is offered; who got what, with the dates that their calendar reads of. */
  const tell = async (id = event): Promise<string[]> => {
    const { suggestedWording } = await countedChanges(stage, id);
    await sendNotice(context(), id, suggestedWording, null, actor);
    return (await deliver(stage))
      .map(({ to, subject, calendar }) => {
        const dates = namesIn(calendar?.text ?? '').map((name) => name.slice(-4));
        return `${to.address.split('@')[0]}: ${subject.slice(-11)} ${calendar?.method} ${dates.join(' ')}`;
      })
      .sort();
  };
  const save = async (over: Partial<EventFacts>, scope: Scope): Promise<number | null> => {
    const { version } = await getEvent(context(), event);
    const date = scope.kind === 'all' ? null : findOccurrence(version.facts, scope.key);
    const base = scope.kind === 'following' && date ? splitSeries(version.facts, date)?.after : date?.facts;
    const edit = { facts: { ...(base ?? version.facts), ...over }, basedOn: version.number, scope };
    return (await saveEvent(context(), event, edit, actor)).followingId;
  };
  const at = (day: string, time: string): EventFacts['span'] => ({
    kind: 'timed',
    start: `${day}T${time}`,
    end: `${day}T23:00`,
  });

  it('tells people by date of what concerns their dates, with those dates alone', async () => {
    await register({ name: 'Two', email: 'two@new.example', occurrence: second });
    await register({ name: 'Both', email: 'both@new.example', occurrence: second });
    await register({ name: 'Both', email: 'both@new.example', occurrence: third });
    expect((await deliver(stage)).length).toBe(3);
    // Only the third date moves: whoever comes to the second alone holds nothing old.
    await save({ span: at('2031-07-02', '20:30') }, { kind: 'one', key: third });
    expect((await countedChanges(stage, event)).toTell.email).toBe(1);
    expect(await tell()).toEqual(['both: 25 Jun 2031 REQUEST 0625 0702']);
    await save({ venue: 'Dome 3' }, { kind: 'all' });
    expect(await tell()).toEqual(['both: 25 Jun 2031 REQUEST 0625 0702', 'two: 25 Jun 2031 REQUEST 0625']);
    const { version } = await getEvent(context(), event);
    await changeDate(context(), event, { kind: 'call-off', key: third }, version.number, actor);
    expect(await tell()).toEqual(['both:  2 Jul 2031 CANCEL 0702']);
    expect((await countedChanges(stage, event)).holders).toEqual([{ version: 4, count: 2 }]);
  });

  it('calls off one of their dates and moves another in one go, each in the words of its own', async () => {
    await register({ name: 'Both', email: 'both@new.example', occurrence: second });
    await register({ name: 'Both', email: 'both@new.example', occurrence: third });
    await register({ name: 'Gone', email: 'gone@new.example', occurrence: third });
    await deliver(stage);
    await changeDate(context(), event, { kind: 'call-off', key: third }, 1, actor);
    await save({ span: at('2031-06-26', '20:00') }, { kind: 'one', key: second });
    expect((await countedChanges(stage, event)).toTell.email).toBe(2);
    expect(await tell()).toEqual([
      'both:  2 Jul 2031 CANCEL 0702',
      'both: 26 Jun 2031 REQUEST 0625',
      'gone:  2 Jul 2031 CANCEL 0702',
    ]);
    expect(await guests(third)).toEqual(['both@new.example declined', 'gone@new.example declined']);
  });

  it('takes people by date along when a series parts: off in the old one, down in the new', async () => {
    await register({ name: 'Late', email: 'late@new.example', occurrence: third });
    await register({ name: 'Early', email: 'early@new.example', occurrence: first });
    await deliver(stage);
    const following = await save({ span: at('2031-06-25', '20:30') }, { kind: 'following', key: second });
    expect(await tell(following ?? 0)).toEqual(['late:  2 Jul 2031 REQUEST 0702']);
    // The first date stays as it was: who comes to it alone hears of nothing.
    expect(await tell()).toEqual(['late:  2 Jul 2031 CANCEL 0702']);
  });

  it('leaves the part in the whole to whoever has it, and names to whom they belong', async () => {
    const list = await context().store.lists.create(`By hand ${event}`);
    await context().store.newcomers.addToList(
      list,
      [{ email: 'whole@new.example', name: 'Whole', mobile: '', zone: '', textConsent: null }],
      byHand,
      new Date(),
    );
    await invite(stage, event, { lists: [list] });
    await deliver(stage);
    await register({ name: 'Somebody else', email: 'whole@new.example', occurrence: third });
    const [confirmation] = await deliver(stage);
    expect(confirmation?.to.name).toBe('Whole');
    expect([await guests(''), await guests(first), await guests(third)]).toEqual([
      ['whole@new.example needs-action'],
      ['whole@new.example needs-action'],
      ['whole@new.example accepted'],
    ]);
  });

  it('counts an answer for all of it as one for their dates, and their feed and file hold those', async () => {
    await register({ name: 'Eva', email: 'eva@new.example', occurrence: second });
    await register({ name: 'Eva', email: 'eva@new.example', occurrence: third });
    await deliver(stage);
    const person = await idOf('eva@new.example');
    const file = await http.visitor().call('GET', pathOf(context().links.personIcs(event, person)));
    expect(namesIn(file.body).map((name) => name.slice(-4))).toEqual(['0625', '0702']);
    const token = pathOf(context().links.personFeed(person, 0)).replace(/^.*\/|\.ics$/g, '');
    expect(await personFeed(context(), token)).toContain('DTSTART;TZID=Europe/Lisbon:20310625T193000');
    const uid = (await getEvent(context(), event)).uid;
    const lines = ['BEGIN:VCALENDAR', 'METHOD:REPLY', 'BEGIN:VEVENT', `UID:${uid}`, 'DTSTAMP:20310611T100000Z'];
    const reply = [...lines, 'ATTENDEE;PARTSTAT=DECLINED:mailto:eva@new.example', 'END:VEVENT', 'END:VCALENDAR', ''];
    await receiveMail(context(), calendarMail(reply.join('\r\n'), 'eva@new.example'));
    expect([await guests(second), await guests(third), await guests('')]).toEqual([
      ['eva@new.example declined'],
      ['eva@new.example declined'],
      ['eva@new.example by date'],
    ]);
  });

  it('of a one-off makes a guest as any other, with the whole entry', async () => {
    const once = await publishedEvent(stage, { registration: { places: 1, closesMinutes: 0, confirms: false } });
    expect((await register({ name: 'Ivo', email: 'ivo@new.example' }, once)).status).toBe(200);
    const [confirmation] = await deliver(stage);
    expect(confirmation?.calendar?.text).toContain('PARTSTAT=ACCEPTED');
    expect(namesIn(confirmation?.calendar?.text ?? '')).toEqual([]);
    expect((await http.visitor().call('GET', await pageOf(once))).body).toContain('It is full.');
    await sendNotice(context(), once, houseWordings.change, null, actor).catch(() => null);
    expect(await deliver(stage)).toEqual([]);
  });

  it('switched off and on again, counts who comes by what they said meanwhile', async () => {
    const once = await publishedEvent(stage, { registration: { places: 2, closesMinutes: 0, confirms: false } });
    const [ada, ben, cid, dora] = ['ada', 'ben', 'cid', 'dora'].map((name) => `${name}@again.example`);
    const goes = async (email = '') => (await register({ name: 'Again', email }, once)).status;
    expect([await goes(ada), await goes(ben), await goes(cid)]).toEqual([200, 200, 409]);
    const set = async (registration: EventFacts['registration']): Promise<void> => {
      const { version } = await getEvent(context(), once);
      const changed = { ...version.facts, registration };
      await saveEvent(context(), once, { facts: changed, basedOn: version.number }, actor);
    };
    await set(null);
    const page = pathOf(context().links.reply(once, await idOf(ada ?? '')));
    await http.visitor().call('POST', page, new URLSearchParams({ state: 'declined' }).toString(), form);
    await set({ places: 2, closesMinutes: 0, confirms: false });
    expect([await goes(cid), await goes(dora)]).toEqual([200, 409]);
  });

  it('gives the last place once, asked for at once by a form, on two reply pages and by two calendars', async () => {
    const once = await publishedEvent(stage, { registration: { places: 2, closesMinutes: 0, confirms: false } });
    const list = await context().store.lists.create('Asked at once');
    const people = [1, 2, 3, 4, 5].map((n) => ({
      email: `q${n}@last.example`,
      name: `Q${n}`,
      mobile: '',
      zone: '',
      textConsent: null,
    }));
    await context().store.newcomers.addToList(list, people, byHand, new Date());
    const ids = await Promise.all(people.map(({ email }) => idOf(email)));
    await invite(stage, once, { lists: [list] });
    await deliver(stage);
    const uid = (await getEvent(context(), once)).uid;
    const byCalendar = (person: number) => {
      const lines = ['BEGIN:VCALENDAR', 'METHOD:REPLY', 'BEGIN:VEVENT', `UID:${uid}`, 'DTSTAMP:20310611T100000Z'];
      const attendee = `ATTENDEE;PARTSTAT=ACCEPTED:mailto:q${person}@last.example`;
      const text = [...lines, attendee, 'END:VEVENT', 'END:VCALENDAR', ''].join('\r\n');
      return receiveMail(context(), calendarMail(text, `q${person}@last.example`));
    };
    const byPage = (person: number) =>
      http
        .visitor()
        .call(
          'POST',
          pathOf(context().links.reply(once, ids[person - 1] ?? 0)),
          new URLSearchParams({ state: 'accepted' }).toString(),
          form,
        );
    const asked = [
      byCalendar(1),
      byPage(2),
      byCalendar(3),
      byPage(4),
      register({ name: 'Ivo', email: 'ivo@new.example' }, once),
    ];
    await Promise.all(asked);
    const coming = async () =>
      (await listGuests(context(), once, { occurrence: '', search: '', after: '', limit: 200 })).rows.filter(
        ({ reply }) => reply === 'accepted',
      );
    expect((await coming()).length).toBe(2);
    // Whoever has a place may say so again; who was too late is set aside where a person may count it all the same.
    const [{ person: known } = { person: { id: 0 } }] = await coming();
    const place = ids.indexOf(known.id) + 1;
    if (place > 0) expect((await byPage(place)).body).toContain('Thank you');
    await byCalendar(5);
    const aside = await context().store.replies.setAside(once);
    expect(aside.map(({ reason }) => reason)).toContain('no-place');
    const late = aside.find(({ attendee }) => attendee === 'q5@last.example');
    await countReply(context(), once, late?.id ?? 0, actor);
    expect((await coming()).length).toBe(3);
  });
});
