import type { Knex } from 'knex';
import type { AudienceCount } from '@convite/contract';
import { listsOf, reasonOf, type Lane, type Reason, type Tree, type Who } from '@convite/core';
import {
  candidatesOf,
  getsByPart,
  getsSql,
  peopleOf,
  populationSql,
  waitsSql,
  reasonSql,
  testOf,
  type People,
  type SizeOf,
} from './audience-sql';
import { inList, sql } from './database';
import { treeNow, whoNow } from './trees-now';

interface CountRow {
  readonly reason: AudienceCount['without'][number]['reason'] | null;
  readonly n: number;
  readonly waiting: number;
  readonly nameless: number;
}

/** Of the people of a zone, those who get a message, and those of them whose name is not known. */
export interface ZoneCount {
  readonly gets: number;
  readonly nameless: number;
}

/** Who gets a message as everything stands now: asked by counters, by whoever edits, and by claims at the last moment. */
export function audienceStore(db: Knex) {
  /** Everybody whom a count speaks of. */
  const population = (who: Who, guestsOf: number | null): People =>
    guestsOf === null
      ? candidatesOf(who)
      : peopleOf(
          populationSql(
            who,
            sql('select subscriber_id from invitee where event_id = ? and invited_at is not null', guestsOf),
          ),
        );
  return {
    /**
     * How many get a message, and the reasons for everybody else it could mean.
     * @param guestsOf an event whose guests are worth a reason too, whoever is in
     * @param within only of people with these numbers, both included; null for all
     */
    async countAudience(
      asked: Who,
      channel: Lane,
      guestsOf: number | null,
      within: { readonly from: number; readonly to: number } | null = null,
    ): Promise<AudienceCount> {
      const who = await whoNow(db, asked);
      const reason = reasonSql(who, channel);
      const waits = waitsSql(who.quiet);
      const { from, where } = population(who, guestsOf);
      const [rows = []]: CountRow[][] = await db.raw(
        `select reason, count(*) as n, sum(waits) as waiting, sum(nameless) as nameless from (
           select ${reason.text} as reason, ${waits.text} as waits, s.name = '' as nameless from ${from.text} where ${where.text}
           ${within ? 'and c.subscriber_id between ? and ?' : ''}) as judged group by reason`,
        [
          ...reason.bindings,
          ...waits.bindings,
          ...from.bindings,
          ...where.bindings,
          ...(within ? [within.from, within.to] : []),
        ],
      );
      const gets = rows.find((row) => row.reason === null);
      return {
        gets: Number(gets?.n ?? 0),
        waiting: Number(gets?.waiting ?? 0),
        nameless: Number(gets?.nameless ?? 0),
        without: rows.flatMap(({ reason: why, n }) => (why === null ? [] : [{ reason: why, count: Number(n) }])),
      };
    },

    /**
     * Those of some numbers, both included, against whom this is the first reason; null for those who get it, `waiting` for those of
     * them who are in quiet hours, `nameless` for those whose name is not known.
     */
    async behind(
      asked: Who,
      channel: Lane,
      guestsOf: number | null,
      {
        reason: wanted,
        from: first,
        to: last,
        limit,
      }: {
        readonly reason: Reason | 'waiting' | 'nameless' | null;
        readonly from: number;
        readonly to: number;
        readonly limit: number;
      },
    ): Promise<{ id: number; name: string; email: string; mobile: string }[]> {
      const who = await whoNow(db, asked);
      const reason = reasonSql(who, channel);
      const waits = wanted === 'waiting' ? waitsSql(who.quiet) : sql(wanted === 'nameless' ? "s.name = ''" : 'true');
      const { from, where } = population(who, guestsOf);
      const [rows = []]: { id: number; name: string; email: string; mobile: string }[][] = await db.raw(
        `select id, name, email, mobile from (
           select s.id, s.name, coalesce(s.email, '') as email, s.mobile, ${reason.text} as reason
           from ${from.text} where ${where.text} and ${waits.text} and c.subscriber_id between ? and ?) as judged
         where reason <=> ? order by id limit ?`,
        [
          ...reason.bindings,
          ...from.bindings,
          ...where.bindings,
          ...waits.bindings,
          first,
          last,
          wanted === 'waiting' || wanted === 'nameless' ? null : wanted,
          limit,
        ],
      );
      return rows;
    },

    /** How many get a message; without the reasons of everybody else it looks at the candidates alone. */
    async countGets(asked: Who, channel: Lane): Promise<number> {
      const who = await whoNow(db, asked);
      return countPeople(db, getsSql(who, channel, await sizesFor(db, who.in)));
    },

    /** The same, by the zones that people are in, and of how many no name is known. */
    async countGetsByZone(asked: Who, channel: Lane): Promise<Map<string, ZoneCount>> {
      const who = await whoNow(db, asked);
      const { from, where } = getsSql(who, channel, await sizesFor(db, who.in));
      const [rows = []]: { zone: string; n: number; nameless: number }[][] = await db.raw(
        `select s.zone, count(*) as n, sum(s.name = '') as nameless from ${from.text} where ${where.text} group by s.zone`,
        [...from.bindings, ...where.bindings],
      );
      return new Map(rows.map(({ zone, n, nameless }) => [zone, { gets: Number(n), nameless: Number(nameless) }]));
    },

    /** Numbers of those who get it, so many at the most, in no order. */
    async idsOf(asked: Who, channel: Lane, most: number): Promise<number[]> {
      const { from, where } = getsSql(await whoNow(db, asked), channel);
      const [rows = []]: { id: number }[][] = await db.raw(
        `select s.id from ${from.text} where ${where.text} limit ?`,
        [...from.bindings, ...where.bindings, most],
      );
      return rows.map(({ id }) => id);
    },

    /** Somebody who gets it, for a preview; null when nobody does. */
    async firstOf(asked: Who, channel: Lane): Promise<number | null> {
      const who = await whoNow(db, asked);
      // Each part ends at the first that fits; putting them together first would look at all.
      for (const { from, where } of getsByPart(who, channel)) {
        const [rows = []]: { id: number }[][] = await db.raw(
          `select s.id from ${from.text} where ${where.text} limit 1`,
          [...from.bindings, ...where.bindings],
        );
        if (rows[0]) return rows[0].id;
      }
      return null;
    },

    /** What leaves somebody out, where something does: a list, a segment, or by hand. */
    async leftOutBy(who: Who, id: number): Promise<Tree | null> {
      for (const tree of who.out.filter((one) => reasonOf(one) === 'left-out')) {
        const test = testOf(await treeNow(db, tree));
        const [rows = []]: unknown[][] = await db.raw(`select s.id from subscriber s where s.id = ? and ${test.text}`, [
          id,
          ...test.bindings,
        ]);
        if (rows.length) return tree;
      }
      return null;
    },

    /** With what it names put in its place, as things stand now: for whoever judges somebody who is not here. */
    asOfNow: (who: Who): Promise<Who> => whoNow(db, who),
    /** Of some people those who do not get a message any more, with the first reason. */
    async whyNot(asked: Who, channel: Lane, ids: readonly number[]): Promise<Map<number, Reason>> {
      const who = await whoNow(db, asked);
      const reason = reasonSql(who, channel);
      const those = inList(ids);
      const [rows = []]: { id: number; reason: Reason }[][] = await db.raw(
        `select id, reason from (select s.id, ${reason.text} as reason from subscriber s where s.id in ${those.text}) as judged
         where reason is not null`,
        [...reason.bindings, ...those.bindings],
      );
      return new Map(rows.map((row) => [row.id, row.reason]));
    },
  };
}

/** How many people a part of the audience has. */
export async function countPeople(db: Knex, { from, where }: People): Promise<number> {
  const [rows = []]: { n: number }[][] = await db.raw(`select count(*) as n from ${from.text} where ${where.text}`, [
    ...from.bindings,
    ...where.bindings,
  ]);
  return Number(rows[0]?.n ?? 0);
}

/** Sizes of lists matter only where one of several sets is to begin with. */
export async function sizesFor(db: Knex, tree: Tree): Promise<SizeOf> {
  const lists = tree.kind === 'all' ? listsOf(tree) : [];
  if (lists.length === 0) return () => undefined;
  const rows: { id: number; size: number }[] = await db('list').whereIn('id', lists).select('id', 'size');
  const sizes = new Map(rows.map(({ id, size }) => [id, size]));
  return (list) => sizes.get(list);
}
