import { letter } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { previewInvitation } from './preview-invitation';

describe('links made for everybody', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
    await clockTo(stage, Date.UTC(2031, 5, 10));
  });
  afterEach(() => stage.close());

  const joinLink = 'https://live.spec.example/secret-room';
  /** Its name needs no encoding in a link. */
  const says = (text: string): boolean => text.includes('secret-room');

  for (const venue of ['', 'Dome 1'])
    it(`do not say how to join, whether it has a venue (${venue || 'none'}) or not; those of guests do`, async () => {
      const { context, list } = stage;
      const pattern = 'https://calendar.example/add{?title,start,end,place,description}';
      await context.store.house.saveSettings({ ...specSettings, webCalendars: [{ name: 'Web', pattern }] });
      const event = await publishedEvent(stage, { venue, joinLink, description: 'Come.' });
      const { blocks } = await previewInvitation(context, event, null, null);
      expect(Object.values(blocks).map(says)).toEqual([false, false, false]);
      const two = await context.store.lists.create('One of two');
      await context.store.lists.join(two, [1], new Date(0));
      await invite(stage, event, { lists: [two] });
      await deliver(stage);
      const wording = letter('In your calendar', 'add it.', { kind: 'calendar' });
      const audience = { ...dayBeforeCue().audience, lists: [list] };
      await saveCue(context, event, null, { ...dayBeforeCue({ audience }), wording }, actor);
      await clockTo(stage, Date.UTC(2031, 5, 17, 18, 30));
      const mails = await deliver(stage);
      expect(mails.map(({ to, html }) => [to.address, says(html)]).sort()).toEqual([
        ['p1@people.example', true],
        ['p2@people.example', false],
      ]);
    });
});
