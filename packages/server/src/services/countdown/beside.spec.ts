import { letter, plainDocument, resolveWallTime } from '@convite/core';
import { cueFields, type CueFields } from '@convite/contract';
import type { EmailMessage, TextMessage } from '../../mail/message';
import { dayBeforeCue } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  workOn,
  type Stage,
} from '../../testing/stage';
import { copyEvent } from '../events/copy-event';
import { keepPlan } from '../plans/plans';
import { applyPlan } from '../plans/apply-plan';
import { removeCue, saveCue } from './cues';
import { listCues } from './list-cues';
import { previewCue } from './preview-cue';

describe('a cue that goes by email and by text', () => {
  let stage: Stage;
  let event: number;
  const at = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  beforeEach(async () => {
    stage = await openStage();
    // Three can be texted; of the others one did not agree, one has no number.
    await addPeople(stage, 5);
    await stage.db('subscriber').where({ id: 4 }).update({ text_consent: false });
    await stage.db('subscriber').where({ id: 5 }).update({ mobile: '' });
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const cue = (isFirst: boolean, over: Partial<CueFields> = {}): CueFields => ({
    ...dayBeforeCue(over),
    audience: {
      ...dayBeforeCue().audience,
      invitees: [],
      lists: [stage.list],
      ...(isFirst && { exceptTextable: true }),
    },
    textWording: plainDocument('', 'Tomorrow: {{event.title}}'),
  });
  const save = (fields: CueFields, id: number | null = null, was?: CueFields): Promise<number> =>
    saveCue(stage.context, event, id, { ...fields, ...(was && { was }) }, actor);
  const rows = () => listCues(stage.context, event);
  const pair = async () => {
    const all = await rows();
    const email = all.find(({ channel }) => channel === 'email');
    const text = all.find(({ channel }) => channel === 'text');
    if (!email || !text) throw new Error('there are not two');
    return { email, text };
  };
  const sentAtItsMoment = async (count: number): Promise<[string[], string[]]> => {
    await clockTo(stage, at('2031-06-17T19:30'));
    await countAll(stage);
    const [mail, text] = [scriptedEnd<EmailMessage>(), scriptedEnd<TextMessage>()];
    const worker = await workOn(stage, { mail, text });
    await until('they were written to', () => mail.taken.length + text.taken.length >= count);
    await new Promise((done) => setTimeout(done, 1200));
    await worker.stop();
    return [
      mail.taken.map(({ to }) => to.address.slice(0, 2)).sort(),
      text.taken.map(({ to }) => `p${Number(to.slice(-5))}`).sort(),
    ];
  };

  it('texts whoever can be texted and writes to the others, each once; the same is said before it goes', async () => {
    const id = await save(cue(true));
    await countAll(stage);
    const { email, text } = await pair();
    expect([email.id, text.textOf, email.textOf]).toEqual([id, id, null]);
    expect([email.firing.tally.gets, text.firing.tally.gets]).toEqual([2, 3]);
    // They are meant to go together.
    expect([...email.hazards, ...text.hazards].map(({ code }) => code)).not.toContain('close-to-another');
    const preview = await previewCue(stage.context, event, cueFields.parse(email), 1);
    expect([preview.person?.whyNot, preview.problems]).toEqual(['by-text', []]);
    expect(await sentAtItsMoment(5)).toEqual([
      ['p4', 'p5'],
      ['p1', 'p2', 'p3'],
    ]);
    expect((await rows()).map(({ firing }) => firing.state)).toEqual(['done', 'done']);
  });

  it('goes as both to whoever can get both', async () => {
    await save(cue(false));
    expect(await sentAtItsMoment(8)).toEqual([
      ['p1', 'p2', 'p3', 'p4', 'p5'],
      ['p1', 'p2', 'p3'],
    ]);
  });

  it('is one cue: what is said of the text holds for both but for the words, and what somebody else saved meanwhile is not lost', async () => {
    await save(cue(true));
    const { text, email } = await pair();
    const was = cueFields.parse(text);
    const moment = { kind: 'fixed', wall: '2031-06-16T09:00' } as const;
    const words = plainDocument('', 'Soon: {{event.title}}');
    await save({ ...was, moment, wording: words }, text.id, was);
    const now = await pair();
    expect([now.email.moment, now.text.moment]).toEqual([moment, moment]);
    expect(now.email.wording).toEqual(email.wording);
    expect([now.text.wording, now.email.textWording]).toEqual([words, words]);
    expect([now.email.audience.exceptTextable, now.text.audience.exceptTextable]).toEqual([true, undefined]);
    await expectAsync(save({ ...was, name: 'Other' }, text.id, was)).toBeRejectedWith(
      jasmine.objectContaining({ code: 'changed-meanwhile' }),
    );
    await expectAsync(
      save({ ...cueFields.parse(email), name: 'Other' }, email.id, cueFields.parse(email)),
    ).toBeRejected();
  });

  it('says where the text is not whole, and keeps it as a draft', async () => {
    const broken = cue(true, { isDraft: false });
    const wrong = { ...broken, textWording: plainDocument('', '{{nobody.knows}}') };
    await expectAsync(save(wrong)).toBeRejectedWith(
      jasmine.objectContaining({
        more: { problems: [jasmine.objectContaining({ code: 'unknown-field', path: 'text.body' })] },
      }),
    );
    await save({ ...wrong, isDraft: true });
    expect((await rows()).map(({ firing }) => firing.state)).toEqual(['draft', 'draft']);
  });

  it('parts: without its text the email goes to everybody; removed, both are gone', async () => {
    const id = await save(cue(true));
    await removeCue(stage.context, event, (await pair()).text.id, actor);
    const [left, ...others] = await rows();
    expect([left?.id, left?.textWording, left?.audience.exceptTextable, others.length]).toEqual([
      id,
      undefined,
      undefined,
      0,
    ]);
    await save(cue(false), id);
    expect((await rows()).length).toBe(2);
    await removeCue(stage.context, event, id, actor);
    expect(await rows()).toEqual([]);
    expect(await stage.db('firing').whereNotNull('cue_id')).toEqual([]);
    expect(await stage.db('wording').where({ kind: 'cue' })).toEqual([]);
  });

  it('of a series keeps the past of a text that was taken away', async () => {
    event = await publishedEvent(stage, { series: { rule: 'FREQ=DAILY;COUNT=9', added: [], exceptions: [] } });
    const id = await save(cue(true, { name: 'Nightly' }));
    expect(await sentAtItsMoment(5)).toEqual([
      ['p4', 'p5'],
      ['p1', 'p2', 'p3'],
    ]);
    const { textWording: _, ...alone } = cue(true);
    await save(alone, id);
    expect(await stage.db('delivery').where({ state: 'sent' }).count({ n: '*' }).first()).toEqual({ n: 5 });
    expect(await stage.db('firing').where({ channel: 'text' }).distinct('is_expanded').pluck('is_expanded')).toEqual([
      1,
    ]);
  });

  it('is kept in a plan, taken from it, and copied with its event, as one', async () => {
    await save(cue(true, { wording: letter('Soon: {{event.title}}', 'See you.') }));
    const plan = await keepPlan(stage.context, { eventId: event, id: null, name: 'Pairs', says: '' }, actor);
    const other = await publishedEvent(stage);
    await applyPlan(stage.context, other, { source: { kind: 'plan', id: plan }, keys: [1], isDraft: false }, actor);
    const copy = await copyEvent(stage.context, event, true, actor);
    for (const id of [other, copy])
      expect((await listCues(stage.context, id)).map(({ channel, textOf }) => [channel, textOf !== null])).toEqual([
        ['email', false],
        ['text', true],
      ]);
  });
});
