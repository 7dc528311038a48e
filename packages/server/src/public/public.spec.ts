import { callOffEvent, createEvent } from '../services/events/events';
import { getEvent } from '../services/events/get-event';
import { houseWordings } from '../services/sending/house-wordings';
import { removeHousePicture, setHousePicture } from '../services/house-picture';
import { saveSettings } from '../services/settings';
import { takePersonal } from '../services/events/personal';
import { form, openHttpStage, pathOf, type HttpStage } from '../testing/http-stage';
import { actor, eventFacts, publishedEvent, type Stage } from '../testing/stage';

const weekly = { series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] }, topics: ['moon'] };

describe('the pages for everybody', () => {
  let http: HttpStage;
  let stage: Stage;
  beforeAll(async () => {
    http = await openHttpStage();
    ({ stage } = http);
  });
  afterAll(() => http.close());
  const visitor = () => http.visitor();

  it('serves pages under a policy without unsafe-inline, and an .ics with the right headers (RFC 6266)', async () => {
    const { call } = visitor();
    const event = await stage.context.store.events.find(
      await publishedEvent(stage, { title: 'Noite das Estrelas <b>& café</b>' }),
    );
    const page = await call('GET', `/e/${event?.publicKey}`);
    expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(page.headers.get('content-security-policy')).not.toContain('unsafe');
    expect(page.body).toContain('&lt;b&gt;&amp; café&lt;/b&gt;');
    expect(page.body).not.toContain('<b>&');
    const ics = await call('GET', `/e/${event?.publicKey}/event.ics`);
    expect(ics.headers.get('content-type')).toContain('text/calendar');
    expect(ics.headers.get('content-disposition')).toContain("filename*=UTF-8''Noite-das-Estrelas-b-caf%C3%A9-b-.ics");
    expect(ics.body).toContain('METHOD:PUBLISH');
    expect((await call('GET', '/e/nothing')).status).toBe(404);
  });

  it('shows the house: its colour made readable in the dark, its picture as what it is, and places on the map of Settings', async () => {
    const { call } = visitor();
    const settings = await stage.context.store.house.settings();
    const page = { colour: '#0b5d3b', mapPattern: 'https://map.example/search{?place}' };
    await expectAsync(
      saveSettings(stage.context, { ...settings, page: { ...page, colour: '#ffd34d' } }, actor),
    ).toBeRejectedWith(
      jasmine.objectContaining({
        more: { problems: [jasmine.objectContaining({ code: 'hard-to-read', path: 'page.colour' })] },
      }),
    );
    for (const [mapPattern, code] of [
      ['https://map.example/search', 'no-place-in-pattern'],
      ['javascript:alert({place})', 'bad-link'],
      ['https://map.example/{?who}', 'unknown-variable'],
      ['https://map.example/{?place', 'bad-pattern'],
    ] as const)
      await expectAsync(saveSettings(stage.context, { ...settings, page: { ...page, mapPattern } }, actor))
        .withContext(mapPattern)
        .toBeRejectedWith(
          jasmine.objectContaining({
            more: { problems: [jasmine.objectContaining({ code, path: 'page.mapPattern' })] },
          }),
        );
    await saveSettings(stage.context, { ...settings, page }, actor);
    for (const file of ['<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>', 'GIF89a', ''])
      await expectAsync(setHousePicture(stage.context, Buffer.from(file), actor)).toBeRejectedWith(
        jasmine.objectContaining({ code: 'no-picture' }),
      );
    const png = Buffer.from('89504e470d0a1a0a0000', 'hex');
    await setHousePicture(stage.context, png, actor);
    const event = await stage.context.store.events.find(
      await publishedEvent(stage, { venue: 'Dome 1\nHill & "Road"' }),
    );
    const { body } = await call('GET', `/e/${event?.publicKey}`);
    expect(body).toContain('<link rel="stylesheet" href="/public.css?colour=0b5d3b">');
    expect(body).toContain('href="https://map.example/search?place=Dome%201%20Hill%20%26%20%22Road%22"');
    const [picture = ''] = /\/house-picture\/[0-9a-f]{16}/.exec(body) ?? [];
    const served = await call('GET', picture);
    expect([served.status, served.headers.get('content-type'), served.headers.get('x-content-type-options')]).toEqual([
      200,
      'image/png',
      'nosniff',
    ]);
    expect((await call('GET', '/house-picture/0000000000000000')).status).toBe(404);
    const css = (await call('GET', '/public.css?colour=0b5d3b')).body;
    expect(css).toContain(':root { --lead: #0b5d3b; }');
    expect((await call('GET', '/public.css?colour=red;}body{x:y')).body).not.toContain('body{x:y');
    await removeHousePicture(stage.context, actor);
    expect((await call('GET', `/e/${event?.publicKey}`)).body).not.toContain('<img');
    expect((await call('GET', picture)).status).toBe(404);
    await saveSettings(stage.context, settings, actor);
  });

  it('opts out only by POST, with one click (RFC 8058), since scanners fetch every link', async () => {
    const { call } = visitor();
    const path = pathOf(stage.context.links.optOut(5));
    const state = async () =>
      (await stage.context.store.subscribers.page({ search: 'p5@', after: 0, limit: 1 })).rows[0]?.state;
    expect((await call('GET', path)).status).toBe(200);
    expect(await state()).toBe('subscribed');
    expect((await call('POST', path.replace(/.$/, 'x'))).status).toBe(404);
    expect(
      (await call('POST', path, 'List-Unsubscribe=One-Click', { 'content-type': 'application/x-www-form-urlencoded' }))
        .status,
    ).toBe(200);
    expect(await state()).toBe('opted-out');
  });

  it('takes answers on the reply page by POST alone, date by date, from whoever the address was made for', async () => {
    const { call } = visitor();
    const event = await publishedEvent(stage, weekly);
    await stage.context.store.invitees.addGuests(
      [{ eventId: event, subscriberId: 9, reply: 'needs-action', holdsVersion: 1 }],
      new Date(),
    );
    const path = pathOf(stage.context.links.reply(event, 9));
    const answers = () => stage.context.store.dates.answersOf(event, 9);
    const page = await call('GET', `${path}?state=accepted`);
    expect([page.status, (await answers()).reply]).toEqual([200, 'needs-action']);
    expect(page.body).toContain('Or date by date');
    const thanks = await call('POST', path, 'state=accepted&occurrence=&comment=Two+of+us', form);
    expect(thanks.body).toContain('Thank you: your answer is “yes”.');
    await call('POST', path, 'state=declined&occurrence=20310625T193000', form);
    const after = await answers();
    expect([after.reply, [...after.dates]]).toEqual(['accepted', [['20310625T193000', 'declined']]]);
    expect((await call('POST', path, 'state=declined&occurrence=20310626T193000', form)).status).toBe(404);
    expect((await call('POST', path, 'state=sure', form)).status).toBe(404);
    expect((await call('POST', path.replace(/.$/, 'g'), 'state=declined', form)).status).toBe(404);
    expect((await answers()).reply).toBe('accepted');

    // Their own feed says what they said: all but that date. A new address makes the old one worthless.
    const feedPath = pathOf(stage.context.links.personFeed(9, 0));
    const feed = await call('GET', feedPath);
    expect(feed.body).toContain('RRULE:FREQ=WEEKLY;BYDAY=WE');
    expect(feed.body).toContain('EXDATE;TZID=Europe/Lisbon:20310625T193000');
    const reset = await call('POST', pathOf(stage.context.links.personPage(9, 0)), '', form);
    expect([reset.status, (await call('GET', feedPath)).status]).toEqual([303, 404]);
    expect((await call('GET', pathOf(stage.context.links.personFeed(9, 1)))).status).toBe(200);
  });

  it('changes nothing by what came with a test or a preview, and says so', async () => {
    const { call } = visitor();
    const { links } = stage.context;
    const id = await publishedEvent(stage);
    for (const url of [
      links.optOut(0),
      links.reply(id, 0),
      links.preferences(0, 0),
      links.personPage(0, 0),
      links.personFeed(0, 0),
      links.personIcs(id, 0),
    ])
      for (const method of ['GET', 'POST'] as const) {
        const page = await call(
          method,
          pathOf(url),
          method === 'POST' ? 'state=accepted&occurrence=' : undefined,
          form,
        );
        expect([page.status, page.body.includes('Only a test')])
          .withContext(`${method} ${url}`)
          .toEqual([200, true]);
      }
    expect((await call('GET', pathOf(links.optOut(0)).replace(/.$/, 'g'))).status).toBe(404);
  });

  it('serves feeds that are the same octets until something changes (RFC 9110 §13.1.2)', async () => {
    const { call } = visitor();
    const id = await publishedEvent(stage, { ...weekly, topics: ['planets'] });
    const event = await stage.context.store.events.find(id);
    for (const url of [
      stage.context.links.topicFeed('planets'),
      stage.context.links.eventFeed(event?.publicKey ?? ''),
    ]) {
      const first = await call('GET', pathOf(url));
      expect([first.status, first.headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8']);
      const etag = first.headers.get('etag') ?? '';
      await new Promise((resolve) => setTimeout(resolve, 1100));
      // A reader that says no-cache asks for the whole again; fetch would say it by itself.
      const conditional = { 'if-none-match': etag, 'cache-control': 'max-age=0' };
      const second = await call('GET', pathOf(url), undefined, conditional);
      expect([second.status, second.body as string]).toEqual([304, '']);
      expect((await call('GET', pathOf(url), undefined, { 'if-none-match': '"other"' })).status).toBe(200);
    }
    expect((await call('GET', '/feed/topic/nothing.ics')).status).toBe(404);
    const draft = await stage.context.store.events.find(await createEvent(stage.context, eventFacts, actor));
    expect((await call('GET', `/feed/event/${draft?.publicKey}.ics`)).status).toBe(404);
    expect((await call('GET', `/e/${draft?.publicKey}/event.ics`)).status).toBe(404);
  });

  it('shows a series with the dates to come, and what is called off without anything to add', async () => {
    const { call } = visitor();
    const changed = { span: null, title: null, description: null, joinLink: null };
    const id = await publishedEvent(stage, {
      joinLink: 'https://join.example/r',
      series: {
        ...weekly.series,
        exceptions: [
          { ...changed, at: '2031-06-25T19:30', calledOff: true, venue: null },
          { ...changed, at: '2031-07-02T19:30', calledOff: false, venue: 'Dome 9 <b>' },
        ],
      },
    });
    const { publicKey } = await getEvent(stage.context, id);
    const { body } = await call('GET', `/e/${publicKey}`);
    expect(body).toContain('<s>Wed 25 Jun 2031 19:30 to 22:00 Lisbon time</s> called off');
    expect(body).toContain('Wed 2 Jul 2031 19:30 to 22:00 Lisbon time, Dome 9 &lt;b&gt;');
    expect(body).toContain('webcal://convite.example/feed/event/');
    expect(body).toContain('"eventStatus":"https://schema.org/EventScheduled"');
    await callOffEvent(stage.context, id, houseWordings.callOff, null, actor);
    const off = (await call('GET', `/e/${publicKey}`)).body;
    expect(off).toContain('Called off.');
    expect(off).toContain('"eventStatus":"https://schema.org/EventCancelled"');
    expect(off).not.toContain('Add to calendar');
    expect((await call('GET', `/e/${publicKey}/event.ics`)).body).toContain('STATUS:CANCELLED');
  });

  it('gives one person their own file and the page of their calendar, by addresses nobody guesses', async () => {
    const { call } = visitor();
    const id = await publishedEvent(stage, { isPersonal: true, title: 'Your half hour' });
    const rows = [
      {
        email: 'p11@people.example',
        mobile: '',
        name: '',
        start: '2031-06-18T21:15',
        end: '',
        place: 'West',
        notes: '',
      },
    ];
    await takePersonal(stage.context, id, { kind: 'rows', rows }, actor);
    const path = pathOf(stage.context.links.personIcs(id, 11));
    const ics = await call('GET', path);
    expect(ics.headers.get('content-disposition')).toBe('attachment; filename="Your-half-hour.ics"');
    expect(ics.body).toContain('DTSTART;TZID=Europe/Lisbon:20310618T211500');
    expect(ics.body).toContain('LOCATION:West');
    expect((await call('GET', path.replace('.b-', '.c-'))).status).toBe(404);
    expect((await call('GET', path.replace(/.(?=\/event)/, '_'))).status).toBe(404);
    const page = await call('GET', pathOf(stage.context.links.personPage(11, 0)));
    expect(page.body).toContain('Make a new address');
    expect(page.body).toContain('webcal://convite.example/feed/person/');
    expect((await call('GET', pathOf(stage.context.links.personPage(11, 1)))).status).toBe(404);
    expect((await call('POST', pathOf(stage.context.links.personPage(11, 1)), '', form)).status).toBe(404);
  });
});
