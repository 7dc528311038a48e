import { actor, openStage, type Stage } from '../../testing/stage';
import { importSubscribers } from './import-subscribers';

describe('taking people into a list', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(() => stage.close());

  const take = (text: string, kind: 'csv' | 'addresses' = 'csv') =>
    importSubscribers(stage.context, stage.list, { kind, text }, actor);
  const all = async () => (await stage.context.store.subscribers.page({ search: '', after: 0, limit: 50 })).rows;

  it('reads any usual delimiter, a BOM, quotes over lines, and headings as people write them (RFC 4180)', async () => {
    const semicolons = await take(
      '\uFEFFE-Mail;Full name;Phone;Time zone;Consent\r\nAna@x.example;"Lopes; ""Ana""";07700 900123;Europe/Lisbon;yes\r\n',
    );
    const tabs = await take('name\temail\nJoão\tjoao@x.example\n\n');
    expect([semicolons, tabs]).toEqual([
      { added: 1, already: 0, problems: [] },
      { added: 1, already: 0, problems: [] },
    ]);
    expect(await all()).toEqual([
      jasmine.objectContaining({
        name: 'Lopes; "Ana"',
        email: 'ana@x.example',
        mobile: '+447700900123',
        zone: 'Europe/Lisbon',
        textConsent: true,
      }),
      jasmine.objectContaining({ name: 'João', email: 'joao@x.example', mobile: '', textConsent: false }),
    ]);
  });

  it('names the line and the reason of what it does not take, and takes the rest', async () => {
    const { added, problems } = await take(
      'email,mobile,zone\nok@x.example,,\nnope,,\nz@x.example,,Mars/Base\nm@x.example,12,\n,+447700900124,\nok@x.example,,\n,,x\n',
    );
    expect(added).toBe(2);
    expect(problems.map(({ code, path }) => `${path} ${code}`)).toEqual([
      'line 3 bad-address',
      'line 4 unknown-zone',
      'line 5 bad-mobile',
      'line 7 duplicate-address',
      'line 8 bad-address',
    ]);
    expect((await take('surname\nLopes\n')).problems.map(({ path }) => path)).toEqual(['line 1, column email']);
    expect((await take('')).added).toBe(0);
  });

  it('never takes away what is known: an empty cell keeps the name, and consent once given stays', async () => {
    await take('email,name,mobile,consent\na@x.example,Ana,+447700900123,yes\n');
    expect(await take('email,name,consent\nA@X.example,,no\n')).toEqual({ added: 0, already: 1, problems: [] });
    expect(await all()).toEqual([
      jasmine.objectContaining({ name: 'Ana', mobile: '+447700900123', textConsent: true }),
    ]);
  });

  it('knows somebody without an address by their number, also the second time', async () => {
    await take('mobile,name\n+447700900123,Texter\n');
    expect(await take('mobile,name\n07700 900123,Texter\n')).toEqual({ added: 0, already: 1, problems: [] });
    expect((await all()).length).toBe(1);
  });

  it('pages by key: nobody twice, nobody missed, whoever joins meanwhile', async () => {
    await take(Array.from({ length: 25 }, (_, index) => `p${index}@x.example`).join('\n'), 'addresses');
    const seen: number[] = [];
    for (let after: number | null = 0; after !== null;) {
      const page = await stage.context.store.subscribers.page({ search: '', after, limit: 10 });
      seen.push(...page.rows.map(({ id }) => id));
      if (seen.length === 10) await take('new@x.example', 'addresses');
      after = page.next;
    }
    expect([seen.length, new Set(seen).size]).toEqual([26, 26]);
    expect((await stage.context.store.subscribers.page({ search: '100%', after: 0, limit: 10 })).rows).toEqual([]);
  });
});
