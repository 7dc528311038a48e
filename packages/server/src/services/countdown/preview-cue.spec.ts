import type { Audience } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveSegment } from '../audience/segments';
import { saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { saveCue } from './cues';
import { listCues } from './list-cues';
import { previewCue } from './preview-cue';

describe('a cue looked at as one person', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
  });
  afterEach(() => stage.close());

  it('says what leaves them out, by its name: a list, a segment, or by hand', async () => {
    const { context, list } = stage;
    await stage.db('list').where({ id: list }).update({ name: 'Everybody' });
    const event = await publishedEvent(stage);
    const crew = await context.store.lists.create('Crew');
    await context.store.lists.join(crew, [1], new Date(0));
    const conditions = { kind: 'list', lists: [crew] } as const;
    const segment = await saveSegment(context, null, { name: 'Helpers', description: '', conditions }, actor);
    const look = async (over: Partial<Audience>, person: number) => {
      const audience = { ...dayBeforeCue().audience, invitees: [], ...over };
      const seen = await previewCue(context, event, dayBeforeCue({ audience }), person);
      return [seen.person?.whyNot, seen.person?.leftOutBy];
    };
    const everybody = { lists: [list] };
    expect(await look({ ...everybody, exceptLists: [crew] }, 1)).toEqual(['left-out', 'the list Crew']);
    expect(await look({ ...everybody, exceptSegments: [segment] }, 1)).toEqual(['left-out', 'the segment Helpers']);
    expect(await look({ ...everybody, exceptPeople: [1, 2] }, 2)).toEqual(['left-out', 'hand']);
    expect(await look({ ...everybody, exceptPeople: [1, 2] }, 3)).toEqual([null, '']);
    // Who is in by a segment, or by hand, is in.
    expect(await look({ segments: [segment] }, 1)).toEqual([null, '']);
    expect(await look({ segments: [segment], people: [2] }, 2)).toEqual([null, '']);
    expect(await look({ segments: [segment] }, 3)).toEqual(['not-chosen', '']);
  });

  it('is said to name what the event does not have, with nothing to stand in for it', async () => {
    const event = await publishedEvent(stage);
    const body = 'Join: {{event.joinLink}} {{event.description|no news}} {{link.reply}} {{person.name}}';
    await saveCue(stage.context, event, null, dayBeforeCue({ body }), actor);
    const hazards = async () =>
      (await listCues(stage.context, event))[0]?.hazards.flatMap(({ code, other }) =>
        code === 'field-empty' ? [other] : [],
      );
    expect(await hazards()).toEqual(['event.joinLink']);
    const { version } = await getEvent(stage.context, event);
    const facts = { ...version.facts, joinLink: 'https://join.example/1' };
    await saveEvent(stage.context, event, { facts, basedOn: version.number }, actor);
    expect(await hazards()).toEqual([]);
  });
});
