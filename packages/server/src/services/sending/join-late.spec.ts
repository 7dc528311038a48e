import { resolveWallTime } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  until,
  workOn,
  scriptedEnd,
  type Stage,
} from '../../testing/stage';
import type { EmailMessage } from '../../mail/message';
import { saveCue } from '../countdown/cues';
import { listCues } from '../countdown/list-cues';

describe('who comes after the moment of a cue', () => {
  let stage: Stage;
  let event: number;
  const at = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  // A day before half past seven.
  const fires = at('2031-06-17T19:30');
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const toList = { ...dayBeforeCue().audience, invitees: [], lists: [] as number[] };
  const save = (lateHours?: number): Promise<number> =>
    saveCue(
      stage.context,
      event,
      null,
      dayBeforeCue({ audience: { ...toList, lists: [stage.list] }, lateHours }),
      actor,
    );
  /** Lets a worker run until so many were written to, and says whom. */
  const mailsAt = async (atMs: number, count: number): Promise<string[]> => {
    await clockTo(stage, atMs);
    await countAll(stage);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('they were written to', () => mail.taken.length >= count);
    await new Promise((done) => setTimeout(done, 1200));
    await worker.stop();
    return mail.taken.map(({ to }) => to.address.replace('@people.example', '')).sort();
  };

  it('gets it once for as long as it says, from a list that they join, and nothing after that; who left gets nothing more', async () => {
    await save(24);
    expect(await mailsAt(fires, 2)).toEqual(['p1', 'p2']);
    await addPeople(stage, 2, 3);
    await stage.context.store.lists.leave(stage.list, [1], new Date());
    expect(await mailsAt(fires + 3_600_000, 2)).toEqual(['p3', 'p4']);
    const [row] = await listCues(stage.context, event);
    expect([row?.lateHours, row?.firing.state, row?.firing.tally.gets, row?.firing.tally.sent]).toEqual([
      24,
      'done',
      4,
      4,
    ]);
    // The start ends it, however long it says.
    await addPeople(stage, 1, 5);
    expect(await mailsAt(at('2031-06-18T19:31'), 0)).toEqual([]);
  });

  it('gets nothing where it does not say so', async () => {
    await save();
    expect(await mailsAt(fires, 2)).toEqual(['p1', 'p2']);
    await addPeople(stage, 1, 3);
    expect(await mailsAt(fires + 3_600_000, 0)).toEqual([]);
  });
});
