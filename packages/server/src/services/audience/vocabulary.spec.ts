import { dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { saveSegment } from './segments';
import { addTopic, createField, readVocabulary, removeField, removeTopic, renameField } from './vocabulary';

describe('fields and topics', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(() => stage.close());

  it('do not vanish while something asks for them, and what people have in them goes with them', async () => {
    const { context } = stage;
    await addPeople(stage, 3);
    const booked = await createField(context, { name: 'Booked for', type: 'date' }, actor);
    const seat = await createField(context, { name: 'Seat', type: 'text' }, actor);
    await expectAsync(createField(context, { name: 'SEAT', type: 'text' }, actor)).toBeRejectedWithError(/already/);
    await renameField(context, seat, 'Place in the dome', actor);
    const field = await context.store.fields.find(seat);
    if (field)
      await context.store.fields.write([1, 2, 3].map((subscriberId) => ({ subscriberId, field, typed: 'A1' })));
    await publishedEvent(stage);
    const moment = {
      kind: 'own-date',
      field: booked,
      repeats: 'once',
      amount: 3,
      unit: 'days',
      direction: 'before',
      at: '10:00',
    } as const;
    const cue = dayBeforeCue({
      name: 'Three days before',
      audience: { ...dayBeforeCue().audience, lists: [stage.list] },
    });
    await saveCue(context, 1, null, { ...cue, moment }, actor);
    const conditions = { kind: 'field', field: seat, test: { is: 'filled' } } as const;
    const segment = { name: 'Seated', description: '', conditions };
    const id = await saveSegment(context, null, segment, actor);
    expect(
      (await readVocabulary(context)).fields.map(({ name, usedBy }) => [name, usedBy.map((one) => one.name)]),
    ).toEqual([
      ['Booked for', ['Three days before']],
      ['Place in the dome', ['Seated']],
    ]);
    await expectAsync(removeField(context, booked, actor)).toBeRejectedWithError(/the cue “Three days before”/);
    await expectAsync(removeField(context, seat, actor)).toBeRejectedWithError(/the segment “Seated”/);
    await context.store.segments.remove(id);
    const seen: number[] = [];
    for await (const { done } of await removeField(context, seat, actor)) seen.push(done);
    expect([seen.at(-1), (await stage.db('subscriber_field')).length, await context.store.fields.find(seat)]).toEqual([
      3,
      0,
      null,
    ]);
  });

  it('of topics are offered or not; who asked for one keeps it', async () => {
    const { context } = stage;
    await addPeople(stage, 1);
    await addTopic(context, 'moon', actor);
    await addTopic(context, 'camps', actor);
    await expectAsync(addTopic(context, 'Moon', actor)).toBeRejectedWithError(/already/);
    await publishedEvent(stage, { topics: ['moon'] });
    await context.store.subscribers.giveTopic([1], 'camps');
    await expectAsync(removeTopic(context, 'moon', actor)).toBeRejectedWithError(/the event “Dome night”/);
    await removeTopic(context, 'camps', actor);
    expect((await readVocabulary(context)).topics.map(({ topic }) => topic)).toEqual(['moon']);
    expect((await context.store.subscribers.topicsOf([1])).get(1)).toEqual(['camps']);
  });
});
