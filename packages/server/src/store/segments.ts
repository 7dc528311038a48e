import type { Knex } from 'knex';
import { cut, type Segment, type Tree } from '@convite/core';
import { segmentConditions, type SegmentFields } from '@convite/contract';
import { countPeople, sizesFor } from './audiences';
import { compilePeople, testOf } from './audience-sql';
import { readJson, type Sql } from './database';
import { isHere } from './is-here';
import { readEach, readOne } from './per-row';
import { treeNow } from './trees-now';

export interface StoredSegment extends SegmentFields {
  readonly id: number;
  readonly changedAt: Date;
  readonly by: string;
  /** As it was last counted; null before it was. */
  readonly people: number | null;
  readonly countedAt: Date | null;
}

interface Row {
  id: number;
  name: string;
  description: string;
  conditions: unknown;
  changed_at: Date;
  by_name: string;
  people: number | null;
  counted_at: Date | null;
}

/** A segment is counted again after two hundred times as long as it took, and ten minutes at the least. */
const restShare = 200;
const leastRestSeconds = 600;
/** So few are looked at to find a page of them. */
const mostLookedAt = 60_000;
/** Else so many people are asked in one statement, and so many statements make a page. */
const sliceSize = 50_000;
const mostSlices = 4;

/** Segments, and who is in them as everything stands now. */
export function segmentStore(db: Knex) {
  const idsOf = async (text: string, bindings: Sql['bindings']): Promise<number[]> => {
    const [rows = []]: { id: number }[][] = await db.raw(text, [...bindings]);
    return rows.map(({ id }) => id);
  };
  return {
    async all(): Promise<StoredSegment[]> {
      const rows: Row[] = await db('segment').orderBy('name');
      return readEach(db, 'segment', rows, segmentOf);
    },
    async find(id: number): Promise<StoredSegment | null> {
      const row: Row | undefined = await db('segment').where({ id }).first();
      return row ? readOne(db, 'segment', row, segmentOf) : null;
    },
    async findForUpdate(id: number): Promise<StoredSegment | null> {
      const row: Row | undefined = await db('segment').where({ id }).forUpdate().first();
      return row ? readOne(db, 'segment', row, segmentOf) : null;
    },
    /** Every segment's conditions, by its number. */
    async known(): Promise<Map<number, Segment>> {
      return new Map((await this.all()).map(({ id, conditions }) => [id, conditions]));
    },
    /** @throws a duplicate-key error (see isDuplicate) when another has that name */
    async create(fields: SegmentFields, by: string, now: Date): Promise<number> {
      const [id] = await db('segment').insert({ ...rowFor(fields, by, now), count_at: db.raw('now(3)') });
      return Number(id);
    },
    /** @throws a duplicate-key error (see isDuplicate) when another has that name */
    async change(id: number, fields: SegmentFields, by: string, now: Date): Promise<void> {
      await db('segment')
        .where({ id })
        .update({ ...rowFor(fields, by, now), count_at: db.raw('now(3)') });
    },
    async remove(id: number): Promise<void> {
      await db('segment').where({ id }).delete();
    },
    /** Cues that may still fire which ask for it or leave it out, the newest first. */
    async cuesOf(id: number, most: number): Promise<number[]> {
      return db('cue_segment as l')
        .join('cue as c', 'c.id', 'l.cue_id')
        .where('l.segment_id', id)
        .where('c.is_retired', false)
        .orderBy('c.id', 'desc')
        .limit(most)
        .pluck('c.id');
    },
    /** The next that is to be counted; it is another's no more. @returns null for none */
    async takeUncounted(): Promise<number | null> {
      const [id]: number[] = await db('segment')
        .whereRaw('count_at <= now(3)')
        .orderBy('count_at')
        .limit(1)
        .pluck('id');
      if (id === undefined) return null;
      const taken = await db('segment')
        .where({ id })
        .whereRaw('count_at <= now(3)')
        .update({ count_at: db.raw(`now(3) + interval ${leastRestSeconds} second`) });
      return taken ? id : null;
    },
    async keepCount(id: number, people: number, tookMs: number, now: Date): Promise<void> {
      const rest = Math.max(leastRestSeconds, Math.ceil((tookMs * restShare) / 1000));
      await db('segment')
        .where({ id })
        .update({ people, counted_at: now, count_at: db.raw('now(3) + interval ? second', [rest]) });
    },
    /** How many people a tree is so of. */
    async count(tree: Tree): Promise<number> {
      const whole = await treeNow(db, tree);
      return countPeople(db, compilePeople(whole, await sizesFor(db, whole)));
    },
    /** Of people with these numbers, both included: how many it is so of, and how many of those may be written to. */
    async countAmong(
      tree: Tree,
      from: number,
      to: number,
    ): Promise<{ people: number; byEmail: number; byText: number }> {
      const test = testOf(await treeNow(db, tree));
      const [rows = []]: { people: number; by_email: number | null; by_text: number | null }[][] = await db.raw(
        `select count(*) as people,
           sum(s.email is not null and s.email_consent and s.opted_out_at is null and s.bounced_at is null) as by_email,
           sum(s.mobile <> '' and s.text_consent and s.opted_out_at is null) as by_text
         from subscriber s where s.id between ? and ? and ${isHere} and ${test.text}`,
        [from, to, ...test.bindings],
      );
      const [row] = rows;
      return {
        people: Number(row?.people ?? 0),
        byEmail: Number(row?.by_email ?? 0),
        byText: Number(row?.by_text ?? 0),
      };
    },
    /** The same of two trees at once: in both, and in one alone. */
    async overlapAmong(
      left: Tree,
      right: Tree,
      from: number,
      to: number,
    ): Promise<{ both: number; onlyLeft: number; onlyRight: number }> {
      const [one, other] = [testOf(await treeNow(db, left)), testOf(await treeNow(db, right))];
      const [rows = []]: { both: number | null; only_left: number | null; only_right: number | null }[][] =
        await db.raw(
          `select sum(l and r) as \`both\`, sum(l and not r) as only_left, sum(r and not l) as only_right from (
           select (${one.text}) as l, (${other.text}) as r
           from subscriber s where s.id between ? and ? and ${isHere}) as asked`,
          [...one.bindings, ...other.bindings, from, to],
        );
      const [row] = rows;
      return {
        both: Number(row?.both ?? 0),
        onlyLeft: Number(row?.only_left ?? 0),
        onlyRight: Number(row?.only_right ?? 0),
      };
    },
    /**
     * Those of whom a tree is so, in their order, from behind one of them. Where few can be meant they are looked at alone; else
     * people are asked one after the other, so many and no more. @returns how far it was looked, null for to the end
     */
    async page(tree: Tree, after: number, limit: number): Promise<{ ids: number[]; lookedTo: number | null }> {
      const whole = await treeNow(db, tree);
      const { from, where, size } = compilePeople(whole, await sizesFor(db, whole));
      if (size <= mostLookedAt)
        return {
          ids: await idsOf(`select s.id from ${from.text} where ${where.text} and s.id > ? order by s.id limit ?`, [
            ...from.bindings,
            ...where.bindings,
            after,
            limit,
          ]),
          lookedTo: null,
        };
      const test = testOf(whole);
      const [row] = await db('subscriber').max({ last: 'id' });
      const last = Number(row?.['last'] ?? 0);
      const ids: number[] = [];
      let to = after;
      for (let slice = 0; slice < mostSlices && to < last && ids.length < limit; slice += 1) {
        const asked = [to + 1, to + sliceSize, ...test.bindings, limit - ids.length];
        ids.push(
          ...(await idsOf(
            `select s.id from subscriber s where s.id between ? and ? and ${isHere} and ${test.text} order by s.id limit ?`,
            asked,
          )),
        );
        to += sliceSize;
      }
      return { ids, lookedTo: to < last ? to : null };
    },
  };
}

const rowFor = ({ name, description, conditions }: SegmentFields, by: string, now: Date) => ({
  name,
  description,
  conditions: JSON.stringify(conditions),
  by_name: cut(by, 120),
  changed_at: now,
});

const segmentOf = (row: Row): StoredSegment => ({
  id: row.id,
  name: row.name,
  description: row.description,
  conditions: segmentConditions.parse(readJson(row.conditions)),
  changedAt: row.changed_at,
  by: row.by_name,
  people: row.people,
  countedAt: row.counted_at,
});
