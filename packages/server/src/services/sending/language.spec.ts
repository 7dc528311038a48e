import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { bringCsv } from '../../testing/bring';
import { actor, addPeople, clockTo, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { editPerson, getPerson } from '../audience/persons';
import { saveCue } from '../countdown/cues';
import { editOf } from '@convite/contract';
import { readSettings, saveSettings } from '../settings';
import { showMessage } from './show-message';

describe('Days and times in what a subscriber reads', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, Date.UTC(2031, 5, 10, 12));
    await addPeople(stage, 3);
  });
  afterEach(() => stage.close());

  it('are in their own language, else in the house’s and its habits; and again when a message is shown', async () => {
    const { context, list } = stage;
    const settings = await readSettings(context);
    await saveSettings(context, { ...settings, language: 'de', dayOrder: 'day-first', clock: '24' }, actor);
    await editPerson(context, 2, { ...editOf(await getPerson(context, 2)), language: 'pt' }, actor);
    const csv = 'email,idioma\np3@people.example,pt-PT\nnew@people.example,Klingon\n';
    await bringCsv(context, csv, { listId: list });
    expect([(await getPerson(context, 3)).language, (await getPerson(context, 1)).language]).toEqual(['pt', '']);
    const event = await publishedEvent(stage);
    await invite(stage, event);
    const mails = await deliver(stage);
    const textTo = (who: string): string => mails.find(({ to }) => to.address === `${who}@people.example`)?.text ?? '';
    expect(textTo('p1')).toContain('Mi 18. Jun 2031 19:30 bis 22:00, Ortszeit Lisbon');
    expect(textTo('p2')).toContain('quarta 18 jun 2031 19:30 às 22:00, hora de Lisbon');
    expect(textTo('p3')).toContain('quarta 18 jun 2031');
    expect(textTo('new')).toContain('Mi 18. Jun 2031');

    // Whatever is set later, it is shown as it went.
    await saveSettings(context, { ...settings, language: 'it' }, actor);
    await editPerson(context, 2, { ...editOf(await getPerson(context, 2)), language: 'fr' }, actor);
    const [sent] = await stage.db('delivery').where({ subscriber_id: 2 }).select('id');
    expect((await showMessage(context, Number(sent.id))).text).toContain('quarta 18 jun 2031');
    await saveCue(context, event, null, dayBeforeCue(), actor);
    await clockTo(stage, Date.UTC(2031, 5, 17, 18, 31));
    const cues = await deliver(stage);
    const subjectTo = (who: string) => cues.find(({ to }) => to.address === `${who}@people.example`)?.subject;
    expect([subjectTo('p1'), subjectTo('p2')]).toEqual([
      'Tomorrow: Dome night, mer 18 giu 2031',
      'Tomorrow: Dome night, mer 18 juin 2031',
    ]);
  });
});
