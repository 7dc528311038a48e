import { mostRowsAtOnce } from '@convite/contract';
import type { ColumnTarget } from '@convite/core';
import { addRows, beginImport, describeImport } from '../services/audience/bring-in';
import { takeImport } from '../services/audience/take-in';
import type { Row } from './bench-calendars';
import { sized } from './bench-size';
import { agreed } from './bring';
import { actor, type Stage } from './stage';

const many = sized(100_000, 2000);
const batch = 1000;

const columns: readonly ColumnTarget[] = [
  { to: 'email', rule: 'fill' },
  { to: 'name', rule: 'fill' },
  { to: 'mobile', rule: 'fill' },
  { to: 'field', name: 'Seat', type: 'text', rule: 'fill', order: null, isCountry: false },
];
const cellsOf = (prefix: string, n: number): string[] => [
  `${prefix}${n}@crowd.example`,
  `${prefix} Person ${n}`,
  `+4477${String(n).padStart(8, '0')}`,
  `Row ${n % 40}`,
];

/** The very rows that an import leaves, written down without a question. */
async function bareInsert({ db, list }: Stage): Promise<number> {
  const fieldId = Number((await db('field').insert({ name: 'Bare seat', type: 'text' }))[0]);
  const begunAt = performance.now();
  const now = new Date();
  for (let from = 0; from < many; from += batch) {
    const people = Array.from({ length: batch }, (_, n) => cellsOf('bare', from + n));
    await db.transaction(async (tx) => {
      const [first = 0] = await tx('subscriber').insert(
        people.map(([email, name, mobile]) => ({
          email,
          name,
          mobile,
          zone: 'Europe/London',
          zone_from: 'phone',
          created_at: now,
          text_consent: true,
        })),
      );
      const ids = people.map((_, n) => first + n);
      await tx('list_member').insert(ids.map((id) => ({ list_id: list, subscriber_id: id })));
      const consent = { is_given: true, how: 'on the paper form', by_name: 'Bench', source: 'file', at: now };
      await tx('consent').insert(
        ids.flatMap((id) => ['email', 'text'].map((channel) => ({ subscriber_id: id, channel, ...consent }))),
      );
      await tx('subscriber_field').insert(
        people.map(([, , , seat = ''], n) => ({
          subscriber_id: ids[n],
          field_id: fieldId,
          typed: seat,
          word: seat.toLowerCase(),
        })),
      );
    });
  }
  return performance.now() - begunAt;
}

/** Handed in as a browser does it, looked at, and taken in. */
async function bring({ context, list }: Stage): Promise<{ lookMs: number; takeMs: number }> {
  const begunAt = performance.now();
  const fields = {
    name: 'bench',
    columns: [...columns],
    headings: [],
    listId: list,
    emailConsent: agreed,
    textConsent: agreed,
  };
  const id = await beginImport(context, fields, actor);
  const chunks = Array.from({ length: many / mostRowsAtOnce }, (_, chunk) => chunk * mostRowsAtOnce);
  const hand = async (): Promise<void> => {
    for (let from = chunks.shift(); from !== undefined; from = chunks.shift()) {
      const first = from;
      const rows = Array.from({ length: mostRowsAtOnce }, (_, n) => ({
        number: first + n + 1,
        cells: cellsOf('ours', first + n),
      }));
      await addRows(context, id, { rows });
    }
  };
  // Two at once, as a browser does.
  await Promise.all([hand(), hand()]);
  const lookedAt = performance.now();
  for await (const _ of await takeImport(context, id, { rows: many, spelled: 'new' }, actor));
  const done = await describeImport(context, id);
  if (done.joined !== many) throw new Error(`${done.joined} of ${many} were taken in`);
  return { lookMs: lookedAt - begunAt, takeMs: performance.now() - lookedAt };
}

/** Bringing 100,000 people in, to a bare insert of the same rows; and how much memory it takes. */
export async function peopleRows(stage: Stage): Promise<Row[]> {
  const bareMs = await bareInsert(stage);
  const beforeMb = process.memoryUsage.rss() / 2 ** 20;
  let peakMb = beforeMb;
  const watch = setInterval(() => (peakMb = Math.max(peakMb, process.memoryUsage.rss() / 2 ** 20)), 50);
  const { lookMs, takeMs } = await bring(stage);
  clearInterval(watch);
  const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;
  return [
    {
      what: `${many} people brought in, to a bare insert of the same rows`,
      figure: `${((lookMs + takeMs) / bareMs).toFixed(2)} (looked at in ${seconds(lookMs)}, taken in ${seconds(takeMs)}; bare ${seconds(bareMs)})`,
      target: 'at most 3, and under 20 s',
    },
    {
      what: 'growth of memory while they came',
      figure: `${(peakMb - beforeMb).toFixed(0)} MB`,
      target: 'under 150 MB',
    },
  ];
}
