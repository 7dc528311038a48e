import { Validator } from '@seriousme/openapi-schema-validator';
import { programScopes, type ProgramScope, type RowOutcome } from '@convite/contract';
import { makeApiKey } from '../../services/accounts/api-keys';
import { openHttpStage, type HttpStage } from '../../testing/http-stage';
import { actor, addPeople, clockTo, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { operations } from './operations';

describe('what programs may ask', () => {
  let stage: Stage;
  let http: HttpStage;
  beforeEach(async () => {
    http = await openHttpStage(0);
    ({ stage } = http);
    await clockTo(stage, Date.UTC(2031, 5, 10, 12));
    await stage.db('list').where({ id: stage.list }).update({ name: 'Night sky news' });
    await stage.context.store.house.saveSettings({ ...specSettings, topics: ['moon', 'stars'] });
    await stage.context.store.fields.create('Seat', 'text');
  });
  afterEach(async () => {
    await http.close();
  });

  const keyFor = (scopes: readonly ProgramScope[] = programScopes, eventId: number | null = null): Promise<string> =>
    makeApiKey(stage.context, { name: 'Desk', eventId, days: 30, scopes: [...scopes] }, actor);
  const asking = async (scopes?: readonly ProgramScope[]) => {
    const authorization = `Bearer ${await keyFor(scopes)}`;
    return (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
      http.visitor().call(method, `/programs${path}`, body, { authorization, ...headers });
  };
  const people = async (): Promise<number> => Number((await stage.db('subscriber').count({ n: '*' }))[0]?.['n']);
  const outcomes = (body: Record<string, unknown>): RowOutcome[] => body['results'] as RowOutcome[];

  it('answers every example of its documentation as it says, in a house of its own', async () => {
    await publishedEvent(stage, { isPersonal: true });
    const ask = await asking();
    for (const { method, path, example, answer, query } of operations) {
      const { status, body } = await ask(method.toUpperCase(), example.path, example.body);
      const what = `${method} ${path}`;
      if (answer === null) expect(status).withContext(what).toBe(204);
      else {
        expect([status, body])
          .withContext(what)
          .toEqual([200, example.answer] as never);
        expect(answer.safeParse(body).error).withContext(what).toBeUndefined();
      }
      if (query === null) expect(example.path).not.toContain('?');
    }
  });

  it('is described by OpenAPI 3.1 that a validator from the registry finds nothing in, and by a page', async () => {
    const { body } = await http.visitor().call('GET', '/docs/api/openapi.json');
    const checked = await new Validator().validate(body);
    expect(checked).toEqual(jasmine.objectContaining({ valid: true }));
    expect(Object.keys(body['paths'] as object).sort()).toEqual(
      [...new Set(operations.map(({ path }) => path))].sort(),
    );
    const page = String((await http.visitor().call('GET', '/docs/api')).body);
    for (const { example } of operations) expect(page).toContain(`/programs${example.path.replace('&', '&amp;')}`);
    expect(page).not.toContain('<script>');
  });

  it('lets a key do what it is for, and nothing else', async () => {
    for (const scope of programScopes) {
      const ask = await asking([scope]);
      for (const { method, example, scope: needed, path } of operations) {
        const { status } = await ask(method.toUpperCase(), example.path, example.body);
        if (needed === scope) expect(status).withContext(`${scope} for ${path}`).not.toBe(403);
        else expect(status).withContext(`${scope} for ${method} ${path}`).toBe(403);
      }
    }
    const refused = await keyFor(['lists:read'], await publishedEvent(stage)).catch((error: unknown) => error);
    expect(refused).toEqual(jasmine.objectContaining({ status: 422 }));
  });

  it('takes the same wish once, also twice at once, and refuses a key that came with another', async () => {
    const ask = await asking();
    const wish = {
      rows: Array.from({ length: 200 }, (_, n) => ({ email: `w${n}@people.example`, lists: [stage.list] })),
    };
    const key = { 'idempotency-key': 'wish-0001' };
    const both = await Promise.all([
      ask('POST', '/subscribers', wish, key),
      ask('POST', '/subscribers', wish, key),
      ask('POST', '/subscribers', wish, key),
    ]);
    expect(both.map(({ status }) => status)).toEqual([200, 200, 200]);
    expect(both[1]?.body).toEqual(both[0]?.body ?? {});
    expect(outcomes(both[2]?.body ?? {}).every(({ outcome, id }) => outcome === 'new' && id !== null)).toBeTrue();
    expect([await people(), (await stage.context.store.lists.find(stage.list))?.count]).toEqual([200, 200]);
    expect((await ask('POST', '/subscribers', { rows: [{ email: 'x@people.example' }] }, key)).status).toBe(422);
    expect((await ask('POST', '/subscribers', wish, { 'idempotency-key': 'no spaces!' })).status).toBe(422);
    const again = await ask('POST', '/subscribers', wish);
    expect(new Set(outcomes(again.body).map(({ outcome }) => outcome))).toEqual(new Set(['same']));
    // Another program's key of that name is another wish.
    const other = await asking();
    expect((await other('POST', '/subscribers', { rows: [{ email: 'x@people.example' }] }, key)).status).toBe(200);
  });

  it('takes each row for itself, and says of each what was in the way', async () => {
    await addPeople(stage, 2);
    await stage.context.store.lists.create('Concerts, classical');
    const ask = await asking();
    const { body } = await ask('POST', '/subscribers', {
      rule: 'take',
      rows: [
        { email: 'P1@people.example', name: 'Another Name', lists: [stage.list + 1], fields: { seat: 'B 2' } },
        { email: 'new@people.example', agreesToEmail: true },
        { email: 'a@people.example', lists: [999], topics: ['cooking'], fields: { Shoes: '42' } },
        { email: 'b@people.example', zone: 'Atlantis' },
        { mobile: '020 7946 0958 0' },
        { email: 'c@people.example' },
        { email: 'c@people.example' },
      ],
    });
    expect(outcomes(body).map(({ outcome, problems }) => [outcome, ...problems.map(({ code }) => code)])).toEqual([
      ['changed'],
      ['refused', 'no-words'],
      ['refused', 'unknown-list', 'unknown-topic', 'no-such-field'],
      ['refused', 'unknown-zone'],
      ['refused', 'bad-mobile'],
      ['new'],
      ['twice'],
    ]);
    expect((await ask('GET', '/subscribers/1')).body).toEqual(
      jasmine.objectContaining({ name: 'Another Name', lists: [stage.list, stage.list + 1], fields: { Seat: 'B 2' } }),
    );
    // Nobody said that they agreed.
    const fresh = (await ask('GET', '/subscribers?email=c@people.example')).body['rows'] as { emailConsent: boolean }[];
    expect(fresh.map(({ emailConsent }) => emailConsent)).toEqual([false]);
    // Topics are spelled as the house does, and more names than a file has columns are refused in words.
    await ask('POST', '/subscribers', { rows: [{ email: 'c@people.example', topics: ['MOON', 'Stars'] }] });
    const { rows } = (await ask('GET', '/subscribers?email=c@people.example')).body as unknown as {
      rows: { topics: string[] }[];
    };
    expect(rows[0]?.topics).toEqual(['moon', 'stars']);
    const lists: number[] = [];
    for (let n = 0; n < 200; n += 1) lists.push(await stage.context.store.lists.create(`L${n}`));
    const many = Array.from({ length: 10 }, (_, n) => ({
      email: `m${n}@people.example`,
      lists: lists.slice(n * 20, n * 20 + 20),
    }));
    const refused = await ask('POST', '/subscribers', { rows: many });
    expect([refused.status, refused.body['title']]).toEqual([422, 'too-many-names']);
    expect((await ask('POST', '/subscribers', { rows: [] })).status).toBe(422);
    const tooMany = { rows: Array.from({ length: 501 }, (_, n) => ({ email: `m${n}@people.example` })) };
    expect((await ask('POST', '/subscribers', tooMany)).status).toBe(422);
    expect((await ask('GET', '/nowhere')).status).toBe(404);
  });

  it('pages through all people, a list’s members and the ledger, each once', async () => {
    await addPeople(stage, 130);
    const ask = await asking();
    const walk = async (path: string): Promise<unknown[]> => {
      const found: unknown[] = [];
      for (let after: unknown = 0; after !== null;) {
        const { body } = await ask('GET', `${path}${path.includes('?') ? '&' : '?'}limit=50&after=${String(after)}`);
        found.push(...(body['rows'] as { id?: number }[]).map((row) => (typeof row === 'object' ? row.id : row)));
        after = body['next'];
      }
      return found;
    };
    const all = Array.from({ length: 130 }, (_, n) => n + 1);
    expect(await walk('/subscribers')).toEqual(all);
    expect(await walk(`/subscribers?list=${stage.list}`)).toEqual(all);
    expect(await walk(`/lists/${stage.list}/members`)).toEqual(all);
    expect((await walk('/consents')).length).toBe(130);
    expect((await ask('GET', '/subscribers?limit=100000')).status).toBe(422);
  });

  it('takes a no at once, and no yes over a no that was said to us', async () => {
    await addPeople(stage, 3);
    const ask = await asking();
    const said = { how: 'at the desk', at: '2031-06-09T10:00:00Z' };
    const rows = [
      { subscriberId: 1, channel: 'email', isGiven: false, ...said },
      { email: 'P2@people.example', channel: 'text', isGiven: false, ...said },
      { subscriberId: 999, channel: 'email', isGiven: false, ...said },
      { subscriberId: 3, channel: 'email', isGiven: false, how: 'x', at: '2031-06-11T10:00:00Z' },
    ];
    const key = { 'idempotency-key': 'said-0001' };
    const first = await ask('POST', '/consents', { rows }, key);
    expect(outcomes(first.body).map(({ outcome, problems }) => [outcome, problems[0]?.code])).toEqual([
      ['noted', undefined],
      ['noted', undefined],
      ['refused', 'unknown-person'],
      ['refused', 'in-the-future'],
    ]);
    const lines = async (): Promise<number> => Number((await stage.db('consent').count({ n: '*' }))[0]?.['n']);
    const before = await lines();
    expect((await ask('POST', '/consents', { rows }, key)).body).toEqual(first.body);
    expect(await lines()).toBe(before);
    const yes = [
      { subscriberId: 1, channel: 'email', isGiven: true, ...said },
      { subscriberId: 2, channel: 'text', isGiven: true, ...said },
    ];
    const back = await ask('POST', '/consents', { rows: yes });
    expect(outcomes(back.body).map(({ problems }) => problems[0]?.code)).toEqual(['said-no', 'said-no']);
    const person = await stage.db('subscriber').where({ id: 1 }).first('opted_out_at');
    expect(person.opted_out_at).not.toBeNull();
  });
});
