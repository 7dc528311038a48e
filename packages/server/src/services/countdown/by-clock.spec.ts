import { resolveWallTime, wallTimeAt, type Moment } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  scriptedEnd,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { readBoard } from './board';
import { saveCue } from './cues';
import { previewCue } from './preview-cue';
import { setFiringAgain, stopFiring } from './firings';
import { listCues } from './list-cues';
import { planOn } from './plan-firings';

const at = (wall: string, zone = 'Europe/Lisbon'): number => resolveWallTime(wall, zone);
const ownClock: Moment = {
  kind: 'relative',
  amount: 1,
  unit: 'days',
  direction: 'before',
  anchor: 'start',
  at: '10:00',
  clock: 'person',
};

describe('cues by each person’s clock and by their own dates', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 6);
    const zones = ['Europe/Lisbon', 'Asia/Tokyo', 'America/New_York', '', 'Nowhere/Land', 'Asia/Tokyo'];
    for (const [index, zone] of zones.entries())
      await stage
        .db('subscriber')
        .where({ id: index + 1 })
        .update({ zone });
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const cueOf = (moment: Moment) =>
    dayBeforeCue({
      moment,
      audience: { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null },
    });
  const firings = () => stage.context.store.firings.ofEvent(event);
  /** Goes from firing to firing, and says who got it when by the event's clock. */
  const play = async (untilMs: number): Promise<string[]> => {
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    const got: string[] = [];
    for (;;) {
      const next = await stage.context.store.firings.nextDueMs();
      if (next === null || next > untilMs) break;
      await clockTo(stage, next);
      await untilSettled(stage);
      const when = wallTimeAt(next, 'Europe/Lisbon').slice(5);
      got.push(...mail.taken.splice(0).map(({ to }) => `${when} ${to.address.split('@')[0]}`));
    }
    await worker.stop();
    return got.sort();
  };

  it('reach each once, at ten on their own clock; whose zone is not known at ten on the event’s', async () => {
    await saveCue(stage.context, event, null, cueOf(ownClock), actor);
    await countAll(stage);
    const planned = await firings();
    expect(planned.map(({ zone, gets, dueMs }) => `${wallTimeAt(dueMs, 'UTC').slice(5)} ${zone} ${gets}`)).toEqual([
      '06-17T09:00 Europe/Lisbon 3',
      '06-17T14:00 America/New_York 1',
      // In Tokyo it begins in the small hours of the 19th: its day before is the 18th.
      '06-18T01:00 Asia/Tokyo 2',
    ]);
    const [line, ...others] = (await readBoard(stage.context)).ahead;
    expect([line?.zone, line?.tally.gets, line?.otherZones?.count, others.length]).toEqual(['Europe/Lisbon', 6, 2, 0]);
    expect(await play(at('2031-06-18T12:00'))).toEqual([
      '06-17T10:00 p1',
      '06-17T10:00 p4',
      '06-17T10:00 p5',
      '06-17T15:00 p3',
      '06-18T02:00 p2',
      '06-18T02:00 p6',
    ]);
  });

  it('reach nobody twice who moved to a later zone; a zone that was not there before is planned for', async () => {
    await saveCue(stage.context, event, null, cueOf(ownClock), actor);
    await stage.db('subscriber').where({ id: 4 }).update({ zone: 'Asia/Kathmandu' });
    expect(await play(at('2031-06-17T12:00'))).toEqual(['06-17T10:00 p1', '06-17T10:00 p5']);
    await stage.db('subscriber').where({ id: 1 }).update({ zone: 'Asia/Tokyo' });
    expect(await play(at('2031-06-18T12:00'))).toEqual([
      '06-17T15:00 p3',
      '06-18T02:00 p2',
      '06-18T02:00 p6',
      '06-18T05:15 p4',
    ]);
  });

  it('have no row for a zone in which nobody is to get it, once that is counted', async () => {
    await stage.db('list_member').where({ subscriber_id: 3 }).delete();
    const id = await saveCue(stage.context, event, null, cueOf(ownClock), actor);
    const others = async () => (await readBoard(stage.context)).ahead[0]?.otherZones?.count;
    expect(await others()).toBe(2);
    await countAll(stage);
    expect(await others()).toBe(1);
    const [row] = await listCues(stage.context, event);
    const { zone, otherZones, tally } = row?.firing ?? {};
    expect([row?.id, zone, otherZones?.count, tally?.gets, row?.ahead]).toEqual([id, 'Europe/Lisbon', 1, 5, []]);
  });

  it('stand as one line with nobody, where nobody is to get them in any zone', async () => {
    await stage.db('list_member').delete();
    await saveCue(stage.context, event, null, cueOf(ownClock), actor);
    await countAll(stage);
    const [row] = await listCues(stage.context, event);
    expect([row?.firing.state, row?.firing.tally.gets, row?.firing.otherZones, row?.ahead]).toEqual([
      'set',
      0,
      null,
      [],
    ]);
  });

  it('are held, and set again, for all zones at once', async () => {
    await saveCue(stage.context, event, null, cueOf(ownClock), actor);
    const [first] = await firings();
    await stopFiring(stage.context, first?.id ?? 0, actor);
    const states = async () => (await firings()).map(({ state, heldBy }) => `${state} ${heldBy}`.trim());
    expect(await states()).toEqual(['stopped Spec', 'stopped Spec', 'stopped Spec']);
    await setFiringAgain(stage.context, first?.id ?? 0, actor);
    expect(await states()).toEqual(['set', 'set', 'set']);
  });

  describe('counted from a date that people have', () => {
    let moment: Extract<Moment, { kind: 'own-date' }>;
    beforeEach(async () => {
      const { fields } = stage.context.store;
      const field = { id: await fields.create('Birthday', 'date'), name: 'Birthday', type: 'date' } as const;
      const dates = ['1990-06-20', '2000-02-29', '1985-06-20', '1970-06-21', 'soon', '2031-06-20'];
      await fields.write(dates.map((typed, index) => ({ subscriberId: index + 1, field, typed })));
      moment = {
        kind: 'own-date',
        field: field.id,
        repeats: 'yearly',
        amount: 3,
        unit: 'days',
        direction: 'before',
        at: '10:00',
        clock: 'person',
      };
    });

    it('go three days before it at ten on each one’s clock, and go on being planned', async () => {
      await saveCue(stage.context, event, null, cueOf(moment), actor);
      await countAll(stage);
      expect(await play(at('2031-06-19T12:00'))).toEqual([
        '06-17T02:00 p6',
        '06-17T10:00 p1',
        '06-17T15:00 p3',
        '06-18T10:00 p4',
      ]);
      const before = (await firings()).length;
      await clockTo(stage, at('2031-07-05T12:00'));
      expect(await stage.context.store.events.idsToPlan(at('2031-08-05T12:00'))).toEqual([event]);
      await planOn(stage.context.store, event, stage.clock.now());
      expect((await firings()).length).toBeGreaterThan(before + 10);
      await countAll(stage);
      // Days on which nobody has theirs are no lines of the board.
      expect((await readBoard(stage.context)).ahead).toEqual([]);
    });

    it('show a person when theirs is, and are set only by a field of dates', async () => {
      const preview = await previewCue(stage.context, event, cueOf(moment), 2);
      expect(preview.dueAt).toBe(new Date(at('2032-02-26T10:00', 'Asia/Tokyo')).toISOString());
      expect((await previewCue(stage.context, event, cueOf(moment), 5)).dueAt).toBeNull();
      const words = await stage.context.store.fields.create('Town', 'text');
      for (const field of [words, 999])
        await expectAsync(saveCue(stage.context, event, null, cueOf({ ...moment, field }), actor)).toBeRejectedWith(
          jasmine.objectContaining({ status: 422 }),
        );
    });
  });
});
