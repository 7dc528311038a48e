import { letter, type Block } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { setReach } from '../events/events';
import { saveSettings } from '../settings';
import { keepWording } from '../wording/kept-wordings';
import { previewWording } from '../wording/preview-wording';
import { showMessage } from './show-message';

describe('what a message only names', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
    event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
  });
  afterEach(() => stage.close());

  const said = (text: string): Block => ({ kind: 'paragraph', line: [{ kind: 'text', text }] });
  const block = (text: string) =>
    ({
      name: 'How to find us',
      purpose: 'block',
      channel: 'email',
      wording: { subject: '', blocks: [said(text)] },
    }) as const;
  const cueSaying = (...blocks: Block[]) => ({ ...dayBeforeCue(), wording: { subject: 'Tomorrow', blocks } });
  /** The messages of the cue, a day before the event. */
  const gone = async () => {
    const { startMs } = (await stage.context.store.firings.ofEvent(event)).reduce(
      (last, { dueMs }) => ({ startMs: Math.max(last.startMs, dueMs) }),
      { startMs: 0 },
    );
    await clockTo(stage, startMs + 1000);
    return deliver(stage);
  };

  it('is read as it goes: a block of the house that was changed is changed in what is not sent yet, and shown again as it went', async () => {
    const key = await keepWording(stage.context, null, block('Up the hill.'), actor);
    const house: Block = { kind: 'house', key, name: 'How to find us' };
    await saveCue(stage.context, event, null, cueSaying(said('Come.'), house), actor);
    await keepWording(stage.context, key, block('Down the hill.'), actor);
    const [mail] = await gone();
    expect(mail?.text).toMatch(/^Come\.\n\nDown the hill\./);
    await keepWording(stage.context, key, block('Round the hill.'), actor);
    const last = await stage.db('delivery').orderBy('id', 'desc').first('id');
    expect((await showMessage(stage.context, Number(last.id))).text).toContain('Down the hill.');
  });

  it('says nothing where the block is gone, and refuses one that says nothing itself', async () => {
    const house: Block = { kind: 'house', key: 'own-gone', name: 'Gone' };
    await saveCue(stage.context, event, null, cueSaying(said('Come.'), house), actor);
    const [mail] = await gone();
    expect(mail?.text).toMatch(/^Come\.\n\n-- /);
    await expectAsync(
      keepWording(stage.context, null, { ...block(''), wording: { subject: '', blocks: [] } }, actor),
    ).toBeRejected();
  });

  it('says what else is coming up on everybody’s pages, the next first, and neither itself nor what only guests know', async () => {
    const day = (n: number) => `2031-06-${String(n).padStart(2, '0')}`;
    const at = (n: number) => ({ kind: 'timed', start: `${day(n)}T20:00`, end: `${day(n)}T21:00` }) as const;
    await publishedEvent(stage, { title: 'Later', span: at(27) });
    await publishedEvent(stage, { title: 'Sooner', span: at(24) });
    const quiet = await publishedEvent(stage, { title: 'Only guests', span: at(25) });
    await setReach(stage.context, quiet, 'invited', actor);
    await clockTo(stage, Date.UTC(2031, 5, 12));
    const { message } = await previewWording(stage.context, {
      ...{ channel: 'email', eventId: event, personId: null },
      wording: { subject: 'S', blocks: [{ kind: 'coming', days: 30 }] },
    });
    expect(message.text.split('\n').filter((line) => line.startsWith('- ') && !line.startsWith('-- '))).toEqual([
      '- Sooner',
      '- Later',
    ]);
    expect(message.text).not.toContain('Only guests');
    const soon = await previewWording(stage.context, {
      ...{ channel: 'email', eventId: event, personId: null },
      wording: { subject: 'S', blocks: [{ kind: 'coming', days: 13 }] },
    });
    expect(soon.message.text).not.toContain('- Later');
  });

  it('says to each what they are down for, as it stands when it goes', async () => {
    await stage.db('registration').insert([
      {
        ...{ event_id: event, subscriber_id: 2, occurrence: '', state: 'confirmed', places: 3 },
        ...{ registered_at: new Date(), changed_at: new Date() },
      },
    ]);
    await saveCue(stage.context, event, null, cueSaying(said('Come.'), { kind: 'places' }), actor);
    const mails = await gone();
    const of = (name: string) => mails.find(({ to }) => to.address.startsWith(name))?.text ?? '';
    expect(of('p2@')).toMatch(/Places: 3\nReference: \w+-2/);
    expect(of('p1@')).toMatch(/^Come\.\n\n-- /);
    const last = await stage.db('delivery').where({ subscriber_id: 2 }).orderBy('id', 'desc').first('id');
    expect((await showMessage(stage.context, Number(last.id))).text).toContain('Places: 3');
  });

  it('goes to each in their own language where it is said in that, in the house’s look', async () => {
    await stage.db('subscriber').where({ id: 2 }).update({ language: 'pt' });
    await saveSettings(
      stage.context,
      {
        ...specSettings,
        look: {
          ...specSettings.look,
          design: 'bulletin',
          signature: 'Clear skies',
          header: 'On the hill',
          footer: 'Bring a coat',
        },
        page: { ...specSettings.page, colour: '#2b7a6b' },
      },
      actor,
    );
    const wording = {
      ...letter('Tomorrow', said('Come.')),
      design: 'ticket' as const,
      languages: { pt: letter('Amanhã', said('Venha.'), { kind: 'reply', tone: 'warm' }) },
    };
    await saveCue(stage.context, event, null, { ...dayBeforeCue(), wording }, actor);
    const mails = await gone();
    const of = (name: string) => mails.find(({ to }) => to.address.startsWith(name));
    expect([of('p1@')?.subject, of('p2@')?.subject]).toEqual(['Tomorrow', 'Amanhã']);
    expect(of('p2@')?.text).toMatch(/^Venha\.\n\nCom todo o gosto \/ .*\n\nClear skies\n\n-- \nBring a coat\n/);
    expect(of('p2@')?.text).toContain('Deixar de receber estas mensagens: http');
    for (const part of ['lang="pt"', '#2b7a6b', 'cv-stub', 'On the hill', 'Clear skies', 'hora de Lisbon'])
      expect(of('p2@')?.html).withContext(part).toContain(part);
    expect(of('p1@')?.html).not.toMatch(/@@|HouseFace|#0a0c0/);
  });
});
