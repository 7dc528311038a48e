import { createHmac } from 'node:crypto';
import { account, auditPage, factorOffer, recoveryCodes, settings } from '@convite/contract';
import { letOwnerIn } from '../services/accounts/let-owner-in';
import { judgePassword } from '../services/accounts/passwords';
import { serializers } from '../log';
import { openHttpStage, pathOf, type HttpStage, type Visitor } from '../testing/http-stage';
import { publishedEvent, until, type Stage } from '../testing/stage';

const fresh = 'a password of my own';

/** RFC 6238 from RFC 4226 §5.3, written here: nothing of it is shared with what is checked. */
function codeOf(base32: string, step: number): string {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
  const bits = [...base32].map((letter) => alphabet.indexOf(letter).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((octet) => parseInt(octet, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(step));
  const mac = createHmac('sha1', key).update(counter).digest();
  const at = (mac[19] ?? 0) & 15;
  return String((mac.readUInt32BE(at) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}
const nowStep = (): number => Math.floor(Date.now() / 30_000);

describe('accounts', () => {
  let http: HttpStage;
  let stage: Stage;
  beforeEach(async () => {
    http = await openHttpStage();
    ({ stage } = http);
  });
  afterEach(() => http.close());

  const as = async (role: string, password?: string): Promise<Visitor> => {
    const visitor = http.visitor();
    expect(await visitor.signIn(role, password)).toBe(200);
    return visitor;
  };
  const idOf = async (role: string): Promise<number> =>
    (await stage.context.store.members.byEmail(`${role}@serradabruma.example`))?.id ?? 0;
  /** The token of the link in the newest mail to that address. */
  const mailedToken = async (address: string): Promise<string> => {
    await until('the link is mailed', () => stage.sentAtOnce.some(({ to }) => to.address === address), 5);
    const mail = stage.sentAtOnce.findLast(({ to }) => to.address === address);
    return /new-password#([\w-]+)/.exec(mail?.text ?? '')?.[1] ?? '';
  };
  const setByLink = (token: string, password = fresh) =>
    http.visitor().call('POST', '/api/session/password', { token, password });
  const actions = async (): Promise<string[]> =>
    (
      await stage.context.store.house.auditRows(
        { kind: undefined, memberId: undefined, from: null, to: null, before: undefined },
        200,
      )
    ).map(({ by, action, address }) => `${by} ${action} ${address}`);

  it('judges a member by what they are now: a role is lost at once, and who is removed is out', async () => {
    const [owner, other] = [await as('owner'), await as('marketer')];
    expect((await other.call('POST', '/api/lists', { name: 'One' })).status).toBe(201);
    const id = await idOf('marketer');
    expect((await owner.call('PUT', `/api/team/${id}`, { role: 'viewer' })).status).toBe(204);
    expect((await other.call('POST', '/api/lists', { name: 'Two' })).status).toBe(403);
    expect((await owner.call('DELETE', `/api/team/${id}`)).status).toBe(204);
    expect((await other.call('GET', '/api/board')).status).toBe(401);
    expect(await http.visitor().signIn('marketer')).toBe(401);
    expect(await actions()).toContain(jasmine.stringMatching(/^Olavo Brandão team: removed 10\.0\.0\.\d+$/));
  });

  it('always keeps an owner, also when two demote each other in one moment', async () => {
    const owner = await as('owner');
    await owner.call('PUT', `/api/team/${await idOf('viewer')}`, { role: 'owner' });
    const second = await as('viewer');
    const [one, two] = await Promise.all([
      owner.call('PUT', `/api/team/${await idOf('viewer')}`, { role: 'viewer' }),
      second.call('PUT', `/api/team/${await idOf('owner')}`, { role: 'viewer' }),
    ]);
    expect([one.status, two.status].sort()).not.toEqual([204, 204]);
    expect((await stage.context.store.members.all()).filter(({ role }) => role === 'owner').length).toBeGreaterThan(0);
  });

  it('invites by mail: the person sets their own password, once, and the link is worth nothing after', async () => {
    const owner = await as('owner');
    const invited = { name: 'Ada', email: 'ada@serradabruma.example', role: 'marketer' };
    expect((await owner.call('POST', '/api/team', invited)).status).toBe(201);
    expect((await owner.call('POST', '/api/team', invited)).status).toBe(409);
    expect(await http.visitor().signIn('ada', '')).toBe(422);
    const token = await mailedToken(invited.email);
    const link = await http.visitor().call('POST', '/api/session/link', { token, password: '' });
    expect(link.body).toEqual(jasmine.objectContaining({ purpose: 'invitation', email: invited.email }));
    const weak = await setByLink(token, 'password12345');
    expect([weak.status, weak.body['problems']]).toEqual([422, [{ code: 'password-common', path: 'password' }]]);
    expect((await setByLink(token)).status).toBe(204);
    expect((await setByLink(token, 'another of my own')).status).toBe(404);
    await as('ada', fresh);
    expect((await owner.call('POST', `/api/team/${await idOf('ada')}/invitation`)).status).toBe(409);
  });

  it('sends a new password’s link within its time to whom it concerns, and says the same to everybody', async () => {
    const signedIn = await as('viewer');
    const ask = (email: string) => http.visitor().call('POST', '/api/session/forgotten', { email });
    const [known, unknown] = [await ask('viewer@serradabruma.example'), await ask('nobody@serradabruma.example')];
    expect([known.status, unknown.status]).toEqual([202, 202]);
    expect(`${known.body}${unknown.body}`).toBe('');
    const token = await mailedToken('viewer@serradabruma.example');
    expect(stage.sentAtOnce.length).toBe(1);
    for (let again = 0; again < 2; again += 1) {
      await ask('viewer@serradabruma.example');
      await until('it is mailed', () => stage.sentAtOnce.length === again + 2, 5);
    }
    await Promise.all(Array.from({ length: 5 }, () => ask('viewer@serradabruma.example')));
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(stage.sentAtOnce.length).toBe(3);
    // The newest alone is good; and it is good for a quarter of an hour.
    expect((await setByLink(token)).status).toBe(404);
    const newest = await mailedToken('viewer@serradabruma.example');
    await stage.db('account_link').update({ expires_at: stage.db.raw('now(3) - interval 1 second') });
    expect((await setByLink(newest)).status).toBe(404);
    await stage.db('account_link').update({ expires_at: stage.db.raw('now(3) + interval 1 minute') });
    expect((await setByLink(newest)).status).toBe(204);
    expect((await signedIn.call('GET', '/api/board')).status).toBe(401);
    expect(await http.visitor().signIn('viewer')).toBe(401);
    await as('viewer', fresh);
  });

  it('takes a second factor once per code, recovery codes once, and asks it of all where the house does', async () => {
    const owner = await as('owner');
    expect((await owner.call('POST', '/api/account/factor', { current: 'wrong' })).status).toBe(422);
    const offer = factorOffer.parse(
      (await owner.call('POST', '/api/account/factor', { current: 'under-the-stars' })).body,
    );
    expect(offer.picture).toContain('data:image/svg+xml');
    expect((await owner.call('POST', '/api/account/factor/confirm', { code: '000000' })).status).toBe(422);
    const step = nowStep();
    const confirmed = await owner.call('POST', '/api/account/factor/confirm', { code: codeOf(offer.secret, step) });
    const { codes } = recoveryCodes.parse(confirmed.body);
    expect(codes.length).toBe(10);

    const half = http.visitor();
    await half.signIn('owner');
    expect((await half.call('GET', '/api/board')).status).toBe(401);
    const type = (visitor: Visitor, code: string) => visitor.call('POST', '/api/session/code', { code });
    // The code that set it up is used; the next half minute's is good once.
    expect((await type(half, codeOf(offer.secret, step))).status).toBe(401);
    const next = codeOf(offer.secret, Math.max(step + 1, nowStep()));
    expect((await type(half, next)).body['step']).toBe('in');
    const replay = http.visitor();
    await replay.signIn('owner');
    expect((await type(replay, next)).status).toBe(401);
    expect((await type(replay, String(codes[3]).toUpperCase().replaceAll('-', ' '))).body['step']).toBe('in');
    const again = http.visitor();
    await again.signIn('owner');
    expect((await type(again, String(codes[3]))).status).toBe(401);
    // A code alone, without a password before it, is nothing.
    expect((await type(http.visitor(), codeOf(offer.secret, nowStep() + 1))).status).toBe(403);

    const house = settings.parse((await owner.call('GET', '/api/settings')).body);
    expect((await owner.call('PUT', '/api/settings', { ...house, requiresSecondFactor: true })).status).toBe(204);
    const viewer = await as('viewer');
    const refused = await viewer.call('GET', '/api/board');
    expect([refused.status, refused.body['title']]).toEqual([403, 'factor-needed']);
    expect((await viewer.call('GET', '/api/account')).status).toBe(200);
    expect((await owner.call('POST', '/api/account/factor/remove', { current: 'under-the-stars' })).status).toBe(409);
    // Whoever reads the database has neither secret nor codes.
    const rows = JSON.stringify([await stage.db('user'), await stage.db('recovery_code'), await stage.db('session')]);
    for (const secret of [offer.secret, ...codes]) expect(rows).not.toContain(secret);
  });

  it('lets one in of forty who type the same code at once', async () => {
    const owner = await as('owner');
    const offer = factorOffer.parse(
      (await owner.call('POST', '/api/account/factor', { current: 'under-the-stars' })).body,
    );
    const step = nowStep();
    await owner.call('POST', '/api/account/factor/confirm', { code: codeOf(offer.secret, step) });
    const crowd = await Promise.all(
      Array.from({ length: 10 }, async () => {
        const visitor = http.visitor();
        await visitor.signIn('owner');
        return visitor;
      }),
    );
    const code = codeOf(offer.secret, Math.max(step + 1, nowStep()));
    const type = (visitor: Visitor) => visitor.call('POST', '/api/session/code', { code });
    const tried = await Promise.all(crowd.flatMap((visitor) => [1, 2, 3, 4].map(() => type(visitor))));
    expect(tried.filter(({ body }) => body['step'] === 'in').length).toBe(1);
  });

  it('shows one’s sessions and ends them, here and elsewhere, with their live streams', async () => {
    const [desk, phone] = [await as('marketer'), await as('marketer')];
    const stream = async (visitor: Visitor) => {
      const response = await fetch(`${http.base}/api/live`, { headers: { cookie: visitor.cookies() } });
      let isOpen = true;
      const done = response.text().finally(() => (isOpen = false));
      done.catch(() => undefined);
      return { isOpen: () => isOpen, status: response.status };
    };
    const onPhone = await stream(phone);
    const { sessions } = account.parse((await desk.call('GET', '/api/account')).body);
    expect(sessions.map(({ isThis }) => isThis).sort()).toEqual([false, true]);
    const other = sessions.find(({ isThis }) => !isThis)?.id ?? '';
    expect((await (await as('viewer')).call('DELETE', `/api/account/sessions/${other}`)).status).toBe(404);
    expect((await desk.call('DELETE', `/api/account/sessions/${other}`)).status).toBe(204);
    expect((await phone.call('GET', '/api/board')).status).toBe(401);
    await until('its stream ends', () => !onPhone.isOpen(), 6);

    const streams: Awaited<ReturnType<typeof stream>>[] = [];
    for (let n = 0; n < 11; n += 1) streams.push(await stream(desk));
    expect(streams.map(({ status }) => status)).toEqual([...Array<number>(10).fill(200), 429]);
    const cookies = desk.cookies();
    expect((await desk.call('DELETE', '/api/session')).status).toBe(204);
    await until('all end at signing out', () => streams.every(({ isOpen }) => !isOpen()), 6);
    expect((await fetch(`${http.base}/api/live`, { headers: { cookie: cookies } })).status).toBe(401);
  });

  it('ends a session after 12 hours without a request, and after 7 days whatever was asked', async () => {
    for (const change of ['expires_at = now(3) - interval 1 second', 'started_at = now(3) - interval 8 day']) {
      const visitor = await as('viewer');
      expect((await visitor.call('GET', '/api/board')).status).toBe(200);
      const [row] = await stage.db('session').select(stage.db.raw('timestampdiff(minute, now(3), expires_at) as n'));
      expect(Number(row?.['n'])).toBeGreaterThan(700);
      await stage.db.raw(`update session set ${change}`);
      expect((await visitor.call('GET', '/api/board')).status)
        .withContext(change)
        .toBe(401);
      await stage.db('session').delete();
    }
  });

  it('slows who guesses, and neither the owner of the account nor others behind the same address', async () => {
    const guesser = http.visitor();
    const statuses: number[] = [];
    for (let n = 0; n < 50; n += 1) statuses.push(await guesser.signIn('owner', `guess number ${n}`));
    expect(statuses.slice(0, 6)).toEqual([401, 401, 401, 401, 401, 429]);
    // Also the right password waits there now.
    expect(await guesser.signIn('owner')).toBe(429);
    const colleague = await guesser.call('POST', '/api/session', {
      email: 'viewer@serradabruma.example',
      password: 'under-the-stars',
    });
    expect(colleague.status).toBe(200);
    const atHome = http.visitor();
    expect(await atHome.signIn('owner')).toBe(200);
    // Guessing at one account from everywhere makes everybody wait for it, but half a minute at most.
    const rows = Array.from({ length: 60 }, (_, n) => ({
      account: 'owner@serradabruma.example',
      address: `192.0.2.${n}`,
      at: stage.db.raw('now(3)'),
    }));
    await stage.db('sign_in_failure').insert(rows);
    const elsewhere = await http
      .visitor()
      .call('POST', '/api/session', { email: 'owner@serradabruma.example', password: 'under-the-stars' });
    expect([elsewhere.status, Number(elsewhere.headers.get('retry-after'))]).toEqual([
      429,
      jasmine.any(Number) as unknown as number,
    ]);
    expect(Number(elsewhere.headers.get('retry-after'))).toBeLessThanOrEqual(30);
    // Where they signed in before, they do not wait for what others do.
    expect(await atHome.signIn('owner')).toBe(200);
  });

  it('lets an owner in from the machine, when nobody can get in any more', async () => {
    const before = await as('viewer');
    expect(await letOwnerIn(stage.context, 'nobody@serradabruma.example', fresh)).toBeFalse();
    expect(await letOwnerIn(stage.context, 'viewer@serradabruma.example', fresh)).toBeTrue();
    expect((await before.call('GET', '/api/board')).status).toBe(401);
    expect((await (await as('viewer', fresh)).call('GET', '/api/keys')).status).toBe(200);
  });

  it('changes one’s password with the old one, which ends all other sessions', async () => {
    const [here, there] = [await as('marketer'), await as('marketer')];
    const change = (current: string, password: string) =>
      here.call('POST', '/api/account/password', { current, password });
    expect((await change('wrong', fresh)).status).toBe(422);
    expect((await change('under-the-stars', ' '.repeat(14))).status).toBe(422);
    expect((await change('under-the-stars', fresh)).status).toBe(204);
    expect([(await here.call('GET', '/api/board')).status, (await there.call('GET', '/api/board')).status]).toEqual([
      200, 401,
    ]);
    const own = { name: 'Ada Lovelace', email: 'ada.lovelace@x.example' };
    for (const [password, code] of [
      ['elevenchars', 'password-short'],
      ['             ', 'password-short'],
      ['qwertyuiop123', 'password-common'],
      ['123456123456', 'password-common'],
      ['Password!!2026', 'password-common'],
      ['aaaaaaaaaaaaaa', 'password-common'],
      ['ada.lovelace99', 'password-own'],
      ['four odd horses', undefined],
      ['пароль не простой', undefined],
    ] as const)
      expect(judgePassword(password, own)[0]?.code).withContext(password).toBe(code);
  });

  it('writes down who did what from where; it can be looked through, and taken away as CSV', async () => {
    const owner = await as('owner');
    await http.visitor().signIn('owner', 'wrong again and again');
    await http.visitor().call('POST', '/api/session', { email: '=cmd@nobody.example', password: 'typed by mistake' });
    await owner.call('POST', '/api/lists', { name: '=1+1' });
    const read = async (query: string) => auditPage.parse((await owner.call('GET', `/api/audit?${query}`)).body).rows;
    const failed = (await read('kind=sign-in')).filter(({ action }) => action === 'sign-in: wrong password');
    expect(failed.map(({ by, what }) => `${by}, ${what}`)).toEqual([
      'somebody, an unknown address',
      'Olavo Brandão, owner@serradabruma.example',
    ]);
    expect(failed.every(({ address }) => /^10\.0\.0\.\d+$/.test(address))).toBeTrue();
    const ofOwner = await read(`member=${await idOf('owner')}&kind=list`);
    expect(ofOwner.map(({ action, what }) => `${action} ${what}`)).toEqual(['list: created =1+1']);
    expect(await read('from=2001-01-01&to=2001-01-02')).toEqual([]);
    const csv = (await owner.call('GET', '/api/audit.csv')).body;
    expect(csv).toContain("'=1+1");
    expect(csv.split('\r\n')[0]).toContain('at,by,action,what,address');
    expect((await read('kind=export')).length).toBe(1);
    expect(JSON.stringify(await stage.db('audit'))).not.toContain('typed by mistake');
  });

  it('keeps a program’s key to its event and its time', async () => {
    const owner = await as('owner');
    const [event, other] = [
      await publishedEvent(stage, { isPersonal: true }),
      await publishedEvent(stage, { isPersonal: true }),
    ];
    const made = await owner.call('POST', '/api/keys', {
      name: 'Desk',
      eventId: event,
      days: 30,
      scopes: ['times:write'],
    });
    const send = (id: number) =>
      http
        .visitor()
        .call(
          'POST',
          `/programs/events/${id}/personal`,
          { kind: 'rows', rows: [] },
          { authorization: `Bearer ${String(made.body['key'])}` },
        );
    expect([(await send(event)).status, (await send(other)).status]).toEqual([200, 403]);
    await stage.db('api_key').update({ expires_at: new Date(stage.clock.now() - 1) });
    expect((await send(event)).status).toBe(401);
  });

  it('shows a plain page for an address that cannot be read, and logs nothing of people', async () => {
    const odd = await http.visitor().call('GET', '/e/%ff');
    expect(odd.status).toBe(400);
    expect(odd.body).not.toMatch(/node_modules|at \w+ \(|\.ts:/);
    const error = Object.assign(
      new Error("insert into `subscriber` values ('ana@x.example', '+351912345678') - Duplicate"),
      {
        sqlMessage: "Duplicate entry 'ana@x.example' for key 'email'",
        sql: "insert … 'ana@x.example'",
        code: 'ER_DUP_ENTRY',
      },
    );
    const written = JSON.stringify([
      serializers.error(error),
      serializers.err(new Error('no mail to bea@x.example or +351912345678 with cv_abcdefghijklmnop')),
      serializers.req({
        method: 'GET',
        originalUrl: pathOf('/r/12.ab-0123456789abcdef01234567?email=cy@x.example'),
        socket: {},
      }),
    ]);
    expect(written).not.toMatch(/ana@|bea@|cy@|351912|abcdefghijklmnop|0123456789abcdef/);
    expect(written).toContain('Duplicate entry');
    expect(written).toContain('accounts.spec.ts');
  });
});
