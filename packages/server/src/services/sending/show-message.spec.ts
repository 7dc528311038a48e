import { nobodyChosen } from '@convite/contract';
import { blankFacts, resolveWallTime, letter } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { deliver, invite, dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { saveDigest } from '../digests/digests';
import { callOffEvent, saveEvent, setReach } from '../events/events';
import { savePersonal } from '../events/personal';
import { saveSettings } from '../settings';
import { houseWordings } from './house-wordings';
import { listMessages, showMessage } from './show-message';

const lisbon = (wallTime: string): number => resolveWallTime(wallTime, 'Europe/Lisbon');

/** Of what a message is, what must come back octet for octet. */
const shownOf = ({ to, subject, text, html, calendar }: EmailMessage) => ({
  to: to.address,
  subject,
  text,
  html,
  calendar: calendar?.text ?? '',
});

describe('a message that went out', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    await clockTo(stage, Date.UTC(2031, 5, 10));
  });
  afterEach(() => stage.close());

  const kept = async (sent: readonly EmailMessage[]) => {
    const rows = await stage.db<{ id: number }[]>('delivery').select('id');
    const past = await stage.db<{ id: number }[]>('delivery_past').select('id');
    const shown = await Promise.all([...rows, ...past].map(({ id }) => showMessage(stage.context, id)));
    const inOrder = (some: readonly { to: string; subject: string }[]) =>
      [...some].sort((a, b) => (a.to + a.subject < b.to + b.subject ? -1 : 1));
    expect(
      inOrder(shown.map(({ to, subject, text, html, calendar }) => ({ to, subject, text, html, calendar }))),
    ).toEqual(inOrder(sent.map(shownOf)));
    return shown;
  };

  it('is shown again octet for octet, whatever has changed since, also when it is long past', async () => {
    const { context } = stage;
    const event = await publishedEvent(stage, {
      topics: ['moon'],
      entry: { ...blankFacts.entry, text: 'See you, {{person.firstName}}', isStyled: true, showsGuests: true },
      joinLink: 'https://meet.example/1',
    });
    const personal = await publishedEvent(stage, { title: 'One by one', isPersonal: true });
    const own = { start: '2031-06-18T20:10', end: '2031-06-18T20:20', place: 'Room 4', notes: 'by the stairs' };
    await savePersonal(context, personal, [{ subscriberId: 2, ...own }], actor);
    await saveCue(context, event, null, dayBeforeCue(), actor);
    await saveDigest(context, null, theDigest(stage.list), actor);
    const sent = [...(await invite(stage, event), await deliver(stage))];
    sent.push(...(await invite(stage, personal), await deliver(stage)));
    await clockTo(stage, lisbon('2031-06-13T13:00'));
    sent.push(...(await deliver(stage)));
    await clockTo(stage, lisbon('2031-06-17T19:30'));
    sent.push(...(await deliver(stage)));
    // Of the event with own times, only who has one.
    expect(sent.length).toBe(13);
    await kept(sent);

    // Everything that can change does.
    await stage.db('subscriber').update({ name: 'Somebody', email: null, zone: 'Asia/Tokyo', feed_nonce: 7 });
    await stage.db('subscriber_topic').insert({ subscriber_id: 1, topic: 'dwarfs' });
    await saveSettings(
      context,
      {
        ...specSettings,
        organisation: 'Another House',
        postalAddress: 'Elsewhere',
        sender: { name: 'Other', email: 'other@spec.example', replyTo: '' },
        webCalendars: [],
      },
      actor,
    );
    await savePersonal(context, personal, [{ subscriberId: 2, ...own, start: '2031-06-18T21:00', end: '' }], actor);
    await setReach(context, event, 'invited', actor);
    const version = (await context.store.events.find(event))?.version;
    if (!version) throw new Error('no event');
    const facts = { ...version.facts, title: 'Renamed', venue: 'Dome 9' };
    await saveEvent(context, event, { facts, basedOn: version.number }, actor);
    await stage.db('cue').update({ name: 'x' });
    await callOffEvent(context, event, houseWordings.callOff, null, actor);
    await kept(sent);

    const { past } = context.store;
    await stage.db('firing').whereIn('state', ['set', 'sending']).delete();
    while (await past.moveSome(new Date('2040-01-01')));
    expect(await stage.db('said')).toEqual([]);
    await kept(sent);
    expect(await stage.db('said_to_all')).not.toEqual([]);
    await past.dropBefore(new Date('2040-01-01'));
    expect([...(await stage.db('said_to_all')), ...(await stage.db('delivery_past'))]).toEqual([]);
  });

  it('keeps of what all share one row for a firing, and another where it changed while it went out', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage, ({ to }) =>
      to.address.startsWith('p3')
        ? { kind: 'transient', answer: '451 later', mayHaveLeft: false }
        : to.address.startsWith('p4')
          ? { kind: 'permanent', answer: '550 no', mayHaveLeft: false, about: 'message' }
          : null,
    );
    expect((await stage.db('said_to_all')).length).toBe(1);
    const states = async () => {
      const of = async (id: number) =>
        (await listMessages(stage.context, id, 0)).rows.map((row) => [row.state, row.isKept]);
      return (await Promise.all([1, 3, 4].map(of))).flat();
    };
    expect(await states()).toEqual([
      ['sent', true],
      ['queued', false],
      ['failed', false],
    ]);
    const [refused] = (await listMessages(stage.context, 4, 0)).rows;
    await expectAsync(showMessage(stage.context, refused?.deliveryId ?? 0)).toBeRejectedWithError(/no such message/);
    await saveSettings(stage.context, { ...specSettings, organisation: 'Another House' }, actor);
    await clockTo(stage, stage.clock.now() + 3_600_000);
    const [late] = await deliver(stage);
    expect(late?.text).toContain('Spec Street 1');
    expect((await stage.db('said_to_all')).length).toBe(2);
    const [third] = (await listMessages(stage.context, 3, 0)).rows;
    expect((await showMessage(stage.context, third?.deliveryId ?? 0)).html).toBe(late?.html ?? '');
  });

  it('is forgotten with its person', async () => {
    await invite(stage, await publishedEvent(stage));
    await deliver(stage);
    await stage.context.store.said.forget([1, 2]);
    expect((await listMessages(stage.context, 1, 0)).rows.map(({ isKept }) => isKept)).toEqual([false]);
    expect((await listMessages(stage.context, 3, 0)).rows.map(({ isKept }) => isKept)).toEqual([true]);
  });

  it('is listed with the others of its person, the latest first, page by page over what is hot and past', async () => {
    const firings = await Promise.all(
      Array.from({ length: 45 }, (_, index) =>
        stage
          .db('firing')
          .insert({
            kind: 'notice',
            channel: 'email',
            due_at: new Date(Date.UTC(2031, 0, 1 + index)),
            state: 'done',
            is_expanded: true,
          })
          .then(([id]) => id ?? 0),
      ),
    );
    await stage.db('delivery').insert(
      firings.map((firing_id) => ({
        firing_id,
        subscriber_id: 1,
        channel: 'email',
        state: 'sent',
        next_at: new Date(),
      })),
    );
    while (await stage.context.store.past.moveSome(new Date(Date.UTC(2031, 0, 20))));
    const all: number[] = [];
    for (let before: number | null = 0; before !== null;) {
      const page = await listMessages(stage.context, 1, before);
      all.push(...page.rows.map(({ deliveryId }) => deliveryId));
      before = page.next;
    }
    expect(all.length).toBe(45);
    expect(all).toEqual([...all].sort((a, b) => b - a));
  });
});

const theDigest = (listId: number) => ({
  name: 'Weekly',
  weekday: 5,
  at: '13:00',
  zone: 'Europe/Lisbon',
  windowDays: 10,
  whom: { ...nobodyChosen, lists: [listId] },
  wording: letter('This week', 'Dear {{person.firstName}}'),
  isOn: true,
  senderId: null,
});
