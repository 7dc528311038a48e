import { letter } from '@convite/core';
import { createEvent, publishEvent } from '../services/events/events';
import { makeLinks } from '../services/sending/links';
import { saveCue } from '../services/countdown/cues';
import { openHttpStage, type Answer, type HttpStage, type Visitor } from '../testing/http-stage';
import { apiRoutes, type Route } from '../testing/routes';
import { dayBeforeCue, deliver, invite } from '../testing/acts';
import { actor, eventFacts, mailDomain, secret, type Stage } from '../testing/stage';

/** Asked by themselves elsewhere, or answer without an end. */
const apart = ['/api/live', '/api/session', '/api/account', '/api/backstage'];
/** What every signed-in member may ask though it is no GET: it shows, and changes nothing. */
const shows = /[/-]preview$/;
const everyField =
  '{{person.firstName}} {{link.reply}} {{link.myIcs}} {{link.ics}} {{link.event}} {{link.calendar}} {{link.myCalendar}} {{link.feed}} {{link.optOut}}';

describe('what leaves the server, and who may ask for it', () => {
  let http: HttpStage;
  let stage: Stage;
  const visitors: Record<string, Visitor> = {};
  let idFor: (path: string) => string;

  beforeAll(async () => {
    http = await openHttpStage(20);
    ({ stage } = http);
    const { context } = stage;
    const event = await createEvent(context, { ...eventFacts, joinLink: 'https://join.example/x' }, actor, 'invited');
    await publishEvent(context, event, actor, true);
    await invite(stage, event);
    await deliver(stage);
    const cue = await saveCue(context, event, null, dayBeforeCue({ body: everyField }), actor);
    const delivery = (await stage.db('delivery').orderBy('id').first('id')) as { id: number };
    const firing = (await stage.db('firing').orderBy('id').first('id')) as { id: number };
    const ids: readonly (readonly [RegExp, number])[] = [
      [/\/events\/:id/, event],
      [/\/messages\/:id/, delivery.id],
      [/\/firings\/:id|\/sendings\/:id/, firing.id],
      [/\/cues\/:id/, typeof cue === 'number' ? cue : 1],
    ];
    idFor = (path) => String(ids.find(([place]) => place.test(path))?.[1] ?? 1);
    for (const role of ['viewer', 'marketer', 'owner'] as const) {
      const visitor = (visitors[role] = http.visitor());
      await visitor.signIn(role);
    }
    visitors['stranger'] = http.visitor();
  });
  afterAll(() => http.close());

  const routes = apiRoutes().filter(({ path }) => !apart.some((one) => path.startsWith(one)));
  const ask = (role: string, { method, path }: Route, body?: unknown): Promise<Answer> =>
    (visitors[role] ?? http.visitor()).call(
      method,
      path.replace(':id', idFor(path)).replace(/:\w+/g, '1'),
      method === 'GET' ? undefined : (body ?? {}),
    );

  it('lets nobody in who is not signed in, and a viewer write nothing', async () => {
    expect(routes.length).toBeGreaterThan(180);
    const wrong: string[] = [];
    for (const route of routes) {
      const name = `${route.method} ${route.path}`;
      const stranger = await ask('stranger', route);
      if (stranger.status !== 401 && stranger.status !== 403) wrong.push(`stranger ${name} ${stranger.status}`);
      if (route.method === 'GET' || shows.test(route.path)) continue;
      const viewer = await ask('viewer', route);
      if (viewer.status !== 403) wrong.push(`viewer ${name} ${viewer.status}`);
    }
    expect(wrong).toEqual([]);
  });

  it('writes nothing without the token of the session, whoever asks', async () => {
    const owner = http.visitor();
    await owner.signIn('owner');
    owner.forget();
    const statuses = new Set<number>();
    for (const { method, path } of routes.filter(({ method }) => method !== 'GET'))
      statuses.add((await owner.call(method, path.replace(/:\w+/g, '1'), {})).status);
    expect([...statuses]).toEqual([403]);
  });

  it('hands no working personal link to any member, by whatever it shows, composes, exports or logs', async () => {
    const wording = letter('Come, {{person.firstName}}', everyField);
    const cue = dayBeforeCue({ body: everyField });
    const text = { ...cue, channel: 'text', wording: { subject: '', blocks: wording.blocks } };
    const bodies: Record<string, readonly object[]> = {
      'POST /api/events/:id/invitation-preview': [
        { personId: 3, wording },
        { personId: 3, wording: null },
      ],
      'POST /api/events/:id/notice/preview': [
        { wording, isCallOff: false, personId: 3 },
        { wording, isCallOff: true, personId: 3 },
      ],
      'POST /api/events/:id/cues/preview': [
        { ...cue, personId: 3 },
        { ...text, personId: 3 },
      ],
      'POST /api/wordings/preview': ['email', 'text'].flatMap((channel) =>
        [null, Number(idFor('/events/:id'))].map((eventId) => ({ channel, wording, eventId, personId: 3 })),
      ),
      'POST /api/by-hand/preview': [
        {
          channel: 'email',
          wording: letter('Come', '{{link.feed}} {{link.optOut}}'),
          lists: [stage.list],
          segments: [],
          people: [],
        },
      ],
    };
    const links = makeLinks({ publicUrl: 'http://convite.example', secret, mailDomain });
    let composed = 0;
    const wrong: string[] = [];
    for (const role of ['viewer', 'marketer', 'owner'])
      for (const route of routes) {
        const name = `${route.method} ${route.path}`;
        if (route.method !== 'GET' && !bodies[name] && !shows.test(route.path)) continue;
        const path = /rehearsal$/.test(route.path) ? `${route.path}?person=3` : route.path;
        for (const body of bodies[name] ?? [{}]) {
          const { status, body: said } = await ask(role, { ...route, path }, body);
          if (bodies[name] && status !== 200)
            wrong.push(`${role} ${name} ${status} ${JSON.stringify(said).slice(0, 300)}`);
          const text = typeof said === 'string' ? said : JSON.stringify(said);
          const found = personalIn(text);
          composed += found.length;
          wrong.push(...found.filter((link) => isWorking(links, link)).map((link) => `${role} ${name} ${link}`));
        }
      }
    expect(wrong).toEqual([]);
    // It looked at messages that are full of them.
    expect(composed).toBeGreaterThan(100);
  });

  it('serves what is one person’s own so that nothing between us and them keeps it', async () => {
    const { links } = stage.context;
    const event = Number(idFor('/events/:id'));
    const own = [links.reply(event, 3), links.personIcs(event, 3), links.personFeed(3, 0), links.preferences(3, 0)];
    for (const url of [...own, links.personPage(3, 0), links.optOut(3)]) {
      const { status, headers } = await http.visitor().call('GET', url.replace('http://convite.example', ''));
      expect([url, status, /no-store|private/.test(headers.get('cache-control') ?? '')]).toEqual([url, 200, true]);
    }
    for (const path of ['/api/session', '/api/board', '/healthz', '/programs/lists'])
      expect((await http.visitor().call('GET', path)).headers.get('x-powered-by')).toBeNull();
  });
});

/** Everything in a text that is made for one person, one delivery or one firing. */
const personalIn = (text: string): string[] => [
  ...new Set(
    text.match(
      /\/(?:r|i|my|p|a|j|c|h|l|k|o|opt-out|feed\/person)\/[0-9a-z.-]+-[0-9a-z_-]{8,24}|(?:guests|bounce|opt-out)\+[0-9a-z.-]+@[\w.]+|<d\d+\.[0-9a-f]{10}@/gi,
    ),
  ),
];

function isWorking(links: ReturnType<typeof makeLinks>, link: string): boolean {
  const [, page = '', token = ''] = /^\/(feed\/person|[\w-]+)\/(.+)$/.exec(link) ?? [];
  if (link.startsWith('<d')) return (links.readMessageId(link) ?? 0) > 0;
  if (link.includes('@'))
    return (
      (links.readGuestAddress(link) ?? 0) > 0 ||
      (links.readBounceAddress(link) ?? 0) > 0 ||
      (links.readOptOut(link.slice('opt-out+'.length).split('@')[0] ?? '') ?? 0) > 0
    );
  switch (page) {
    case 'r':
    case 'i':
      return (links.readPersonEvent(page === 'r' ? 'reply' : 'ics', token)?.subscriberId ?? 0) > 0;
    case 'my':
    case 'feed/person':
      return (links.readFeed(token)?.subscriberId ?? 0) > 0;
    case 'p':
      return (links.readPreferences(token)?.subscriberId ?? 0) > 0;
    case 'a':
      return (links.readAddressChange(token)?.id ?? 0) > 0;
    case 'j':
      return (links.readSignup(token) ?? 0) > 0;
    case 'c':
      return (links.readHold(token) ?? 0) > 0;
    case 'h':
      return (links.readStandby(token) ?? 0) > 0;
    case 'k':
      return links.readShort(token) !== null;
    case 'l':
      return (links.readCounted(token)?.id ?? 0) > 0;
    case 'o':
      return (links.readOpenPicture(token) ?? 0) > 0;
    default:
      return (links.readOptOut(token) ?? 0) > 0;
  }
}
