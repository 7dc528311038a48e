import type { Knex } from 'knex';
import { wordingDocument } from '@convite/contract';
import type { WordingDocument } from '@convite/core';
import { readJson } from './database';

/** A version of a wording, as cues and digests refer to it. */
export interface WordingRef {
  readonly wording_id: number;
  readonly wording_version: number;
}

/** Documents of what messages say. Versions are added and never changed: what went out can be read as it was. */
export function wordingStore(db: Knex) {
  return {
    async create(kind: 'cue' | 'digest', document: WordingDocument): Promise<WordingRef> {
      const [id] = await db('wording').insert({
        version: 1,
        kind,
        document: JSON.stringify(document),
        created_at: db.fn.now(3),
      });
      return { wording_id: Number(id), wording_version: 1 };
    },
    /** Adds a version where something differs. @returns the newest */
    async save(ref: WordingRef, kind: 'cue' | 'digest', document: WordingDocument): Promise<WordingRef> {
      const { wording_id, wording_version } = ref;
      const row: { document: unknown } | undefined = await db('wording')
        .where({ id: wording_id, version: wording_version })
        .first('document');
      if (row && JSON.stringify(documentOf(row.document)) === JSON.stringify(document)) return ref;
      const version = wording_version + 1;
      await db('wording').insert({
        id: wording_id,
        version,
        kind,
        document: JSON.stringify(document),
        created_at: db.fn.now(3),
      });
      return { wording_id, wording_version: version };
    },
  };
}

/** Reads what stands in the column. @throws for one that is no document */
export const documentOf = (stored: unknown): WordingDocument => wordingDocument.parse(readJson(stored));

/** Joins what a cue or a digest says now, as `document`. */
export const withWording = (query: Knex.QueryBuilder, table: 'cue' | 'digest'): Knex.QueryBuilder =>
  query
    .leftJoin('wording as w', (on) =>
      on.on('w.id', `${table}.wording_id`).andOn('w.version', `${table}.wording_version`),
    )
    .select(`${table}.*`, 'w.document');
