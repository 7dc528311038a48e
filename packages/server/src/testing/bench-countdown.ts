import type { ChildProcess } from 'node:child_process';
import { resolveWallTime, wallTimeAt } from '@convite/core';
import { planCues } from '../services/countdown/plan-firings';
import { readBoard } from '../services/countdown/board';
import { saveCue } from '../services/countdown/cues';
import { dayBeforeCue } from './acts';
import type { Row } from './bench-calendars';
import { sized } from './bench-size';
import { forkSink, startProcess, type SinkProcess } from './bench-stage';
import { actor, addPeople, publishedEvent, until, type Stage } from './stage';

const people = sized(10_000, 60);
const small = sized(500, 6);
const perSmall = 10;
const dayMs = 86_400_000;
const zone = 'Europe/Lisbon';
const wallIn = (ms: number): string => wallTimeAt(Date.now() + ms, zone);

/** An event a few days off, with a cue to some people; nothing of it is due before it is said. */
async function eventWithCue(stage: Stage, ids: readonly number[] | null): Promise<number> {
  const span = { kind: 'timed', start: wallIn(5 * dayMs), end: wallIn(5 * dayMs + 7_200_000) } as const;
  const event = await publishedEvent(stage, { span });
  const audience = {
    ...{ invitees: [], exceptLists: [], exceptReplies: [], topics: null },
    ...(ids ? { lists: [], people: [...ids] } : { lists: [stage.list] }),
  };
  await saveCue(stage.context, event, null, dayBeforeCue({ audience }), actor);
  return event;
}

/** All cues that are set become due at one instant, a few seconds from now. */
async function makeDue({ db }: Stage): Promise<number> {
  const dueMs = Date.now() + sized(4000, 800);
  await db('firing')
    .where({ kind: 'cue', state: 'set' })
    .update({ due_at: new Date(dueMs), announced_at: new Date() });
  return dueMs;
}

/** How late messages came, from their instant to the mail server. */
interface Lateness {
  readonly first: number;
  readonly p50: number;
  readonly p99: number;
  readonly max: number;
}
const latenessOf = (times: readonly number[], dueMs: number): Lateness => {
  const late = times.map((atMs) => atMs - dueMs).sort((a, b) => a - b);
  const at = (share: number): number => late[Math.min(late.length - 1, Math.floor(share * late.length))] ?? NaN;
  return { first: at(0), p50: at(0.5), p99: at(0.99), max: at(1) };
};
const say = ({ first, p50, p99, max }: Lateness): string =>
  `first ${first} ms, p50 ${(p50 / 1000).toFixed(1)} s, p99 ${(p99 / 1000).toFixed(1)} s, max ${(max / 1000).toFixed(1)} s`;

async function lateness(stage: Stage, sink: SinkProcess, count: number): Promise<Lateness> {
  await sink.times();
  const before = await sink.taken();
  const dueMs = await makeDue(stage);
  let isOver = false;
  // Somebody has the board open, and it asks again each time something changes.
  const watching = (async (): Promise<void> => {
    while (!isOver) {
      await readBoard(stage.context);
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
  })();
  await until('all arrive', async () => (await sink.taken()) >= before + count, 300);
  isOver = true;
  await watching;
  const times = await sink.times();
  if (times.length < count) throw new Error(`${times.length} of ${count} messages came`);
  return latenessOf(times, dueMs);
}

const stop = (worker: ChildProcess): Promise<unknown> => {
  const ended = new Promise((resolve) => worker.once('exit', resolve));
  worker.kill('SIGTERM');
  return ended;
};

/** How late messages leave: ten thousand of one cue, and of many cues that are due at one instant; with one worker and with two. */
export async function countdownRows(stage: Stage): Promise<Row[]> {
  const rows: Row[] = [];
  await addPeople(stage, people);
  const sink = await forkSink();
  const workers = [startProcess(stage, sink.port, 'worker')];
  // The first of all is slower, while programs are made ready.
  await eventWithCue(stage, [1, 2, 3]);
  await lateness(stage, sink, 3);
  const figures: Lateness[] = [];
  for (const size of [1, 2]) {
    if (workers.length < size) {
      workers.push(startProcess(stage, sink.port, 'worker'));
      await new Promise((resolve) => setTimeout(resolve, sized(3000, 500)));
    }
    await eventWithCue(stage, null);
    const figure = await lateness(stage, sink, people);
    figures.push(figure);
    rows.push({
      what: `${people} messages of one cue, ${size} worker${size > 1 ? 's' : ''}, the board open`,
      figure: say(figure),
      target: 'first within 1000 ms',
    });
    for (let n = 0; n < small; n += 1) {
      const from = (n * perSmall) % people;
      await eventWithCue(
        stage,
        Array.from({ length: perSmall }, (_, index) => from + index + 1),
      );
    }
    const many = await lateness(stage, sink, small * perSmall);
    rows.push({
      what: `${small} cues of ${perSmall} people due at one instant, ${size} worker${size > 1 ? 's' : ''}, the board open`,
      figure: say(many),
      target: 'first within 1000 ms',
    });
  }
  const [one, two] = figures;
  rows.push({
    what: 'ten thousand messages, two workers to one',
    figure: `${((two?.max ?? NaN) / (one?.max ?? NaN)).toFixed(2)} of the time (one mail server takes all of it, on as many cores as there are)`,
    target: 'no more than 1.2',
  });
  await Promise.all(workers.map(stop));
  sink.stop();
  rows.push(await planningRow(stage));
  return rows;
}

/** A series with forty cues, planned anew: what each save of it costs. */
async function planningRow(stage: Stage): Promise<Row> {
  const start = wallIn(2 * dayMs);
  const event = await publishedEvent(stage, {
    span: { kind: 'timed', start, end: wallTimeAt(resolveWallTime(start, zone) + 7_200_000, zone) },
    series: { rule: 'FREQ=DAILY', added: [], exceptions: [] },
  });
  for (let n = 1; n <= 40; n += 1)
    await stage.context.store.cues.create(
      event,
      dayBeforeCue({
        name: `Cue ${n}`,
        moment: { kind: 'relative', amount: n, unit: 'hours', direction: 'before', anchor: 'start', at: null },
      }),
    );
  const times: number[] = [];
  for (let round = 0; round < sized(6, 2); round += 1) {
    const begunAt = performance.now();
    await stage.context.store.transact(async (tx) => {
      const stored = await tx.events.find(event);
      if (stored) await planCues(tx, stored, await tx.cues.ofEvent(event), Date.now());
    });
    times.push(performance.now() - begunAt);
  }
  const [first = NaN, ...again] = times;
  const sorted = again.sort((a, b) => a - b);
  return {
    what: 'forty cues of a daily series planned: 1,400 firings; planned anew',
    figure: `${first.toFixed(0)} ms; ${(sorted[Math.floor(sorted.length / 2)] ?? NaN).toFixed(0)} ms`,
    target: 'under 1000 ms; under 500 ms',
  };
}
