import type { Knex } from 'knex';
import { segmentConditions } from '@convite/contract';
import { segmentBounds, segmentsIn, withSegments, type Segment, type Tree, type Who } from '@convite/core';
import { readJson } from './database';
import { readOne } from './per-row';

/**
 * A tree with every segment that it names in its place, as of now by the clock that all share. Trees that name none are as they
 * were, and cost nothing.
 */
export async function treeNow(db: Knex, tree: Tree): Promise<Tree> {
  const named = segmentsIn(tree);
  return named.length ? withSegments(tree, await conditionsOf(db, named), await nowMsOf(db)) : tree;
}

/** The same of everybody who gets a message. */
export async function whoNow(db: Knex, who: Who): Promise<Who> {
  const named = [who.in, ...who.out].flatMap(segmentsIn);
  if (named.length === 0) return who;
  const [known, nowMs] = [await conditionsOf(db, named), await nowMsOf(db)];
  const inPlace = (tree: Tree): Tree => withSegments(tree, known, nowMs);
  return { ...who, in: inPlace(who.in), out: who.out.map(inPlace) };
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
