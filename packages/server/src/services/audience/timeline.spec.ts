import { saveCue } from '../countdown/cues';
import { replyByPage } from '../replies/reply-by-page';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { openHttpStage, type HttpStage } from '../../testing/http-stage';
import { actor, byHand, clockTo, publishedEvent, type Stage } from '../../testing/stage';
import { editOf } from '@convite/contract';
import { markAttendance } from '../events/dates';
import { editPerson, getPerson } from './persons';
import { addNote, listNotes, readComing, readTimeline, removeNote } from './timeline';

describe('one person', () => {
  let http: HttpStage;
  let stage: Stage;
  beforeEach(async () => {
    http = await openHttpStage();
    ({ stage } = http);
    await clockTo(stage, Date.UTC(2031, 5, 10, 12));
  });
  afterEach(() => http.close());

  it('is told in the order of time: what was sent, answered, said; page by page, each thing once', async () => {
    const { context } = stage;
    const event = await publishedEvent(stage);
    await invite(stage, event, { confirmedCount: 150 });
    await deliver(stage);
    await clockTo(stage, Date.UTC(2031, 5, 11, 12));
    await replyByPage(context, { eventId: event, subscriberId: 1 }, { occurrence: '', state: 'accepted', comment: '' });
    await context.store.consents.note(1, 'text', false, byHand, new Date(stage.clock.now()));
    const { rows, next } = await readTimeline(context, 1, '');
    expect(rows.map(({ kind, text }) => [kind, text])).toEqual([
      ['said-no', 'said so'],
      ['answered', 'accepted'],
      ['message', 'Invitation'],
      ['invited', ''],
      ['agreed', 'on the paper form at the gate'],
    ]);
    expect(next).toBeNull();
    expect([...rows].sort((a, b) => b.at.localeCompare(a.at))).toEqual(rows);
    // Many messages: nothing is told twice, and nothing is left out between two pages.
    const [firing] = await stage.db('firing').limit(1).pluck('id');
    for (let n = 0; n < 55; n += 1) {
      const at = new Date(Date.UTC(2031, 5, 12, n % 24, n));
      const [id] = await stage
        .db('firing')
        .insert({ kind: 'digest', channel: 'email', due_at: at, state: 'done', priority: 4 });
      await stage.db('delivery').insert({
        firing_id: id ?? firing,
        subscriber_id: 1,
        channel: 'email',
        state: 'sent',
        next_at: at,
        sent_at: at,
      });
    }
    const seen: string[] = [];
    for (let after: string | null = ''; after !== null;) {
      const page: Awaited<ReturnType<typeof readTimeline>> = await readTimeline(context, 1, after);
      seen.push(...page.rows.map(({ key }) => key.replace(/ \d+$/, (tail) => (key.startsWith('message') ? tail : ''))));
      after = page.next;
    }
    expect([seen.length, new Set(seen).size]).toEqual([60, 60]);
  });

  it('was somewhere when that began, on the event’s own clock', async () => {
    const { context } = stage;
    const [once, weekly] = [
      await publishedEvent(stage),
      await publishedEvent(stage, { series: { rule: 'FREQ=WEEKLY;COUNT=3', exceptions: [], added: [] } }),
    ];
    for (const event of [once, weekly]) await invite(stage, event, { confirmedCount: 150 });
    await clockTo(stage, Date.UTC(2031, 5, 26, 12));
    const mark = (event: number, occurrence: string, attended: boolean) =>
      markAttendance(context, event, { personId: 1, occurrence, attended }, actor);
    await mark(once, '', true);
    await mark(weekly, '20310625T193000', false);
    const { rows } = await readTimeline(context, 1, '');
    expect(rows.filter(({ kind }) => /^(came|did-not-come)$/.test(kind)).map(({ kind, at }) => [kind, at])).toEqual([
      ['did-not-come', '2031-06-25T18:30:00.000Z'],
      ['came', '2031-06-18T18:30:00.000Z'],
    ]);
  });

  it('says what is planned for them, and not what leaves them out', async () => {
    const { context } = stage;
    const event = await publishedEvent(stage);
    await invite(stage, event, { confirmedCount: 150 });
    await deliver(stage);
    const cue = dayBeforeCue({ isDraft: false });
    await saveCue(context, event, null, cue, actor);
    expect((await readComing(context, 1)).rows.map(({ name, eventTitle }) => [name, eventTitle])).toEqual([
      [cue.name, 'Dome night'],
    ]);
    expect([(await readComing(context, 1)).lastWeek, (await readComing(context, 1)).nextWeek]).toEqual([1, 0]);
    await clockTo(stage, Date.UTC(2031, 5, 12, 12));
    expect((await readComing(context, 1)).nextWeek).toBe(1);
    await context.store.consents.optOut(1, byHand, new Date());
    expect((await readComing(context, 1)).rows).toEqual([]);
    expect((await readComing(context, 2)).rows.length).toBe(1);
  });

  it('is told what they do not get any more when they leave a list', async () => {
    const { context } = stage;
    const event = await publishedEvent(stage);
    const cue = dayBeforeCue({
      isDraft: false,
      audience: { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] },
    });
    await saveCue(context, event, null, cue, actor);
    const edit = editOf(await getPerson(context, 1));
    expect(await editPerson(context, 1, { ...edit, name: 'Ana' }, actor)).toEqual({ leftOut: [] });
    expect(await editPerson(context, 1, { ...edit, lists: [] }, actor)).toEqual({
      leftOut: [{ name: cue.name, eventTitle: 'Dome night' }],
    });
  });

  it('is noted about, and has topics and fields of their own; what is none of its type is said', async () => {
    const { context } = stage;
    await addNote(context, 1, 'Prefers the front row', actor);
    await addNote(context, 1, 'Has a dog', actor);
    const [last] = await listNotes(context, 1);
    expect([last?.text, last?.by]).toEqual(['Has a dog', 'Spec']);
    await expectAsync(removeNote(context, 2, last?.id ?? 0)).toBeRejected();
    await removeNote(context, 1, last?.id ?? 0);
    expect((await listNotes(context, 1)).length).toBe(1);
    const age = await context.store.fields.create('Age', 'number');
    const edit = editOf(await getPerson(context, 1));
    await editPerson(context, 1, { ...edit, topics: ['moon'], fields: { [age]: '41' } }, actor);
    const person = await getPerson(context, 1);
    expect([person.topics, person.fields.map(({ name, typed }) => [name, typed])]).toEqual([['moon'], [['Age', '41']]]);
    await expectAsync(editPerson(context, 1, { ...editOf(person), fields: { [age]: 'old' } }, actor)).toBeRejectedWith(
      jasmine.objectContaining({
        more: { problems: [jasmine.objectContaining({ code: 'bad-value', path: `fields.${age}` })] },
      }),
    );
  });

  it('has links of their own that no member reads: they are sent to them, once an hour, and a viewer sends none', async () => {
    const marketer = http.visitor();
    await marketer.signIn('marketer');
    const { links } = http.stage.context;
    const own = links.preferences(1, 0);
    expect(JSON.stringify((await marketer.call('GET', '/api/subscribers/1')).body)).not.toContain('/p/');
    expect((await marketer.call('POST', '/api/subscribers/1/link', {})).status).toBe(204);
    const mail = http.stage.sentAtOnce.at(-1);
    expect([mail?.to.address, mail?.text.includes(own)]).toEqual(['p1@people.example', true]);
    expect((await marketer.call('POST', '/api/subscribers/1/link', {})).status).toBe(429);
    await http.stage.db('subscriber').where({ id: 2 }).update({ email: null });
    expect((await marketer.call('POST', '/api/subscribers/2/link', {})).status).toBe(409);
    expect((await marketer.call('POST', '/api/subscribers/999999/link', {})).status).toBe(404);
    const viewer = http.visitor();
    await viewer.signIn('viewer');
    expect((await viewer.call('POST', '/api/subscribers/3/link', {})).status).toBe(403);
  });
});
