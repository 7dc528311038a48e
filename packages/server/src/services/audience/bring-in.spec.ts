import { judge, wholeEvent, whoOf, type ColumnTarget } from '@convite/core';
import { seededRandom } from '../../demo/random';
import { writeTable } from '../../files/table-file';
import { bringCsv, lookAtCsv } from '../../testing/bring';
import { actor, addPeople, byHand, openStage, type Stage } from '../../testing/stage';
import { editOf } from '@convite/contract';
import { addRows, describeImport, pageRows, refusedRows } from './bring-in';
import { changeImport, forgetImports, takeImport } from './take-in';
import { editPerson, getPerson } from './persons';
import { addNote } from './timeline';

describe('bringing people in', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
  });
  afterEach(() => stage.close());

  const idOf = async (email: string): Promise<number> => (await stage.context.store.subscribers.idByEmail(email)) ?? 0;
  const personOf = async (email: string) => getPerson(stage.context, await idOf(email));
  const reasonOf = async (email: string, channel: 'email' | 'text') => {
    const facts = await stage.context.store.personFacts.of(await idOf(email), Date.now());
    const everybody = { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null };
    return facts && judge(facts, whoOf(everybody, wholeEvent(null)), channel);
  };
  const rowsOf = async (id: number) => (await pageRows(stage.context, id, undefined, -1)).rows;
  const rule =
    (name: 'take' | 'fill' | 'keep') =>
    (column: ColumnTarget): ColumnTarget =>
      'rule' in column ? { ...column, rule: name } : column;

  it('is seen before it happens: who is new, what would change, and what cannot be taken, by its row', async () => {
    const { id, seen } = await lookAtCsv(
      stage.context,
      'Email,Name,Mobile,Seat\nnew@people.example,New,,A1\np1@people.example,Ana,,A2\np2@people.example,Person 2,,\nnope,,,\nNEW@people.example,Again,,\np3+news@people.example,Other,,\nx@people.example,,12,\n',
      { change: rule('take'), listId: stage.list },
    );
    expect(seen.counts).toEqual({ new: 1, changed: 1, same: 1, spelled: 1, refused: 2, twice: 1 });
    expect(
      (await rowsOf(id)).map(({ number, kind, changes, problems, spelled }) => ({
        number,
        kind,
        changes,
        problems: problems.map(({ code }) => code).join(),
        spelled,
      })),
    ).toEqual([
      { number: 2, kind: 'new', changes: [], problems: '', spelled: '' },
      {
        number: 3,
        kind: 'changed',
        changes: [
          { part: 'name', name: '', before: 'Person 1', after: 'Ana' },
          { part: 'field', name: 'Seat', before: '', after: 'A2' },
        ],
        problems: '',
        spelled: '',
      },
      { number: 4, kind: 'same', changes: [], problems: '', spelled: '' },
      { number: 5, kind: 'refused', changes: [], problems: 'bad-address', spelled: '' },
      { number: 6, kind: 'twice', changes: [], problems: '', spelled: '' },
      { number: 7, kind: 'spelled', changes: [], problems: '', spelled: 'p3@people.example' },
      { number: 8, kind: 'refused', changes: [], problems: 'bad-mobile', spelled: '' },
    ]);
    // Nothing has happened to anybody.
    expect([await idOf('new@people.example'), (await personOf('p1@people.example')).name]).toEqual([0, 'Person 1']);
    const refused: string[][] = [];
    for await (const some of refusedRows(stage.context, id, (problems, isTwice) =>
      isTwice ? 'twice' : problems.map(({ code }) => code).join(),
    ))
      refused.push(...some);
    expect(refused).toEqual([
      ['nope', '', '', '', 'bad-address'],
      ['x@people.example', '', '12', '', 'bad-mobile'],
      ['NEW@people.example', 'Again', '', '', 'twice'],
    ]);
  });

  it('hands rows in twice as once, and takes nothing while some are missing', async () => {
    const { id, rows, seen } = await lookAtCsv(stage.context, 'email\na@people.example\nb@people.example\n');
    await addRows(stage.context, id, { rows: [{ number: 2, cells: ['a@people.example'] }] });
    expect(await describeImport(stage.context, id)).toEqual(seen);
    await expectAsync(takeImport(stage.context, id, { rows: rows + 1, spelled: 'new' }, actor)).toBeRejectedWithError(
      /Of 3 rows 2 came/,
    );
    for await (const _ of await takeImport(stage.context, id, { rows, spelled: 'new' }, actor));
    await expectAsync(takeImport(stage.context, id, { rows, spelled: 'new' }, actor)).toBeRejectedWithError(
      /not in a state/,
    );
    await expectAsync(
      addRows(stage.context, id, { rows: [{ number: 9, cells: ['c@people.example'] }] }),
    ).toBeRejectedWithError(/not in a state/);
  });

  it('stores without a word of consent whom nobody is to write to, and writes down where consent comes from', async () => {
    const none = { listId: stage.list, emailConsent: null, textConsent: null };
    const csv = (name: string): string => `email,mobile\n${name}@people.example,07700 900123\n`;
    expect((await lookAtCsv(stage.context, csv('quiet'), none)).seen.withoutConsent).toBe(1);
    await bringCsv(stage.context, csv('quiet'), none);
    expect([await reasonOf('quiet@people.example', 'email'), await reasonOf('quiet@people.example', 'text')]).toEqual([
      'no-consent',
      'no-text-consent',
    ]);
    expect(await personOf('quiet@people.example')).toEqual(
      jasmine.objectContaining({ emailConsent: false, optedOut: false, consents: [] }),
    );
    // The next file knows: then they are.
    await bringCsv(stage.context, csv('quiet'), { listId: stage.list });
    expect([await reasonOf('quiet@people.example', 'email'), await reasonOf('quiet@people.example', 'text')]).toEqual([
      null,
      null,
    ]);
    expect((await personOf('quiet@people.example')).consents.map(({ channel, how, by }) => [channel, how, by])).toEqual(
      [
        ['text', 'on the paper form, on 2026-11-01 (import 3)', 'Spec'],
        ['email', 'on the paper form, on 2026-11-01 (import 3)', 'Spec'],
      ],
    );
  });

  it('goes by a column of consent where there is one, and never against who opted out or bounced', async () => {
    await stage.context.store.consents.optOut(await idOf('p1@people.example'), byHand, new Date());
    await stage.db('subscriber').where({ email: 'p2@people.example' }).update({ bounced_at: new Date() });
    const done = await bringCsv(
      stage.context,
      'email,email opt-in\np1@people.example,yes\np2@people.example,yes\nyes@people.example,sim\nno@people.example,\n',
      { listId: stage.list },
    );
    expect([done.optedOut, done.bounced, done.withoutConsent]).toEqual([1, 1, 1]);
    const of = (name: string) => reasonOf(`${name}@people.example`, 'email');
    expect([await of('p1'), await of('p2'), await of('yes'), await of('no')]).toEqual([
      'opted-out',
      'bounced',
      null,
      'no-consent',
    ]);
  });

  it('keeps landlines from texts, marks guesses at zones, and makes fields, lists and topics that were said yes to', async () => {
    await bringCsv(
      stage.context,
      'email,mobile,list,topics,birthday,country\nl@people.example,020 7946 0958,Press,"moon, comets",25/12/1990,Japan\nm@people.example,+351 912 345 678,Nobody,,,\n',
      {
        listId: stage.list,
        change: (column) =>
          column.to === 'lists'
            ? { ...column, known: ['Press'] }
            : column.to === 'topics'
              ? { ...column, known: ['moon'] }
              : column,
      },
    );
    const [landline, abroad] = [await personOf('l@people.example'), await personOf('m@people.example')];
    expect([landline.mobile, landline.phone, landline.zone, landline.zoneFrom]).toEqual([
      '',
      '+442079460958',
      'Asia/Tokyo',
      'country',
    ]);
    expect([abroad.mobile, abroad.zone, abroad.zoneFrom]).toEqual(['+351912345678', 'Europe/Lisbon', 'phone']);
    expect(await reasonOf('l@people.example', 'text')).toBe('no-mobile');
    const lists = new Map((await stage.context.store.lists.all()).map(({ id, name }) => [id, name]));
    expect([landline.lists, abroad.lists].map((ids) => ids.map((id) => lists.get(id)))).toEqual([
      ['Everybody', 'Press'],
      ['Everybody'],
    ]);
    const facts = await stage.context.store.personFacts.of(landline.id, Date.now());
    expect([facts?.topics, [...(facts?.fields.values() ?? [])].sort()]).toEqual([['moon'], ['1990-12-25', 'Japan']]);
    expect((await stage.context.store.fields.all()).map(({ name, type }) => [name, type])).toEqual([
      ['birthday', 'date'],
      ['country', 'text'],
    ]);
    expect((await stage.context.store.house.settings()).topics).toEqual(['moon']);
    // A guess that somebody sets right is none any more.
    await editPerson(stage.context, abroad.id, { ...editOf(abroad), zone: 'Europe/Paris' }, actor);
    expect((await personOf('m@people.example')).zoneFrom).toBe('');
  });

  it('asks whom another spelling means: who is known, or somebody new', async () => {
    const csv = 'email,name\np1+moon@people.example,Moon\n';
    await bringCsv(stage.context, csv, { change: rule('take') });
    expect([(await personOf('p1@people.example')).name, await idOf('p1+moon@people.example')]).toEqual(['Moon', 0]);
    const { id, rows } = await lookAtCsv(stage.context, csv);
    for await (const _ of await takeImport(stage.context, id, { rows, spelled: 'new' }, actor));
    expect((await personOf('p1+moon@people.example')).name).toBe('Moon');
    const idn = await lookAtCsv(stage.context, 'email\nu@bücher.example\n', {});
    for await (const _ of await takeImport(stage.context, idn.id, { rows: 1, spelled: 'new' }, actor));
    expect((await lookAtCsv(stage.context, 'email\nu@xn--bcher-kva.example\n')).seen.counts.spelled).toBe(1);
  });

  it('takes back all that it did, and leaves what others did since', async () => {
    const before = await personOf('p1@people.example');
    await bringCsv(
      stage.context,
      'email,name,mobile,seat,topics\np1@people.example,Changed,07700 900999,A1,moon\np2@people.example,Changed,,A2,\ngone@people.example,Gone,,,\nedited@people.example,Edited,,,\nlisted@people.example,Listed,,,\nleft@people.example,Left,,,\nsame@people.example,Same,,,\nnoted@people.example,Noted,,,\nasking@people.example,Asking,,B1,\nseated@people.example,Seated,,B2,\n',
      {
        listId: stage.list,
        change: (column) => (column.to === 'topics' ? { ...column, known: ['moon'] } : rule('take')(column)),
      },
    );
    const edit = async (email: string, over: object) =>
      editPerson(
        stage.context,
        await idOf(email),
        { ...editOf(await personOf(email)), how: 'said so', ...over },
        actor,
      );
    await edit('p2@people.example', { name: 'By hand' });
    await edit('edited@people.example', { name: 'By hand' });
    await edit('listed@people.example', { lists: [stage.list, await stage.context.store.lists.create('Other')] });
    await edit('left@people.example', { emailConsent: false });
    await addNote(stage.context, await idOf('noted@people.example'), 'met at the gate', actor);
    await stage.context.store.subscribers.giveTopic([await idOf('asking@people.example')], 'moon');
    await stage.db('subscriber_field').where({ typed: 'B2' }).update({ typed: 'B3' });
    const [done] = await stage.context.store.peopleImports.latest(1);
    await changeImport(stage.context, done?.id ?? 0, 'undo', actor);
    const after = await personOf('p1@people.example');
    expect({ ...after, consents: [], fields: [] }).toEqual({ ...before, consents: [], fields: [] });
    expect((await stage.context.store.personFacts.of(after.id, Date.now()))?.topics).toEqual([]);
    expect(await stage.db('subscriber_field').where({ subscriber_id: after.id })).toEqual([]);
    expect((await personOf('p2@people.example')).name).toBe('By hand');
    const there = await Promise.all(
      ['gone', 'same', 'edited', 'listed', 'left', 'noted', 'asking', 'seated'].map(
        async (name) => (await idOf(`${name}@people.example`)) > 0,
      ),
    );
    expect(there).toEqual([false, false, true, true, true, true, true, true]);
    // Who stays is as who never said anything, unless they said something themselves.
    expect(
      [await personOf('edited@people.example'), await personOf('left@people.example')].map(
        ({ emailConsent, optedOut, lists }) => [emailConsent, optedOut, lists.length],
      ),
    ).toEqual([
      [false, false, 0],
      [false, true, 0],
    ]);
    expect((await stage.context.store.lists.all()).map(({ name, count }) => [name, count])).toEqual([
      ['Everybody', 4],
      ['Other', 1],
    ]);
  });

  it('is taken back for thirty days; then its rows are forgotten, and what nobody took after one', async () => {
    await bringCsv(stage.context, 'email\na@people.example\n');
    await lookAtCsv(stage.context, 'email\nb@people.example\n');
    await lookAtCsv(stage.context, 'email\nc@people.example\n');
    await stage.db('people_import_row').where({ known_by: 'c@people.example' }).delete();
    const days = (count: number): void => stage.clock.shiftTo(count * 86_400_000);
    days(2);
    while (await forgetImports(stage.context));
    expect((await stage.db('people_import_row')).length).toBe(1);
    days(31);
    await expectAsync(changeImport(stage.context, 1, 'undo', actor)).toBeRejectedWithError(/not in a state/);
    days(32);
    while (await forgetImports(stage.context));
    expect([(await stage.db('people_import_row')).length, (await stage.db('people_import')).length]).toEqual([0, 1]);
  });

  it('two files at once with the same people make each of them once', async () => {
    const csv = `email\n${Array.from({ length: 2500 }, (_, n) => `t${n}@people.example`).join('\n')}\n`;
    const both = await Promise.all([
      lookAtCsv(stage.context, csv, { listId: stage.list }),
      lookAtCsv(stage.context, csv, { listId: stage.list }),
    ]);
    await Promise.all(
      both.map(async ({ id, rows }) => {
        for await (const _ of await takeImport(stage.context, id, { rows, spelled: 'new' }, actor));
      }),
    );
    expect([(await stage.db('subscriber')).length, await stage.context.store.lists.sizeOf(stage.list)]).toEqual([
      2504, 2504,
    ]);
    const [one, other] = await Promise.all(both.map(({ id }) => describeImport(stage.context, id)));
    expect((one?.joined ?? 0) + (other?.joined ?? 0)).toBe(2500);
  });

  it(`says what happens: 40 random files, against a plain map of people (seed 5)`, async () => {
    const random = seededRandom(5);
    const oracle = new Map<string, { name: string; seat: string }>();
    for (let id = 1; id <= 4; id += 1) oracle.set(`p${id}@people.example`, { name: `Person ${id}`, seat: '' });
    for (let round = 0; round < 40; round += 1) {
      const chosen = random.pick(['take', 'fill', 'keep'] as const);
      const lines = Array.from({ length: 1 + random.below(8) }, () => ({
        email: `p${random.below(12)}@people.example`,
        name: random.pick(['', 'Ana', 'Bo']),
        seat: random.pick(['', 'A1', 'B2']),
      }));
      const seen = new Set<string>();
      for (const { email, name, seat } of lines) {
        if (seen.has(email)) continue;
        seen.add(email);
        const old = oracle.get(email);
        const put = (before: string, after: string): string =>
          after && (chosen === 'take' || (chosen === 'fill' && !before)) ? after : before;
        oracle.set(email, old ? { name: put(old.name, name), seat: put(old.seat, seat) } : { name, seat });
      }
      const csv = ['email,name,seat', ...lines.map(({ email, name, seat }) => `${email},${name},${seat}`)].join('\n');
      const columns: ColumnTarget[] = [
        { to: 'email', rule: 'take' },
        { to: 'name', rule: chosen },
        { to: 'field', name: 'seat', type: 'text', rule: chosen, order: null, isCountry: false },
      ];
      await bringCsv(stage.context, csv, { columns });
    }
    for (const [email, { name, seat }] of oracle) {
      const id = await idOf(email);
      const [field]: { typed: string }[] = await stage.db('subscriber_field').where({ subscriber_id: id });
      expect([email, (await getPerson(stage.context, id)).name, field?.typed ?? '']).toEqual([email, name, seat]);
    }
  });

  it('takes names that are longer than any, halves of characters, and what turns the direction of text', async () => {
    const name = `${'🌒'.repeat(150)}${'x'.repeat(100)}`;
    await bringCsv(
      stage.context,
      `email,name,note\nlong@people.example,"${name}",${'🌒'.repeat(1200)}\nhalf@people.example,a\ud83cb,\u202eb\n`,
      { listId: stage.list },
    );
    expect([...(await personOf('long@people.example')).name].length).toBe(200);
    expect((await personOf('half@people.example')).name).toBe('ab');
  });

  it('knows lists and topics whatever their case', async () => {
    await bringCsv(stage.context, 'email,list\np1@people.example,EVERYBODY\nnew@people.example,everybody\n', {
      change: (column) => (column.to === 'lists' ? { ...column, known: ['EVERYBODY'] } : column),
    });
    expect((await stage.context.store.lists.all()).map(({ name, count }) => [name, count])).toEqual([['Everybody', 5]]);
  });

  it('is refused whole where it would offer more topics than people choose among; settings saved meanwhile stay', async () => {
    const topics = Array.from({ length: 51 }, (_, n) => `topic ${n}`);
    const bring = (known: string[]) =>
      bringCsv(stage.context, `email,topics\nnew${known.length}@people.example,${known[0]}\n`, {
        change: (column) => (column.to === 'topics' ? { ...column, known } : column),
      });
    await expectAsync(bring(topics)).toBeRejectedWithError(/more than 50 topics/);
    expect(await idOf('new51@people.example')).toBe(0);
    const settings = await stage.context.store.house.settings();
    expect(settings.topics).toEqual([]);
    await bring(['Moon', 'moon']);
    expect(await stage.context.store.house.settings()).toEqual({ ...settings, topics: ['moon'] });
  });

  it('never writes a cell that a spreadsheet would run', async () => {
    const { id } = await lookAtCsv(stage.context, 'email,name\n=1+1,@SUM(A1)\n');
    const pieces: Uint8Array[] = [];
    for await (const piece of writeTable(
      'csv',
      ['email', 'name', 'why'],
      refusedRows(stage.context, id, () => '+why'),
    ))
      pieces.push(piece);
    expect(Buffer.concat(pieces).toString()).toContain(`"'=1+1","'@SUM(A1)","'+why"`);
  });
});
