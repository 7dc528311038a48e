import { form, openHttpStage, pathOf, type HttpStage } from '../testing/http-stage';
import { publishedEvent } from '../testing/stage';

describe('links that somebody guesses', () => {
  let http: HttpStage;
  beforeAll(async () => {
    http = await openHttpStage(5);
  });
  afterAll(() => http.close());

  it('open nothing: another person, another figure of the signature, another purpose, nothing of it', async () => {
    const { stage } = http;
    const { links, store } = stage.context;
    const event = await publishedEvent(stage);
    const good = [links.reply(event, 1), links.personIcs(event, 1), links.personFeed(1, 0), links.personPage(1, 0)];
    good.push(links.preferences(1, 0), links.optOut(1));
    for (const url of good) expect([url, (await http.visitor().call('GET', pathOf(url))).status]).toEqual([url, 200]);
    const tokenOf = (url: string): string => /\/([0-9a-z.]+-[0-9a-f]{24})/.exec(url)?.[1] ?? '';
    const tries = new Set<string>();
    for (const url of good) {
      const token = tokenOf(url);
      const [ids = '', signature = ''] = token.split('-');
      const other = (at: number): string =>
        `${signature.slice(0, at)}${signature[at] === '0' ? '1' : '0'}${signature.slice(at + 1)}`;
      const guesses = [
        ...[0, 1, 5, 11, 17, 22, 23].map((at) => `${ids}-${other(at)}`),
        ...['2', '1', '0', 'zz'].map((id) => `${ids.replace(/[0-9a-z]+$/, id)}-${signature}`),
        ...['', '-', ids, `${ids}-`, `-${signature}`, `${ids}-${signature.toUpperCase()}`, `${token}0`, `0${token}`],
        ...[`${ids}.1-${signature}`, `${ids}-${'0'.repeat(24)}`, `${ids}%00-${signature}`, `../${token}`],
        // Good for something else.
        ...good.map(tokenOf),
      ];
      for (const guess of guesses) if (guess !== token) tries.add(pathOf(url).replace(token, guess));
    }
    // Feed and page of one person are the same right.
    for (const url of [links.personFeed(1, 0), links.personPage(1, 0)]) {
      tries.delete(pathOf(url).replace(tokenOf(url), tokenOf(links.personPage(1, 0))));
      tries.delete(pathOf(url));
    }
    const opened: string[] = [];
    const before = await store.consents.latestOf(1);
    expect(tries.size).toBeGreaterThan(120);
    for (const path of tries)
      for (const method of ['GET', 'POST'] as const) {
        const { status } = await http
          .visitor()
          .call(method, path, method === 'POST' ? 'state=declined&occurrence=' : undefined, form);
        if (status < 400) opened.push(`${method} ${path} ${status}`);
      }
    expect(opened).toEqual([]);
    expect(await store.consents.latestOf(1)).toEqual(before);
  }, 90_000);

  it('are shared without a limit where they lead on, and refused for one caller alone where they are one person’s', async () => {
    const { links } = http.stage.context;
    const shared = pathOf(links.counted('message', 77, 1));
    const caller = http.visitor();
    const statuses = new Set<number>();
    for (let n = 0; n < 150; n += 1) statuses.add((await caller.call('GET', shared)).status);
    expect([...statuses]).toEqual([404]);
    const again = new Set<number>();
    for (let n = 0; n < 20; n += 1)
      again.add((await http.visitor().call('POST', '/p/again', `email=x${n}%40people.example`, form)).status);
    expect([...again]).toEqual([200]);
    const own = pathOf(links.preferences(2, 0));
    const stranger = http.visitor();
    for (let n = 0; n < 125; n += 1) await stranger.call('GET', own);
    expect([(await stranger.call('GET', own)).status, (await http.visitor().call('GET', own)).status]).toEqual([
      429, 200,
    ]);
  });

  it('is packed where it is for all, and never where it is one person’s (BREACH)', async () => {
    const { stage } = http;
    const event = await stage.context.store.events.find(
      await publishedEvent(stage, {
        topics: ['night'],
        description: 'Bring a coat. '.repeat(100),
        registration: { places: null, closesMinutes: 0, confirms: true },
      }),
    );
    const { links } = stage.context;
    const ask = async (path: string, accept = 'gzip') => {
      const answer = await fetch(http.base + path, { headers: { 'accept-encoding': accept } });
      return {
        encoding: answer.headers.get('content-encoding'),
        etag: answer.headers.get('etag'),
        text: await answer.text(),
      };
    };
    for (const path of [`/e/${event?.publicKey}`, '/feed/topic/night.ics', '/public.css']) {
      const [packed, plain] = [await ask(path), await ask(path, 'identity')];
      expect([path, packed.encoding, plain.encoding]).toEqual([path, 'gzip', null]);
      expect(packed.text.replace(/name="stamp" value="[^"]*"/, '')).toBe(
        plain.text.replace(/name="stamp" value="[^"]*"/, ''),
      );
      if (path !== `/e/${event?.publicKey}`) expect(packed.etag).not.toBe(plain.etag);
    }
    for (const url of [
      links.preferences(1, 0),
      links.personPage(1, 0),
      links.personFeed(1, 0),
      links.reply(event?.id ?? 0, 1),
    ])
      expect([url, (await ask(pathOf(url))).encoding]).toEqual([url, null]);
  });
});
