import type { Knex } from 'knex';
import { blankFacts } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { form, openHttpStage, pathOf, type HttpStage } from '../../testing/http-stage';
import { actor, byHand, clockTo, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { erasePerson } from './erase-person';
import { heldAbout } from './held-about';
import { bringPasted } from './bring-pasted';
import { changeImport } from './take-in';
import { lookAtCsv } from '../../testing/bring';
import { getPerson } from './persons';

/** Everything by which somebody could be known again: no other person's data holds any of it. */
const marks = [
  'eva.mark@people.example',
  'Evamark',
  '+447700900321',
  'commentmark',
  'notemark',
  'fieldmark',
  'howmark',
];

describe('Erasing somebody', () => {
  let http: HttpStage;
  let stage: Stage;
  let eva: number;
  let other: number;
  let event: number;
  beforeEach(async () => {
    http = await openHttpStage();
    ({ stage } = http);
    await clockTo(stage, Date.UTC(2031, 5, 10, 12));
    const { store } = stage.context;
    const list = await store.lists.create('Two people');
    const person = (name: string, email: string, mobile: string) => ({
      ...{ name, email, mobile, zone: 'Europe/London', textConsent: true },
      fields: { Nickname: email.startsWith('eva') ? 'fieldmark' : 'Oz' },
    });
    await store.newcomers.addToList(
      list,
      [
        person('Evamark Lopes', 'eva.mark@people.example', '+447700900321'),
        person('Oscar Other', 'oscar@people.example', '+447700900322'),
      ],
      byHand,
      new Date(stage.clock.now()),
    );
    eva = (await store.subscribers.idByEmail('eva.mark@people.example')) ?? 0;
    other = (await store.subscribers.idByEmail('oscar@people.example')) ?? 0;
    await store.consents.note(eva, 'text', true, { ...byHand, how: 'howmark' }, new Date(stage.clock.now()));
    event = await publishedEvent(stage, { entry: { ...blankFacts.entry, showsGuests: true } });
    await invite(stage, event, { lists: [list] });
    await deliver(stage);
  });
  afterEach(() => http.close());

  /** Each place in the whole database that holds one of the marks. */
  const traces = async (): Promise<string[]> => {
    const db: Knex = stage.db;
    const columns: { t: string; c: string }[] = await db('information_schema.columns')
      .whereRaw('table_schema = database()')
      .whereIn('data_type', ['char', 'varchar', 'text', 'mediumtext', 'longtext'])
      .select({ t: 'table_name', c: 'column_name' });
    const found: string[] = [];
    for (const { t, c } of columns)
      for (const mark of marks) {
        const [row] = await db(t).whereRaw('instr(??, ?) > 0', [c, mark]).count({ n: '*' });
        if (Number(row?.['n'])) found.push(`${t}.${c}: ${mark}`);
      }
    return [...new Set(found)].sort();
  };

  it('leaves nothing by which they could be known, in any table, and every count as it was', async () => {
    const { store } = stage.context;
    // What they said, and what was said about them.
    await http
      .visitor()
      .call(
        'POST',
        pathOf(stage.context.links.reply(event, eva)),
        new URLSearchParams({ state: 'accepted', comment: 'commentmark' }).toString(),
        form,
      );
    await store.letters.add({
      isProved: true,
      ...{ eventId: event, subscriberId: eva, at: new Date(stage.clock.now()), to: 'house@spec.example' },
      ...{ from: 'eva.mark@people.example', channel: 'email' as const, subject: 'notemark', text: 'Evamark writes.' },
    });
    await store.replies.log({
      ...{ eventId: event, at: new Date(stage.clock.now()), from: 'eva.mark@people.example', state: 'accepted' },
      ...{ attendee: 'eva.mark@people.example', verdict: 'set-aside', reason: 'stale', raw: 'ATTENDEE:Evamark' },
    });
    const registering = { kind: 'registration', everyMs: 1000, mostADay: 5 } as const;
    for (const limit of [undefined, registering])
      await store.asked.mayWrite('eva.mark@people.example', event, new Date(stage.clock.now()), limit);
    await store.refusals.note(eva, 'mailbox', '<eva.mark@people.example> is full', new Date(stage.clock.now()));
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const before = await traces();
    for (const place of [
      'subscriber.email',
      'said.person',
      'said_to_all.part',
      'letter.subject',
      'reply.raw',
      'asked_mail.address',
    ])
      expect(before.some((one) => one.startsWith(place)))
        .withContext(`${place} held it before`)
        .toBeTrue();
    const counts = async () => ({
      invited: Number((await stage.db('invitee').where({ event_id: event }).count({ n: '*' }))[0]?.['n']),
      sent: Number((await stage.db('delivery').where({ state: 'sent' }).count({ n: '*' }))[0]?.['n']),
      replies: (await store.guests.counts(event)).accepted,
    });
    const counted = await counts();

    await erasePerson(stage.context, eva, actor);
    expect(await traces()).toEqual([]);
    expect(await counts()).toEqual(counted);
    expect(counted.replies).toBe(1);
    // Others are as they were.
    expect((await getPerson(stage.context, other)).email).toBe('oscar@people.example');
    await expectAsync(getPerson(stage.context, eva)).toBeRejected();
    await expectAsync(erasePerson(stage.context, eva, actor)).toBeRejected();
  });

  it('takes out what was on its way as they were erased, and who waits in an import that somebody stopped', async () => {
    const { store } = stage.context;
    const list = await store.lists.create('Waiting');
    const csv =
      'email,name,mobile\neva.mark@people.example,Evamark,\nthird@people.example,Somebody,\neva.mark@people.example,Evamark again,\neva.mark@people.example,Evamark,not a number\n';
    const { id: waiting } = await lookAtCsv(stage.context, csv, { listId: list });
    await store.peopleImports.setState(waiting, ['draft'], 'stopped');
    await erasePerson(stage.context, eva, actor);
    // A worker that had claimed a message before takes down what it said, and what was answered.
    const [row] = await stage.db('delivery').where({ subscriber_id: eva }).select('id', 'firing_id');
    const [all] = await stage.db('said_to_all').where({ firing_id: row.firing_id }).select('id');
    const person = '{"email":"eva.mark@people.example"}';
    await stage.db('said').insert({ delivery_id: row.id, to_all_id: all.id, person });
    await stage.db('delivery').where({ id: row.id }).update({ answer: '<eva.mark@people.example> is gone' });
    expect(await store.erasures.sweep(new Date(stage.clock.now() - 1000))).toBe(1);
    expect(await traces()).toEqual([]);
    await changeImport(stage.context, waiting, 'go-on', actor);
    expect([await store.lists.sizeOf(list), (await store.peopleImports.find(waiting))?.state]).toEqual([1, 'done']);
  });

  it('is not undone by a file, by what waits, or by an old link; only by themselves', async () => {
    await saveCue(stage.context, event, null, dayBeforeCue({ isDraft: false }), actor);
    const link = pathOf(stage.context.links.reply(event, eva));
    await erasePerson(stage.context, eva, actor);
    const { added, problems } = await bringPasted(
      stage.context,
      stage.list,
      { text: 'Evamark <EVA.mark@people.example>, new@people.example', how: 'said so' },
      actor,
    );
    expect([added, problems.map(({ code }) => code)]).toEqual([1, ['was-erased']]);
    expect(await stage.context.store.subscribers.idByEmail('eva.mark@people.example')).toBeNull();
    expect((await http.visitor().call('GET', link)).status).toBe(404);
    await clockTo(stage, Date.UTC(2031, 5, 19));
    const sent = await deliver(stage);
    expect(JSON.stringify(sent)).not.toContain('eva.mark');

    const back = { email: 'eva.mark@people.example', name: 'Evamark', mobile: '', zone: '', textConsent: null };
    const by = { source: 'form', how: 'registered', by: '' } as const;
    expect(await stage.context.store.newcomers.ensure(back, by, new Date(stage.clock.now()))).toBeGreaterThan(other);
  });

  it('hands out before what there is about them, all of it, for machines to read', async () => {
    const held = await heldAbout(stage.context, eva);
    const text = JSON.stringify(held);
    for (const mark of ['eva.mark@people.example', 'Evamark', '+447700900321', 'fieldmark', 'howmark'])
      expect(text).withContext(mark).toContain(mark);
    expect(text).not.toContain('+447700900322');
    expect(held.messages.map(({ subject }) => subject)).toEqual([jasmine.stringContaining('Dome')]);
  });
});
