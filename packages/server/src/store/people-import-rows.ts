import type { Knex } from 'knex';
import * as z from 'zod';
import { personChangeRow, problem, type LocatedProblem, type RowKind } from '@convite/contract';
import { zoneSources, type BroughtPerson, type PersonChange } from '@convite/core';
import { readJson } from './database';

/** A row of a file as it was looked at. */
export interface StagedRow {
  readonly number: number;
  readonly kind: RowKind;
  /** The address, or the number of who has none; empty for what was refused. */
  readonly knownBy: string;
  readonly personId: number | null;
  readonly person: BroughtPerson | null;
  readonly changes: readonly PersonChange[];
  readonly problems: readonly LocatedProblem[];
  /** As they stood, of rows that are not taken. */
  readonly cells: readonly string[];
}

interface Row {
  number: number;
  kind: RowKind;
  known_by: string;
  subscriber_id: number | null;
  person: unknown;
  changes: unknown;
  problems: unknown;
  cells: unknown;
}

const brought = z.object({
  email: z.string().nullable(),
  name: z.string(),
  mobile: z.string(),
  phone: z.string(),
  zone: z.string(),
  zoneFrom: z.enum(zoneSources),
  language: z.string(),
  emailConsent: z.boolean().nullable(),
  textConsent: z.boolean().nullable(),
  lists: z.array(z.string()),
  topics: z.array(z.string()),
  fields: z.record(z.string(), z.string()),
}) satisfies z.ZodType<BroughtPerson>;
const changeRows = z.array(personChangeRow);
const problems = z.array(problem);
const texts = z.array(z.string());

/** Rows of files, from when they are handed in until they can be taken back no more. */
export function peopleImportRowStore(db: Knex) {
  const columns = ['number', 'kind', 'known_by', 'subscriber_id', 'person', 'changes', 'problems', 'cells'] as const;
  const ofImport = (importId: number) => db('people_import_row').where({ import_id: importId });
  /** By its own key, from a row on: left to itself, the database reads an import from its beginning each time. */
  const along = (importId: number, index = 'primary') =>
    db(db.raw('people_import_row force index (??)', [index])).where({ import_id: importId });
  return {
    /** Rows that stand there already are left: handing in twice is handing in once. @returns the numbers of those that are new */
    async absentAmong(importId: number, numbers: readonly number[]): Promise<ReadonlySet<number>> {
      // Rows come in parcels of numbers one after the other.
      const there: number[] = await along(importId)
        .whereBetween('number', [Math.min(...numbers), Math.max(...numbers)])
        .pluck('number');
      const known = new Set(there);
      return new Set(numbers.filter((number) => !known.has(number)));
    },
    async add(importId: number, rows: readonly StagedRow[]): Promise<void> {
      if (rows.length === 0) return;
      await db('people_import_row').insert(
        rows.map((row) => ({
          import_id: importId,
          number: row.number,
          kind: row.kind,
          known_by: row.knownBy,
          subscriber_id: row.personId,
          person: row.person && JSON.stringify(row.person),
          changes: row.changes.length ? JSON.stringify(row.changes) : null,
          problems: row.problems.length ? JSON.stringify(row.problems) : null,
          cells: row.cells.length ? JSON.stringify(row.cells) : null,
        })),
      );
    },
    /** Of some addresses and numbers, those that another row of the file has already. */
    async takenAmong(importId: number, keys: readonly string[]): Promise<ReadonlySet<string>> {
      const found: string[] = await ofImport(importId)
        .whereIn('known_by', [...keys])
        // An address that was refused is nobody yet.
        .whereNot('kind', 'refused')
        .pluck('known_by');
      return new Set(found);
    },
    async page(importId: number, kind: RowKind | undefined, after: number, limit: number): Promise<StagedRow[]> {
      const rows: Row[] = await along(importId, kind && 'people_import_row_import_id_kind_number_index')
        .modify((query) => void (kind && query.where({ kind })))
        .where('number', '>', after)
        .orderBy('number')
        .limit(limit)
        .select(...columns);
      return rows.map(rowOf);
    },
    /** The next rows that somebody is to be made of, or who is known by them. */
    async next(importId: number, after: number, limit: number): Promise<StagedRow[]> {
      const rows: Row[] = await along(importId)
        .where('number', '>', after)
        .whereIn('kind', ['new', 'changed', 'same', 'spelled'])
        .orderBy('number')
        .limit(limit)
        .select(...columns);
      return rows.map(rowOf);
    },
    /** What became of rows otherwise than was foreseen. */
    async turnedOut(
      importId: number,
      rows: readonly Pick<StagedRow, 'number' | 'kind' | 'personId' | 'changes'>[],
    ): Promise<void> {
      if (rows.length === 0) return;
      await db('people_import_row')
        .insert(
          rows.map(({ number, kind, personId, changes }) => ({
            import_id: importId,
            number,
            kind,
            subscriber_id: personId,
            changes: changes.length ? JSON.stringify(changes) : null,
          })),
        )
        .onConflict(['import_id', 'number'])
        .merge(['kind', 'subscriber_id', 'changes']);
    },
    /** What stands in them of somebody who is erased, or of an address or number of theirs. */
    async forgetPerson(id: number, keys: readonly string[]): Promise<void> {
      const blank = {
        kind: 'refused',
        known_by: '',
        person: null,
        changes: null,
        problems: null,
        cells: null,
      } as const;
      await db('people_import_row')
        .where({ subscriber_id: id })
        .update({ ...blank, subscriber_id: null });
      if (keys.length)
        await db('people_import_row')
          .whereIn('known_by', [...keys])
          .update(blank);
    },
  };
}

const rowOf = (row: Row): StagedRow => ({
  number: row.number,
  kind: row.kind,
  knownBy: row.known_by,
  personId: row.subscriber_id,
  person: row.person === null ? null : brought.parse(readJson(row.person)),
  changes: row.changes === null ? [] : changeRows.parse(readJson(row.changes)),
  problems: row.problems === null ? [] : problems.parse(readJson(row.problems)),
  cells: row.cells === null ? [] : texts.parse(readJson(row.cells)),
});
