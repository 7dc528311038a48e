import type { Knex } from 'knex';
import { wordingDocument } from '@convite/contract';
import type { WordingDocument } from '@convite/core';
import { readJson } from './database';

/** What a wording belongs to. */
type WordingKind = 'cue' | 'digest' | 'kept';

/** A version of a wording, as cues and digests refer to it. */
export interface WordingRef {
  readonly wording_id: number;
  readonly wording_version: number;
}

/** Which pictures a version shows. */
async function noteUses(
  db: Knex,
  { wording_id, wording_version }: WordingRef,
  { blocks }: WordingDocument,
): Promise<void> {
  const digests = new Set(blocks.flatMap((block) => (block.kind === 'picture' ? [block.digest] : [])));
  if (digests.size === 0) return;
  const rows = [...digests].map((digest) => ({ digest, wording_id, wording_version }));
  await db('picture_use').insert(rows).onConflict().ignore();
}

/** Documents of what messages say. Versions are added and never changed: what went out can be read as it was. */
export function wordingStore(db: Knex) {
  return {
    async create(kind: WordingKind, document: WordingDocument, by = ''): Promise<WordingRef> {
      const [id] = await db('wording').insert({
        version: 1,
        kind,
        document: JSON.stringify(document),
        by_name: by,
        created_at: db.fn.now(3),
      });
      const ref = { wording_id: Number(id), wording_version: 1 };
      await noteUses(db, ref, document);
      return ref;
    },
    /** Adds a version where something differs. @returns the newest */
    async save(ref: WordingRef, kind: WordingKind, document: WordingDocument, by = ''): Promise<WordingRef> {
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
        by_name: by,
        created_at: db.fn.now(3),
      });
      const next = { wording_id, wording_version: version };
      await noteUses(db, next, document);
      return next;
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
