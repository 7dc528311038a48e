import { resolveWallTime, wallTimeAt, type Moment } from '@convite/core';
import type { CueFields } from '@convite/contract';
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
  specSettings,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { seededRandom, type Random } from '../../demo/random';
import { savePersonal } from '../events/personal';
import { saveCue } from './cues';
import { listCues } from './list-cues';
import { rehearse } from './rehearse';

const zone = 'Europe/Lisbon';
const minuteMs = 60_000;
const people = 5;

/**
 * The oracle: what was sent, to whom and when, as the clock went through the whole countdown. The rehearsal and the table said it before.
 * Nothing of how they come to it is looked at.
 */
describe('what is sent is what was rehearsed', () => {
  let stage: Stage;
  afterEach(() => stage.close());

  for (const seed of [1, 2, 3, 4])
    it(`for people with own times, in their zones, with quiet hours (countdown ${seed})`, async () => {
      const random = seededRandom(seed);
      stage = await openStage();
      const { context } = stage;
      await addPeople(stage, people);
      for (let id = 1; id <= people; id += 1)
        await stage
          .db('subscriber')
          .where({ id })
          .update({ zone: random.pick([zone, 'America/New_York', 'Asia/Tokyo', '']), name: `Person ${id}` });
      const manner = random.pick(['wait', 'out', 'before'] as const);
      await context.store.house.saveSettings({
        ...specSettings,
        quiet: { from: '22:00', until: '08:00', channels: random.pick([['email', 'text'], ['text']]), manner },
      });
      const beginsMs = resolveWallTime('2031-06-10T12:00', zone);
      await clockTo(stage, beginsMs);
      const event = await publishedEvent(stage, {
        isPersonal: seed % 2 === 1,
        span: { kind: 'timed', start: '2031-06-18T10:00', end: '2031-06-18T11:00' },
      });
      // The last has no time of their own.
      const times = ['2031-06-14T09:00', '2031-06-16T21:30', '2031-06-17T00:30', '2031-06-16T21:30'];
      if (seed % 2 === 1)
        await savePersonal(
          context,
          event,
          times.map((start, index) => ({ subscriberId: index + 1, start, end: '', place: '', notes: '' })),
          actor,
        );
      await context.store.invitees.addGuests(
        Array.from({ length: people }, (_, index) => ({
          eventId: event,
          subscriberId: index + 1,
          reply: random.pick(['accepted', 'needs-action', 'declined'] as const),
          holdsVersion: 1,
        })),
        new Date(beginsMs),
      );
      const cues = cuesOf(random);
      for (const cue of cues) await saveCue(context, event, null, cue, actor);
      await countAll(stage);

      const said = new Map<string, number>();
      for (let person = 1; person <= people; person += 1)
        for (const scene of (await rehearse(context, event, { personId: person, archetype: null })).scenes) {
          if (scene.whyNot !== null || scene.isPast || scene.dueAt === null) continue;
          said.set(`${scene.name} to ${person}`, Date.parse(scene.waitsUntil ?? scene.dueAt));
        }
      const inTable = new Map<string, number>();
      for (const { name, firing, ahead } of await listCues(context, event))
        inTable.set(
          name,
          [firing, ...ahead].reduce((sum, { tally }) => sum + tally.gets, 0),
        );

      const sent = await playThrough(stage, beginsMs);
      expect([...sent.keys()].sort())
        .withContext(`${manner}`)
        .toEqual([...said.keys()].sort());
      for (const [what, atMs] of sent) {
        const saidMs = said.get(what) ?? 0;
        expect(Math.abs(atMs - saidMs) <= minuteMs)
          .withContext(`${what}: said ${wallTimeAt(saidMs, zone)}, sent ${wallTimeAt(atMs, zone)}`)
          .toBeTrue();
      }
      // The table says of each cue how many get it; of those who wait for the end of quiet hours too.
      for (const { name } of cues) {
        const got = [...sent.keys()].filter((what) => what.startsWith(`${name} `)).length;
        expect(inTable.get(name)).withContext(`${name}, ${manner}`).toBe(got);
      }
      expect(sent.size).toBeGreaterThan(3);
    }, 120_000);
});

function cuesOf(random: Random): CueFields[] {
  const units = [
    ['minutes', 30],
    ['hours', 2],
    ['hours', 12],
    ['days', 1],
    ['days', 3],
  ] as const;
  return units.map(([unit, amount], index) => {
    const at = unit === 'days' ? random.pick([null, '10:00', '23:00']) : null;
    const moment: Moment = {
      ...{ kind: 'relative', amount, unit, direction: 'before', anchor: 'start', at },
      ...(at !== null && random.below(2) === 0 && { clock: 'person' as const }),
    };
    const name = `Cue ${index}`;
    const channel = random.pick(['email', 'text'] as const);
    return dayBeforeCue({
      name,
      channel,
      moment,
      audience: {
        ...dayBeforeCue().audience,
        invitees: random.pick([['accepted', 'needs-action'], ['accepted'], ['accepted', 'needs-action', 'declined']]),
      },
      ...(channel === 'email' ? { subject: name, body: name } : { subject: '', body: name }),
    });
  });
}

/** The clock goes from moment to moment until nothing is left. @returns when each cue reached each person, by the shared clock */
async function playThrough(stage: Stage, beginsMs: number): Promise<Map<string, number>> {
  const sent = new Map<string, number>();
  const note = (words: string, person: number): void => {
    const name = /Cue \d/.exec(words)?.[0] ?? words;
    const what = `${name} to ${person}`;
    if (sent.has(what)) throw new Error(`${what}: twice`);
    sent.set(what, stage.clock.now());
  };
  const mail = scriptedEnd<EmailMessage>((message) => {
    note(message.subject, Number(/^p(\d+)@/.exec(message.to.address)?.[1]));
    return null;
  });
  const text = scriptedEnd<TextMessage>((message) => {
    note(message.text, Number(message.to.slice(-5)));
    return null;
  });
  const worker = await workOn(stage, { mail, text });
  for (let atMs = beginsMs; ;) {
    await untilSettled(stage);
    const [firing] = await stage.db('firing').where({ state: 'set' }).min({ at: 'due_at' });
    const [waiting] = await stage.db('delivery').where({ state: 'queued' }).min({ at: 'next_at' });
    const next = [firing?.['at'], waiting?.['at']].flatMap((at) => (at instanceof Date ? [at.getTime()] : []));
    if (next.length === 0) break;
    atMs = Math.max(atMs + 1000, Math.min(...next));
    await clockTo(stage, atMs);
  }
  await worker.stop();
  return sent;
}
