import { judge, wholeEvent, whoOf } from '@convite/core';
import { saveForm } from '../services/audience/sign-up';
import { getPerson } from '../services/audience/persons';
import { readTimeline } from '../services/audience/timeline';
import { receiveText } from '../services/replies/receive-text';
import { form, openHttpStage, pathOf, type HttpStage } from '../testing/http-stage';
import { actor, clockTo, until, type Stage } from '../testing/stage';

const fields = {
  name: 'Night sky letters',
  intro: 'Once a week.',
  topics: ['moon', 'camps'],
  asksMobile: true,
  emailWords: 'Write to me about nights at the dome.',
  textWords: 'Send me texts on the day.',
  thanks: 'See you under the stars.',
  isOpen: true,
};

describe('the subscriber’s own side', () => {
  let http: HttpStage;
  let stage: Stage;
  let key: string;
  beforeEach(async () => {
    http = await openHttpStage();
    ({ stage } = http);
    const id = await saveForm(stage.context, null, { ...fields, lists: [stage.list] }, actor);
    key = (await stage.context.store.signups.form(id))?.publicKey ?? '';
  });
  afterEach(() => http.close());

  const call: ReturnType<HttpStage['visitor']>['call'] = (...what) => http.visitor().call(...what);
  const post = (path: string, typed: Record<string, string> | string) =>
    call('POST', path, typeof typed === 'string' ? typed : new URLSearchParams(typed).toString(), form);
  const pressed = (): string =>
    /http:\/\/convite\.example(\/[ja]\/[^\s"]+)/.exec(stage.sentAtOnce.pop()?.text ?? '')?.[1] ?? '';
  const preferences = async (id: number): Promise<string> => {
    const person = await stage.context.store.subscribers.find(id);
    return pathOf(stage.context.links.preferences(id, person?.feedNonce ?? 0));
  };
  const reasonOf = async (id: number, channel: 'email' | 'text' = 'email') => {
    const facts = await stage.context.store.personFacts.of(id, stage.clock.now());
    const everybody = { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null };
    return facts && judge(facts, whoOf(everybody, wholeEvent(null)), channel);
  };

  it('signs nobody up before the owner of the address says that it was they, and keeps the words they agreed to', async () => {
    const page = await call('GET', `/join/${key}`, undefined, { 'accept-language': 'pt-BR,en;q=0.5' });
    expect(page.body).toContain('lang="pt"');
    expect(page.body).toContain('value="São Paulo"'.normalize('NFC').replace('São Paulo', 'Sao Paulo'));
    const unchosen = await call('GET', `/join/${key}`, undefined, { 'accept-language': 'en-US,en;q=0.9' });
    expect(unchosen.body).toContain('value="Lisbon"');
    expect(page.body).not.toContain('checked');
    expect(page.body).not.toContain('<script src="http');
    const typed =
      'name=Ana&email=ANA%40new.example&mobile=07700+900990&zone=Lisbon&topics=moon&topics=unknown&emailOk=yes&textOk=yes';
    expect((await post(`/join/${key}`, typed)).status).toBe(200);
    expect(await stage.context.store.subscribers.idByEmail('ana@new.example')).toBeNull();
    const mail = stage.sentAtOnce.at(-1);
    // Nothing in it was typed by whoever asked.
    expect(`${mail?.subject} ${mail?.text} ${mail?.html}`).not.toContain('Ana');
    const link = pressed();
    expect((await call('GET', link)).status).toBe(200);
    expect(await stage.context.store.subscribers.idByEmail('ana@new.example')).toBeNull();
    const done = await post(link, '');
    expect(done.body).toContain('See you under the stars.');
    // In the language of who signed up.
    expect(done.body).toMatch(/START/);
    const id = (await stage.context.store.subscribers.idByEmail('ana@new.example')) ?? 0;
    const person = await getPerson(stage.context, id);
    expect([person.name, person.mobile, person.zone, person.lists, person.textConsent]).toEqual([
      'Ana',
      '+447700900990',
      'Europe/Lisbon',
      [stage.list],
      false,
    ]);
    expect(person.consents.map(({ how }) => how)).toEqual([
      '“Write to me about nights at the dome.” on the form Night sky letters',
    ]);
    // A number may be somebody else's: texts begin once START comes from it.
    expect([await reasonOf(id), await reasonOf(id, 'text')]).toEqual([null, 'no-text-consent']);
    await receiveText(stage.context, { from: '+447700900990', text: 'START' });
    expect(await reasonOf(id, 'text')).toBeNull();
    // Pressing it again does nothing again.
    await post(link, '');
    expect((await getPerson(stage.context, id)).consents.length).toBe(2);
  });

  it('changes nothing that is known of somebody, whoever fills the form in, and shows what is stored before it is', async () => {
    const known = async (id: number) => {
      const { name, mobile, zone, textConsent } = await getPerson(stage.context, id);
      return [name, mobile, zone, textConsent];
    };
    const typed = { name: 'Mallory', mobile: '07700 900991', zone: 'Tokyo', emailOk: 'yes', textOk: 'yes' };
    const before = await known(1);
    await post(`/join/${key}`, { ...typed, email: 'p1@people.example' });
    const link = pressed();
    const page = (await call('GET', link)).body;
    expect([/Mallory|900991|Tokyo/.test(page), page.split('stays as we have it').length - 1]).toEqual([false, 3]);
    await post(link, '');
    expect(await known(1)).toEqual(before);
    // What is not known is filled in. Consent to texts is not: it was given with another number, or with none.
    await stage.db('subscriber').where({ id: 2 }).update({ name: '', mobile: '', zone: '' });
    await post(`/join/${key}`, { ...typed, email: 'p2@people.example' });
    const other = pressed();
    expect((await call('GET', other)).body).toMatch(/Mallory[^]*\+447700900991[^]*Tokyo/);
    await post(other, '');
    expect(await known(2)).toEqual(['Mallory', '+447700900991', 'Asia/Tokyo', false]);
    expect(await reasonOf(2, 'text')).toBe('no-text-consent');
    await receiveText(stage.context, { from: '+447700900991', text: 'START' });
    expect(await reasonOf(2, 'text')).toBeNull();
  });

  it('asks no puzzles, and is told in words what cannot be used; machines and strangers make us write to nobody', async () => {
    const refused = async (typed: Record<string, string>): Promise<string> => {
      const { status, body } = await post(`/join/${key}`, typed);
      return `${status} ${/role="alert">([^<]*)/.exec(body)?.[1] ?? ''}`;
    };
    expect(await refused({ email: 'nope', emailOk: 'yes' })).toBe('422 This is not an email address.');
    expect(await refused({ email: 'a@x.example' })).toContain('422 Tick that we may write to you');
    expect(await refused({ email: 'a@x.example', name: 'Win at http://bad.example', emailOk: 'yes' })).toContain(
      '422 A name holds no web',
    );
    expect(await refused({ email: 'a@x.example', mobile: '12', emailOk: 'yes' })).toContain(
      '422 This is not a telephone number.',
    );
    expect(await refused({ email: 'a@x.example', zone: 'Mars', emailOk: 'yes' })).toContain('422 This is no time zone');
    await post(`/join/${key}`, { email: 'a@x.example', emailOk: 'yes', website: 'x' });
    expect(stage.sentAtOnce.length).toBe(0);
    // What the mail server did not take does not count.
    const send = spyOn(stage.context.mail, 'send').and.resolveTo({ kind: 'unreachable', answer: 'away' });
    expect((await post(`/join/${key}`, { email: 'a@x.example', emailOk: 'yes' })).status).toBe(502);
    send.and.callThrough();
    // Once an hour; the answer is the same for everybody.
    for (let round = 0; round < 3; round += 1)
      expect((await post(`/join/${key}`, { email: 'a@x.example', emailOk: 'yes' })).status).toBe(200);
    expect(stage.sentAtOnce.length).toBe(1);
    const optedOut = (await stage.context.store.subscribers.idByEmail('p3@people.example')) ?? 0;
    await post(pathOf(stage.context.links.optOut(optedOut)), '');
    expect((await post(`/join/${key}`, { email: 'p3@people.example', emailOk: 'yes' })).body).toContain(
      'One step more',
    );
    expect(stage.sentAtOnce.length).toBe(1);
    const [stored] = await stage.context.store.signups.forms();
    await saveForm(stage.context, stored?.id ?? 0, { ...fields, lists: [stage.list], isOpen: false }, actor);
    expect((await post(`/join/${key}`, { email: 'b@x.example', emailOk: 'yes' })).status).toBe(410);
  });

  it('shows somebody what they get, in their language, and lets them say otherwise', async () => {
    const at = await preferences(1);
    expect((await call('GET', at)).body).toContain('What you get from us');
    const saved = await post(
      at,
      'name=P+One&language=de&zone=S%C3%A3o+Paulo&topics=stars&byEmail=yes&quietUntil=2031-06-20&mostPerWeek=2',
    );
    expect(saved.body).toContain('Gespeichert.');
    const person = await getPerson(stage.context, 1);
    // Topics that the house does not offer are none, and the unticked box is a no to texts.
    expect([person.name, person.language, person.zone, person.textConsent, person.emailConsent]).toEqual([
      'P One',
      'de',
      'America/Sao_Paulo',
      false,
      true,
    ]);
    expect(person.mostPerWeek).toBe(2);
    expect((await call('GET', at)).body).toContain('<option value="2" selected>höchstens 2 Mal in der Woche</option>');
    expect(await reasonOf(1)).toBe('paused');
    await clockTo(stage, Date.UTC(2031, 5, 20, 12));
    await stage.context.store.subscribers.endPauses(new Date(stage.clock.now()));
    expect(await reasonOf(1)).toBeNull();
    await post(at, 'name=P+One&language=en');
    expect([await reasonOf(1), (await getPerson(stage.context, 1)).optedOut]).toEqual(['opted-out', true]);
    // Back again by the same link.
    await post(at, 'name=P+One&language=en&byEmail=yes');
    expect(await reasonOf(1)).toBeNull();
    // Two zones may be called alike: what was shown stays what it is.
    await stage.db('subscriber').where({ id: 1 }).update({ zone: 'America/Indiana/Knox' });
    await post(at, 'name=P+One&language=en&byEmail=yes&zone=Knox');
    expect((await getPerson(stage.context, 1)).zone).toBe('America/Indiana/Knox');
    const bad = await post(at, 'name=P+Uno&zone=Mars&byEmail=yes&quietUntil=2032-01-02');
    expect([bad.status, bad.body.includes('This is no time zone')]).toEqual([422, true]);
    // Nothing typed is lost, and nothing is kept.
    for (const typed of ['value="P Uno"', 'value="Mars"', 'value="2032-01-02"']) expect(bad.body).toContain(typed);
    expect((await getPerson(stage.context, 1)).name).toBe('P One');
  });

  it('cannot be guessed or walked, and its address is dead once another is made', async () => {
    const [one, two] = [await preferences(1), await preferences(2)];
    const swapped = one.replace(/^\/p\/1\./, '/p/2.');
    expect(swapped).not.toBe(two);
    for (const path of [swapped, '/p/1.0-000000000000000000000000', '/p/x', '/a/1.0-0', '/j/1-0'])
      expect((await call('GET', path)).status).toBe(404);
    await stage.context.store.subscribers.resetFeed(1);
    expect((await call('GET', one)).status).toBe(410);
  });

  it('changes an address once both ends have said so', async () => {
    const at = await preferences(1);
    expect((await post(`${at}/address`, { email: 'nope' })).status).toBe(422);
    await post(`${at}/address`, { email: 'New@people.example' });
    // Nobody has us write to many: not before an hour is over.
    expect((await post(`${at}/address`, { email: 'victim@people.example' })).status).toBe(429);
    const mails = stage.sentAtOnce.splice(0).map(({ to, text }) => ({
      to: to.address,
      link: /http:\/\/convite\.example(\/a\/[^\s"]+)/.exec(text)?.[1] ?? '',
    }));
    expect(mails.map(({ to }) => to)).toEqual(['p1@people.example', 'new@people.example']);
    await call('GET', mails[0]?.link ?? '');
    await post(mails[1]?.link ?? '', '');
    expect((await getPerson(stage.context, 1)).email).toBe('p1@people.example');
    expect((await post(mails[0]?.link ?? '', '')).body).toContain('Done');
    expect((await getPerson(stage.context, 1)).email).toBe('new@people.example');
    // One that is somebody else's is not taken from them.
    const other = await preferences(2);
    await post(`${other}/address`, { email: 'new@people.example' });
    const [first, second] = stage.sentAtOnce
      .splice(0)
      .map(({ text }) => /http:\/\/convite\.example(\/a\/[^\s"]+)/.exec(text)?.[1] ?? '');
    for (const link of [first, second]) if (link) await post(link, '');
    expect((await getPerson(stage.context, 2)).email).toBe('p2@people.example');
    // Who opted out is not written to because somebody typed their address.
    await stage.db('subscriber').where({ id: 4 }).update({ opted_out_at: new Date() });
    await post(`${await preferences(3)}/address`, { email: 'p4@people.example' });
    expect(stage.sentAtOnce.splice(0).map(({ to }) => to.address)).toEqual(['p3@people.example']);
  });

  it('notes which pages somebody opens only where the house does, never of who minds, and forgets what it noted', async () => {
    const opened = async (): Promise<string[]> => stage.db('page_opened').orderBy('page').pluck('page');
    const at = await preferences(1);
    const calendar = pathOf(stage.context.links.personPage(1, 0));
    expect((await call('GET', at)).body).not.toContain('mindsNoting');
    await call('GET', calendar);
    expect(await opened()).toEqual([]);
    const { house } = stage.context.store;
    await house.saveSettings({ ...(await house.settings()), notesPages: true });
    for (let twice = 0; twice < 2; twice += 1) for (const page of [at, calendar]) await call('GET', page);
    await until('both were noted, once a day', async () => (await opened()).join() === 'calendar,preferences');
    const { rows } = await readTimeline(stage.context, 1, '');
    expect(
      rows
        .filter(({ kind }) => kind === 'opened')
        .map(({ text }) => text)
        .sort(),
    ).toEqual(['calendar', 'preferences']);
    expect(JSON.stringify((await call('GET', `${at}/held.json`)).body)).toContain('"page":"calendar"');
    const said = await post(at, { name: 'A', byEmail: 'yes', mindsNoting: 'yes' });
    expect(said.body).toMatch(/name="mindsNoting" value="yes" checked/);
    await call('GET', calendar);
    await stage.db.raw('select sleep(0.2)');
    expect(await opened()).toEqual([]);
  });

  it('hands out what is held, and forgets who asks for it', async () => {
    const at = await preferences(5);
    const held = await call('GET', `${at}/held.json`);
    expect(JSON.stringify(held.body)).toContain('p5@people.example');
    expect((await call('GET', `${at}/forget`)).body).toContain('erased for good');
    expect((await getPerson(stage.context, 5)).email).toBe('p5@people.example');
    expect((await post(`${at}/forget`, '')).body).toContain('You are forgotten');
    await expectAsync(getPerson(stage.context, 5)).toBeRejected();
    expect((await call('GET', at)).status).toBe(410);
  });

  it('mails another link to whoever has one that is good no more, and tells nobody whose address it is', async () => {
    const stale = await preferences(1);
    await stage.context.store.subscribers.resetFeed(1);
    const page = await call('GET', stale);
    expect([page.status, page.body]).toEqual([410, jasmine.stringContaining('Send me a new link')] as never);
    expect((await call('GET', '/p/1.0-000000000000000000000000')).status).toBe(404);
    expect((await post('/p/again', { email: 'no address' })).status).toBe(422);
    await stage.db('subscriber').where({ id: 2 }).update({ bounced_at: new Date() });
    await stage.db('subscriber').where({ id: 3 }).update({ opted_out_at: new Date() });
    const answers = [];
    for (const email of ['P1@people.example', ...['p1', 'p2', 'p3', 'nobody'].map((name) => `${name}@people.example`)])
      answers.push(await post('/p/again', { email }));
    expect(new Set(answers.map(({ status, body }) => `${status} ${body}`)).size).toBe(1);
    await until('it is mailed', () => stage.sentAtOnce.length > 0);
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(stage.sentAtOnce.map(({ to }) => to.address)).toEqual(['p1@people.example']);
    const link = /http:\/\/convite\.example(\/p\/[^\s"]+)/.exec(stage.sentAtOnce[0]?.text ?? '')?.[1] ?? '';
    expect([link, (await call('GET', link)).status]).toEqual([await preferences(1), 200]);
  });
});
