import type { ReleaseRow } from '@convite/contract';
import type { Knex } from 'knex';

export type ReleaseWhat = ReleaseRow['what'];

/** Something that waits for a second member to read it. */
export interface WaitingRelease {
  readonly what: ReleaseWhat;
  readonly ref: number;
  /** The member who wrote it; null for a program. */
  readonly writtenBy: number | null;
  readonly by: string;
  /** Whom it was to go to when it was written, of what is sent by hand. */
  readonly gets: number | null;
  readonly at: Date;
}

interface Row {
  what: ReleaseWhat;
  ref: number;
  written_by: number | null;
  by_name: string;
  gets: number | null;
  at: Date;
}

/** Of the rows `r`, those whose cue, digest or message by hand is still there, and still to go. */
const isThere = `(r.what = 'cue' and exists (select 1 from cue c where c.id = r.ref and not c.is_retired)
  or r.what = 'digest' and exists (select 1 from digest g where g.id = r.ref)
  or r.what = 'firing' and exists (select 1 from firing f where f.id = r.ref and f.state = 'draft'))`;

/** What waits for a second member; a house has some dozens at a time. */
export function releaseStore(db: Knex) {
  return {
    /** It waits from now on, for somebody else than who wrote it last. */
    async wait({ what, ref, writtenBy, by, gets, at }: WaitingRelease): Promise<void> {
      await db('release_wait')
        .insert({ what, ref, written_by: writtenBy, by_name: by, gets, at })
        .onConflict(['what', 'ref'])
        .merge();
    },
    /** It waits no more. @returns whether it did */
    async drop(what: ReleaseWhat, ref: number): Promise<boolean> {
      return (await db('release_wait').where({ what, ref }).delete()) > 0;
    },
    async find(what: ReleaseWhat, ref: number): Promise<WaitingRelease | null> {
      const row: Row | undefined = await db('release_wait').where({ what, ref }).first();
      return row ? waitingOf(row) : null;
    },
    /** Of what is still there, the first that came. */
    async all(limit: number): Promise<WaitingRelease[]> {
      const rows: Row[] = await db('release_wait as r').whereRaw(isThere).orderBy('r.at').limit(limit).select('r.*');
      return rows.map(waitingOf);
    },
    /** What is gone waits no more. */
    async forgetGone(): Promise<void> {
      await db.raw(`delete r from release_wait r where not (${isThere})`);
    },
    async waitingAmong(what: ReleaseWhat, refs: readonly number[]): Promise<ReadonlyMap<number, WaitingRelease>> {
      if (refs.length === 0) return new Map();
      const rows: Row[] = await db('release_wait')
        .where({ what })
        .whereIn('ref', [...refs]);
      return new Map(rows.map((row) => [row.ref, waitingOf(row)]));
    },
  };
}

const waitingOf = (row: Row): WaitingRelease => ({
  what: row.what,
  ref: row.ref,
  writtenBy: row.written_by,
  by: row.by_name,
  gets: row.gets,
  at: row.at,
});
