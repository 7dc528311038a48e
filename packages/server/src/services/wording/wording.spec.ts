import { nobodyChosen, writtenWording, type KeptFields } from '@convite/contract';
import {
  eventBlocks,
  letter,
  measureText,
  type Block,
  type Only,
  mergeFields,
  plainDocument,
  plainTextOf,
} from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { previewCue } from '../countdown/preview-cue';
import { checkWording } from '../countdown/check-wording';
import { prepareReminder } from '../events/remind-guests';
import { removeGuests, undoableMs } from '../events/remove-guests';
import { describeChanges } from '../sending/notices';
import { listMessages, showMessage } from '../sending/show-message';
import { sendManual } from '../sending/write-manual';
import { previewNotice } from '../sending/preview-notice';
import { archiveWording, dropWording, findWording, keepWording, listWordings, readVersion } from './kept-wordings';
import { beginFrom, offerWordings } from './offer-wordings';
import { previewWording } from './preview-wording';
import { shipped } from './shipped';

describe('wordings that are kept', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  const own: KeptFields = {
    name: 'Bring a coat',
    purpose: 'reminder',
    channel: 'email',
    wording: letter('Cold tonight: {{event.title}}', 'Bring a coat, {{person.firstName|friend}}.'),
  };
  const nameOf = async (key: string) => (await listWordings(stage.context)).find((row) => row.key === key);

  it('come with Convite whole, and read right to somebody of a real event, with nothing left unfilled', async () => {
    await addPeople(stage, 1);
    await publishedEvent(stage, {
      joinLink: 'https://join.example/dome',
      registration: { places: 9, closesMinutes: 60, confirms: false },
    });
    expect(shipped.length).toBeGreaterThanOrEqual(30);
    for (const { key, channel, wording } of shipped) {
      expect(checkWording(wording, channel)).withContext(key).toEqual([]);
      const { message, event } = await previewWording(stage.context, {
        channel,
        wording,
        eventId: null,
        personId: null,
      });
      expect(event?.title).toBe('Dome night');
      for (const part of [message.subject, message.preheader, message.text, message.html])
        expect(part).withContext(key).not.toContain('{{');
      const found = message.findings.map(({ code }) => code);
      // What the house has not said of this event, and what only longer subjects could say.
      expect(found.filter((code) => !['empty-field', 'no-preheader', 'no-way-out'].includes(code)))
        .withContext(key)
        .toEqual([]);
      if (channel === 'text')
        expect(measureText(plainTextOf(wording)).costly)
          .withContext(key)
          .toEqual([]);
    }
  });

  it('say what goes by itself in the house’s own words, until they go back to the original', async () => {
    await addPeople(stage, 2);
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    const words = letter('Goodbye from {{event.title}}', 'You are off the list.');
    const known = await findWording(stage.context, 'removed');
    await keepWording(stage.context, 'removed', { ...known, wording: words }, actor);
    await keepWording(
      stage.context,
      'change',
      { ...known, name: 'Moved', wording: letter('Moved', 'See below.') },
      actor,
    );
    // What it is for and how it goes is not the house's to say.
    expect(await nameOf('change')).toEqual(
      jasmine.objectContaining({
        name: 'Moved',
        purpose: 'change',
        channel: 'email',
        isChanged: true,
        isShipped: true,
      }),
    );
    expect((await describeChanges(stage.context, event)).suggestedWording.subject).toBe('Moved');
    await removeGuests(stage.context, event, { kind: 'some', ids: [1] }, actor);
    await clockTo(stage, stage.clock.now() + undoableMs + 1000);
    expect((await deliver(stage)).map(({ subject }) => subject)).toEqual(['Goodbye from Dome night']);
    await dropWording(stage.context, 'change', actor);
    expect((await describeChanges(stage.context, event)).suggestedWording.subject).toContain('{{event.title}}');
    expect(await nameOf('change')).toEqual(jasmine.objectContaining({ isChanged: false, changedAt: null }));
    await expectAsync(dropWording(stage.context, 'change', actor)).toBeRejectedWithError(/no such wording/);
    await keepWording(stage.context, 'remind', { ...own, wording: letter('Coming?', 'Are you?') }, actor);
    await prepareReminder(stage.context, event, { kind: 'some', ids: [2] }, actor);
    expect((await stage.context.store.cues.ofEvent(event))[0]?.wording.subject).toBe('Coming?');
    // What goes by itself must be whole.
    await expectAsync(
      keepWording(stage.context, 'registered', { ...own, wording: letter('Hi', '{{event.tilte}}') }, actor),
    ).toBeRejected();
  });

  it('keep every version, say what differs, and let nobody write over another', async () => {
    const key = await keepWording(stage.context, null, own, { name: 'Marta' });
    const longer = { ...own, wording: letter(own.wording.subject, 'Bring a coat.\n\nAnd tea.') };
    await keepWording(stage.context, key, { ...longer, was: own }, { name: 'Rui' });
    await expectAsync(keepWording(stage.context, key, { ...own, name: 'Mine', was: own }, actor)).toBeRejectedWithError(
      /meanwhile/,
    );
    const found = await findWording(stage.context, key);
    expect(found.versions.map(({ number, by }) => [number, by])).toEqual([
      [2, 'Rui'],
      [1, 'Marta'],
    ]);
    expect(found.wording).toEqual(longer.wording);
    expect(await readVersion(stage.context, key, 1)).toEqual(own.wording);
    await expectAsync(readVersion(stage.context, key, 3)).toBeRejectedWithError(/no such version/);
    // Two at once: one of them is told.
    const both = await Promise.allSettled(
      ['A', 'B'].map((name) => keepWording(stage.context, key, { ...longer, name, was: longer }, actor)),
    );
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    // And for one that nobody has changed yet.
    const first = await findWording(stage.context, 'twoWeeks');
    const at = { name: first.name, purpose: first.purpose, channel: first.channel, wording: first.wording };
    const two = await Promise.allSettled(
      ['A', 'B'].map((name) => keepWording(stage.context, 'twoWeeks', { ...at, name, was: at }, actor)),
    );
    expect(two.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  });

  it('are begun from, by words of their names, for what they can be used for; and know which cues say them', async () => {
    const event = await publishedEvent(stage);
    const key = await keepWording(stage.context, null, own, actor);
    const offered = async (search: string, over: Partial<Parameters<typeof offerWordings>[1]> = {}) =>
      (await offerWordings(stage.context, { search, channel: 'email', ofEvent: true, ...over })).map(
        ({ name }) => name,
      );
    expect(await offered('coat bring')).toEqual(['Bring a coat']);
    expect(await offered('coat', { channel: 'text' })).toEqual([]);
    // It names the event, so a message about none cannot begin from it.
    expect(await offered('', { ofEvent: false })).toContain('A test');
    expect(await offered('coat', { ofEvent: false })).toEqual([]);
    const begun = await beginFrom(stage.context, key, 'email');
    expect(begun).toEqual({ ...own.wording, from: key });
    const cueId = await saveCue(
      stage.context,
      event,
      null,
      { ...dayBeforeCue(), name: 'Coats', wording: { ...begun, subject: 'Colder' } },
      actor,
    );
    const found = await findWording(stage.context, key);
    expect(found.usedBy).toEqual([{ cueId, name: 'Coats', eventId: event, eventTitle: 'Dome night' }]);
    expect((await nameOf(key))?.usedAt).not.toBeNull();
    // Another event's message is begun from like any other.
    expect(await offered('Coats')).toEqual(['Coats']);
    expect((await beginFrom(stage.context, `cue-${cueId}`, 'email')).subject).toBe('Colder');
    expect(await beginFrom(stage.context, key, 'text')).toEqual({
      ...plainDocument('', 'Bring a coat, {{person.firstName|friend}}.'),
      from: key,
    });
    await archiveWording(stage.context, key, true, actor);
    expect(await offered('bring')).toEqual([]);
    await archiveWording(stage.context, key, false, actor);
    await dropWording(stage.context, key, actor);
    await expectAsync(beginFrom(stage.context, key, 'email')).toBeRejectedWithError(/no such wording/);
    await expectAsync(archiveWording(stage.context, 'twoWeeks', true, actor)).toBeRejected();
    for (const bad of ['cue-999999', 'nothing', "x'; drop table wording"])
      await expectAsync(beginFrom(stage.context, bad, 'email'))
        .withContext(bad)
        .toBeRejected();
  });

  it('are kept with blocks and fields of every kind, unharmed, and shown where the house has no event', async () => {
    const all = {
      ...own,
      wording: {
        subject: 'All <b>of</b> it\u202e',
        preheader: 'קר הלילה',
        blocks: [
          ...eventBlocks.map((kind) => ({ kind })),
          { kind: 'quoted' as const, text: '{{no.field}} <script>' },
          {
            kind: 'paragraph' as const,
            line: Object.keys(mergeFields).map((field) => ({ kind: 'field' as const, field, fallback: '' })),
          },
        ],
      },
    } as KeptFields;
    const key = await keepWording(stage.context, null, all, actor);
    expect((await findWording(stage.context, key)).wording).toEqual(all.wording);
    // One from before what is written had bounds is still read.
    const older = {
      subject: 'Older',
      blocks: [
        { kind: 'entry', title: 'Old', url: 'javascript:old', about: '', lead: 'Old' },
        ...Array.from({ length: 16 }, () => ({ kind: 'plain', text: 'x'.repeat(20_000) })),
      ],
    };
    expect(writtenWording.safeParse(older).error?.issues.length).toBe(2);
    await stage.db('wording').update({ document: JSON.stringify(older) });
    expect((await findWording(stage.context, key)).wording as unknown).toEqual(older);
    const asked = { channel: 'email' as const, wording: own.wording, eventId: null, personId: null };
    const shown = await previewWording(stage.context, asked);
    expect([shown.event, shown.message.subject]).toEqual([null, 'Cold tonight:']);
    expect(shown.message.findings.map(({ code, facts }) => [code, facts?.['field']])).toContain([
      'empty-field',
      'event.title',
    ]);
  });

  it('say to each reader what is meant for them, by their answer as it goes, and are shown again as they went', async () => {
    await addPeople(stage, 3);
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    await stage.db('invitee').where({ subscriber_id: 1 }).update({ reply: 'accepted' });
    await stage.db('subscriber').where({ id: 3 }).update({ zone: 'Asia/Tokyo' });
    const some = (text: string, only: Only): Block => ({ kind: 'paragraph', line: [{ kind: 'text', text }], only });
    const wording = letter(
      'Tomorrow',
      'All.',
      some('Unanswered.', { kind: 'reply', replies: ['needs-action'] }),
      some('Coming.', { kind: 'reply', replies: ['accepted'] }),
      some('Far.', { kind: 'elsewhere' }),
      some('Online.', { kind: 'online' }),
      some('Here.', { kind: 'in-place' }),
    );
    await saveCue(stage.context, event, null, { ...dayBeforeCue(), wording }, actor);
    const shown = await previewCue(stage.context, event, { ...dayBeforeCue(), wording }, 1);
    await clockTo(stage, Date.UTC(2031, 5, 17, 18, 31));
    const mails = await deliver(stage);
    const said = (id: number) =>
      mails.find(({ to }) => to.address === `p${id}@people.example`)?.text.split('\n\n-- ')[0];
    expect([1, 2, 3].map(said)).toEqual([
      'All.\n\nComing.\n\nHere.',
      'All.\n\nUnanswered.\n\nHere.',
      'All.\n\nUnanswered.\n\nFar.\n\nHere.',
    ]);
    expect([shown.message.text]).toEqual(
      mails.filter(({ to }) => to.address === 'p1@people.example').map(({ text }) => text),
    );
    // An answer for the date goes before that for the whole, in what is shown as in what is sent.
    const { invitees } = stage.context.store;
    await stage
      .db('invitee_occurrence')
      .insert({ event_id: event, subscriber_id: 2, occurrence: '20310618T193000', reply: 'declined' });
    expect(
      await Promise.all([
        invitees.replyOf(event, 2, ''),
        invitees.replyOf(event, 2, '20310618T193000'),
        invitees.replyOf(event, 99, ''),
      ]),
    ).toEqual(['needs-action', 'declined', null]);
    // Whatever they answer since.
    await stage.db('invitee').where({ subscriber_id: 1 }).update({ reply: 'declined' });
    const [message] = (await listMessages(stage.context, 1, 0)).rows;
    expect((await showMessage(stage.context, message?.deliveryId ?? 0)).text).toContain('Coming.');
    // About no event, nobody answered anything.
    await expectAsync(
      sendManual(
        stage.context,
        { ...nobodyChosen, lists: [stage.list], channel: 'email', wording, confirmedCount: null },
        actor,
        null,
      ),
    ).toBeRejected();
  });

  it('are shown with what a reader would stumble over, in every preview', async () => {
    await stage.context.store.house.saveSettings({
      ...specSettings,
      avoidWords: ['last chance'],
      textPrice: { perPart: 0.06, currency: 'EUR' },
    });
    await addPeople(stage, 1);
    const event = await publishedEvent(stage);
    const wording = letter('Last chance', 'Doors at 19:00, {{event.joinLink}} http://a.example');
    const cue = await previewCue(stage.context, event, { ...dayBeforeCue(), wording }, 1);
    expect(cue.message.findings.map(({ code }) => code)).toEqual([
      'no-preheader',
      'empty-field',
      'open-link',
      'avoided-word',
      'other-time',
    ]);
    const notice = await previewNotice(stage.context, event, { wording, isCallOff: true, personId: 1 });
    expect([notice.person.name, notice.message.findings.length]).toEqual(['Person 1', 5]);
    const text = await previewCue(
      stage.context,
      event,
      { ...dayBeforeCue(), channel: 'text', wording: plainDocument('', 'Tonight') },
      1,
    );
    expect(text.message).toEqual(
      jasmine.objectContaining({
        channel: 'text',
        from: specSettings.textSender,
        textPrice: { perPart: 0.06, currency: 'EUR' },
        findings: [{ code: 'no-way-out', path: 'body' }],
      }),
    );
  });
});
