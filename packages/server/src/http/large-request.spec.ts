import { gzipSync } from 'node:zlib';
import { makeApiKey } from '../services/accounts/api-keys';
import { openHttpStage, type HttpStage, type Visitor } from '../testing/http-stage';
import { actor, publishedEvent } from '../testing/stage';

const html = (markup: string) =>
  Array.from({ length: 4 }, () => ({ kind: 'html', html: markup.repeat(Math.floor(60_000 / markup.length)) }));
const plain = (text: string) =>
  Array.from({ length: 14 }, () => ({ kind: 'plain', text: text.repeat(20_000 / text.length) }));
const cell = [{ kind: 'text', text: 'x', link: 'https://a.example/' }];
/** Messages as long as a message may be, of what is hard to compose. */
const hard: Readonly<Record<string, readonly object[]>> = {
  'markup that never closes': html('<'),
  'markup that nests': html("<div style='color:red'><b>"),
  braces: plain('{{'),
  fields: plain('{{person.firstName}}'),
  addresses: plain('https://a.example/x '),
  tables: Array.from({ length: 9 }, () => ({
    kind: 'table',
    rows: Array.from({ length: 60 }, () => Array.from({ length: 8 }, () => cell)),
  })),
};

describe('a large request', () => {
  let http: HttpStage;
  let marketer: Visitor;
  let event: number;
  beforeAll(async () => {
    http = await openHttpStage(3);
    marketer = http.visitor();
    await marketer.signIn('marketer');
    event = await publishedEvent(http.stage);
    // The thread begins.
    await preview([
      { kind: 'plain', text: 'x'.repeat(20_000) },
      { kind: 'plain', text: 'x'.repeat(20_000) },
      { kind: 'plain', text: 'x' },
    ]);
  });
  afterAll(() => http.close());

  const preview = (blocks: readonly object[]) =>
    marketer.call('POST', '/api/wordings/preview', {
      channel: 'email',
      wording: { subject: 'x', blocks },
      eventId: event,
      personId: null,
    });
  /** How often somebody else was served meanwhile, and how long they waited at most. */
  const beside = async <T>(work: Promise<T>): Promise<{ done: T; served: number; longestMs: number }> => {
    let isOver = false;
    const over = work.finally(() => (isOver = true));
    let [served, longestMs] = [0, 0];
    const other = http.visitor();
    while (!isOver) {
      const from = performance.now();
      await other.call('GET', '/healthz');
      longestMs = Math.max(longestMs, performance.now() - from);
      served += 1;
    }
    return { done: await over, served, longestMs };
  };

  for (const [what, blocks] of Object.entries(hard))
    it(`keeps nobody else waiting: ${what}`, async () => {
      const { done, served, longestMs } = await beside(preview(blocks));
      expect([done.status, JSON.stringify(done.body).slice(0, 300)]).toEqual([200, jasmine.any(String)]);
      expect(served).toBeGreaterThan(1);
      // On the server's own thread it is the whole of it.
      expect(longestMs).toBeLessThan(1000);
    });

  it('says too much, where a message is longer than any that is read', async () => {
    const { status, body } = await preview([...html('x'), ...html('y')]);
    expect([status, JSON.stringify(body).includes('The message is too long')]).toEqual([422, true]);
  });

  it('is answered as any other: stored, refused with what is wrong, never for who may not', async () => {
    const long = 'x'.repeat(19_000);
    const wording = { subject: 'Large', blocks: [1, 2, 3].map(() => ({ kind: 'plain', text: long })) };
    const kept = { name: 'Large', purpose: 'other', channel: 'email', wording };
    const made = await marketer.call('POST', '/api/wordings', kept);
    expect([made.status, typeof made.body['key']]).toEqual([201, 'string']);
    const read = await marketer.call('GET', `/api/wordings/${String(made.body['key'])}`);
    expect(JSON.stringify(read.body).includes(long)).toBeTrue();
    const entry = { kind: 'entry', title: 'x', url: 'javascript:alert(1)', about: long, lead: long };
    for (const blocks of [[entry], [entry, ...wording.blocks]]) {
      const refused = await marketer.call('POST', '/api/wordings', { ...kept, wording: { subject: 'x', blocks } });
      expect([refused.status, JSON.stringify(refused.body).includes('is not a web address')]).toEqual([422, true]);
    }
    const viewer = http.visitor();
    await viewer.signIn('viewer');
    expect((await viewer.call('POST', '/api/wordings', kept)).status).toBe(403);
    expect((await http.visitor().call('POST', '/api/wordings', kept)).status).toBe(403);
    marketer.forget();
    expect((await marketer.call('POST', '/api/wordings', kept)).status).toBe(403);
    await marketer.signIn('marketer');
  });

  it('is bounded in names and never unpacked, also where it is answered line by line; programs go the same way', async () => {
    const names = JSON.stringify(Object.fromEntries(Array.from({ length: 150_000 }, (_, n) => [`k${n}`, n])));
    const { done, longestMs } = await beside(marketer.call('POST', '/api/lists', names));
    expect([done.status, longestMs < 1000]).toEqual([422, true]);
    expect((await marketer.call('POST', '/api/counts', names)).status).toBe(400);
    const packed = await fetch(`${http.base}/api/lists`, {
      method: 'POST',
      headers: {
        cookie: marketer.cookies(),
        'content-type': 'application/json',
        'content-encoding': 'gzip',
      },
      body: gzipSync(names),
    });
    expect([403, 415]).toContain(packed.status);
    const key = await makeApiKey(
      http.stage.context,
      { name: 'Desk', eventId: null, days: 30, scopes: ['subscribers:write'] },
      actor,
    );
    const asked = await beside(
      http.visitor().call('POST', '/programs/subscribers', names, { authorization: `Bearer ${key}` }),
    );
    expect([asked.done.status, asked.longestMs < 1000]).toEqual([422, true]);
  });

  it('is ended where it takes too long, and stores nothing; the next one is answered', async () => {
    const hasty = await openHttpStage(1, undefined, 1);
    try {
      const visitor = hasty.visitor();
      await visitor.signIn('marketer');
      const kept = {
        name: 'Ended',
        purpose: 'other',
        channel: 'email',
        wording: { subject: 'x', blocks: [1, 2, 3].map(() => ({ kind: 'plain', text: 'x'.repeat(19_000) })) },
      };
      const ended = await visitor.call('POST', '/api/wordings', kept);
      expect([ended.status, String(ended.body['detail']).includes('takes too long')]).toEqual([422, true]);
      expect((await visitor.call('POST', '/api/lists', { name: 'Small' })).status).toBe(201);
      const names = await hasty.stage.db('kept_wording').where('name', 'Ended').pluck('name');
      expect(names).toEqual([]);
    } finally {
      await hasty.close();
    }
  });
});
