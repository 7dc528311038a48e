import type { Knex } from 'knex';
import { segmentConditions } from '@convite/contract';
import {
  peopleIn,
  segmentBounds,
  segmentsIn,
  withPeople,
  withSegments,
  type Segment,
  type Tree,
  type Who,
} from '@convite/core';
import { readJson } from './database';
import { readOne } from './per-row';

/**
 * A tree as of now, by the clock that all share: every segment that it names in its place, and who was found to be somebody else
 * named as them. Trees that name neither are as they were, and cost nothing.
 */
export const treeNow = async (db: Knex, tree: Tree): Promise<Tree> => (await asOfNow(db, [tree]))(tree);

/** The same of everybody who gets a message. */
export async function whoNow(db: Knex, who: Who): Promise<Who> {
  const inPlace = await asOfNow(db, [who.in, ...who.out]);
  return { ...who, in: inPlace(who.in), out: who.out.map(inPlace) };
}

async function asOfNow(db: Knex, trees: readonly Tree[]): Promise<(tree: Tree) => Tree> {
  const segments = trees.flatMap(segmentsIn);
  const [known, nowMs] = segments.length
    ? [await conditionsOf(db, segments), await nowMsOf(db)]
    : [new Map<number, Segment>(), 0];
  const withoutNames = (tree: Tree): Tree => (segments.length ? withSegments(tree, known, nowMs) : tree);
  const people = trees.map(withoutNames).flatMap(peopleIn);
  const found = people.length ? await foundToBe(db, people) : new Map<number, number>();
  return (tree) => (found.size ? withPeople(withoutNames(tree), found) : withoutNames(tree));
}

/** Of some people those who were found to be somebody else, with whom. */
async function foundToBe(db: Knex, ids: readonly number[]): Promise<Map<number, number>> {
  const rows: { id: number; same_as_id: number }[] = await db('subscriber')
    .whereIn('id', [...new Set(ids)])
    .whereNotNull('same_as_id')
    .select('id', 'same_as_id');
  return new Map(rows.map((row) => [row.id, row.same_as_id]));
}

/** The conditions of some segments, and of all that they name. */
async function conditionsOf(db: Knex, named: readonly number[]): Promise<Map<number, Segment>> {
  const known = new Map<number, Segment>();
  for (let wanted = [...new Set(named)], round = 0; wanted.length && round <= segmentBounds.chain; round += 1) {
    const rows: { id: number; conditions: unknown }[] = await db('segment')
      .whereIn('id', wanted)
      .select('id', 'conditions');
    for (const row of rows)
      known.set(
        row.id,
        readOne(db, 'segment', row, ({ conditions }) => segmentConditions.parse(readJson(conditions))),
      );
    wanted = [...new Set(rows.flatMap(({ id }) => segmentsIn(known.get(id) ?? nobody)))].filter((id) => !known.has(id));
  }
  return known;
}

const nobody: Segment = { kind: 'any', of: [] };

/** Now, by the database's clock as it was moved backstage. */
async function nowMsOf(db: Knex): Promise<number> {
  const [rows = []]: { ms: number }[][] = await db.raw(
    'select unix_timestamp(now(3)) * 1000 + coalesce((select max(offset_ms) from clock), 0) as ms',
  );
  return Number(rows[0]?.ms ?? 0);
}
