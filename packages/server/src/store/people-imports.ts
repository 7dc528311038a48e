import type { Knex } from 'knex';
import { columnTargets, peopleImportFields, type PeopleImportFields, type RowKind } from '@convite/contract';
import type { ColumnTarget } from '@convite/core';
import { readJson } from './database';
import { readEach, readOne } from './per-row';
import { inTransaction } from './retry-locked';

export type ImportState = 'draft' | 'running' | 'stopped' | 'done' | 'undoing' | 'undone';

/** What is counted of an import as its rows are handed in and taken. */
type CountedPart = 'optedOut' | 'bounced' | 'landlines' | 'guessedZones' | 'withoutConsent';
export type ImportCounts = Readonly<Record<RowKind | CountedPart, number>>;

/** Bringing people in by a file, as far as it is. */
export interface StoredImport {
  readonly id: number;
  readonly by: string;
  readonly state: ImportState;
  readonly startedAt: Date;
  readonly fields: PeopleImportFields;
  readonly listId: number | null;
  /** Whom another spelling means is taken as who is known, not as somebody new. */
  readonly takesSpelled: boolean;
  readonly counts: ImportCounts;
  /** Rows looked at since it began to be taken in, or taken back; and the number of the last of them. */
  readonly position: number;
  readonly lastRow: number;
  /** The last row that had been taken in when it began to be taken back. */
  readonly takenTo: number;
  readonly joined: number;
}

interface Row {
  id: number;
  by_name: string;
  state: ImportState;
  started_at: Date;
  fields: unknown;
  list_id: number | null;
  takes_spelled: number;
  fresh: number;
  changed: number;
  same: number;
  spelled: number;
  refused: number;
  twice: number;
  opted_out: number;
  bounced: number;
  landlines: number;
  guessed_zones: number;
  without_consent: number;
  position: number;
  last_row: number;
  taken_to: number;
  joined: number;
}

/** A process that takes people in says so at least this often, or another goes on. */
const aliveSeconds = 20;
/** What is counted, each with its column. */
const countedParts = [
  ['new', 'fresh'],
  ['changed', 'changed'],
  ['same', 'same'],
  ['spelled', 'spelled'],
  ['refused', 'refused'],
  ['twice', 'twice'],
  ['optedOut', 'opted_out'],
  ['bounced', 'bounced'],
  ['landlines', 'landlines'],
  ['guessedZones', 'guessed_zones'],
  ['withoutConsent', 'without_consent'],
] as const satisfies readonly (readonly [keyof ImportCounts, keyof Row])[];

export function peopleImportStore(db: Knex) {
  const alive = () => db.raw(`now(3) + interval ${aliveSeconds} second`);
  const one = async (query: Knex.QueryBuilder): Promise<StoredImport | null> => {
    const row: Row | undefined = await query.first();
    return row ? readOne(db, 'import', row, importOf) : null;
  };
  return {
    async begin(fields: PeopleImportFields, shape: string, by: string, now: Date, isProgram = false): Promise<number> {
      const { name, listId } = fields;
      const [id] = await db('people_import').insert({
        name,
        shape,
        list_id: listId,
        by_name: by,
        is_program: isProgram,
        state: 'draft',
        started_at: now,
        alive_until: alive(),
        fields: JSON.stringify(fields),
      });
      return Number(id);
    },
    find: (id: number) => one(db('people_import').where({ id })),
    /** Whoever else works on it waits. */
    hold: (id: number) => one(db('people_import').where({ id }).forUpdate()),
    /** The latest that members took, or are taking; what programs bring is their own. */
    async latest(limit: number): Promise<StoredImport[]> {
      const rows: Row[] = await db('people_import')
        .whereNot('state', 'draft')
        .where('is_program', false)
        .orderBy('id', 'desc')
        .limit(limit);
      return readEach(db, 'import', rows, importOf);
    },
    /** Those that somebody stopped halfway and has neither gone on with nor undone. */
    async stopped(): Promise<{ name: string }[]> {
      return db('people_import').where('state', 'stopped').orderBy('id', 'desc').limit(20).select('name');
    },
    /** Where the columns of such a file went the last time; null when none came. */
    async remembered(shape: string): Promise<readonly ColumnTarget[] | null> {
      if (!shape) return null;
      const row: { fields: unknown } | undefined = await db('people_import')
        .where({ shape })
        .whereNot('state', 'draft')
        .orderBy('id', 'desc')
        .first('fields');
      if (!row) return null;
      const kept = peopleImportFields.safeParse(readJson(row.fields));
      return kept.success ? columnTargets.parse(kept.data.columns) : null;
    },
    async addCounts(id: number, more: Partial<ImportCounts>): Promise<void> {
      const raised = countedParts.map(([part, column]) => [column, db.raw('?? + ?', [column, more[part] ?? 0])]);
      await db('people_import')
        .where({ id })
        .update({ ...Object.fromEntries(raised), alive_until: alive() });
    },
    async chooseSpelled(id: number, takesSpelled: boolean): Promise<void> {
      await db('people_import').where({ id }).update({ takes_spelled: takesSpelled });
    },
    /** It went on to this row. */
    async advance(id: number, done: { rows: number; lastRow: number; joined: number }): Promise<void> {
      await db('people_import')
        .where({ id })
        .update({
          position: db.raw('position + ?', [done.rows]),
          last_row: done.lastRow,
          joined: db.raw('greatest(0, cast(joined as signed) + ?)', [done.joined]),
          alive_until: alive(),
        });
    },
    /** @returns whether it was in one of those states */
    async setState(id: number, from: readonly ImportState[], to: ImportState): Promise<boolean> {
      const changed = await db('people_import')
        .where({ id })
        .whereIn('state', [...from])
        .update({
          state: to,
          alive_until: alive(),
          // From the first row again, up to the last that was taken in.
          ...(to === 'undoing' && { position: 0, taken_to: db.ref('last_row'), last_row: -1 }),
        });
      return changed > 0;
    },
    /** Takes over what nobody works on any more. @returns its number, or null */
    takeAbandoned(): Promise<number | null> {
      return inTransaction(db, async (tx) => {
        const [id]: number[] = await tx('people_import')
          .whereIn('state', ['running', 'undoing'])
          .whereRaw('alive_until < now(3)')
          .limit(1)
          .forUpdate()
          .skipLocked()
          .pluck('id');
        if (id === undefined) return null;
        await tx('people_import')
          .where({ id })
          .update({ alive_until: tx.raw(`now(3) + interval ${aliveSeconds} second`) });
        return id;
      });
    },
    async remove(id: number): Promise<void> {
      await db('people_import').where({ id }).delete();
    },
    /** What nobody took, and rows of what can be taken back no more, some at a time. @returns whether there may be more */
    async forget(
      { untaken, asked, taken }: { readonly untaken: Date; readonly asked: Date; readonly taken: Date },
      most: number,
    ): Promise<boolean> {
      const rows = () => db('people_import_row as r').whereRaw('r.import_id = people_import.id').select(db.raw('1'));
      // Of which no row ever came.
      await db('people_import')
        .where('state', 'draft')
        .where('started_at', '<', untaken)
        .whereNotExists(rows())
        .delete();
      const ids: number[] = await db('people_import')
        .where((or) =>
          or
            .where((draft) => draft.where('state', 'draft').where('started_at', '<', untaken))
            .orWhere((old) => old.whereIn('state', ['done', 'undone', 'stopped']).where('started_at', '<', taken))
            // What programs brought is asked for again for two days, by their keys.
            .orWhere((old) => old.where({ is_program: true, state: 'done' }).where('started_at', '<', asked)),
        )
        .whereExists(rows())
        .limit(1)
        .pluck('id');
      const [id] = ids;
      if (id === undefined) return false;
      const gone = await db('people_import_row').where({ import_id: id }).limit(most).delete();
      if (gone < most) await db('people_import').where({ id, state: 'draft' }).delete();
      return true;
    },
  };
}

const importOf = (row: Row): StoredImport => ({
  id: row.id,
  by: row.by_name,
  state: row.state,
  startedAt: row.started_at,
  fields: peopleImportFields.parse(readJson(row.fields)),
  listId: row.list_id,
  takesSpelled: Boolean(row.takes_spelled),
  counts: {
    new: row.fresh,
    changed: row.changed,
    same: row.same,
    spelled: row.spelled,
    refused: row.refused,
    twice: row.twice,
    optedOut: row.opted_out,
    bounced: row.bounced,
    landlines: row.landlines,
    guessedZones: row.guessed_zones,
    withoutConsent: row.without_consent,
  },
  position: row.position,
  lastRow: row.last_row,
  takenTo: row.taken_to,
  joined: row.joined,
});
