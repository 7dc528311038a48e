import type { Knex } from 'knex';
import { wordingDocument } from '@convite/contract';
import { allBlocks, houseBlocksIn, type WordingDocument } from '@convite/core';
import { readJson } from './database';

/** What a wording belongs to. */
type WordingKind = 'cue' | 'digest' | 'kept';

/** A version of a wording, as cues and digests refer to it. */
export interface WordingRef {
  readonly wording_id: number;
  readonly wording_version: number;
}

/** Which pictures a version shows, and which blocks of the house it says. */
async function noteUses(db: Knex, ref: WordingRef, document: WordingDocument): Promise<void> {
  const digests = new Set(allBlocks(document).flatMap((block) => (block.kind === 'picture' ? [block.digest] : [])));
  const keys = houseBlocksIn(document);
  if (digests.size)
    await db('picture_use')
      .insert([...digests].map((digest) => ({ digest, ...ref })))
      .onConflict()
      .ignore();
  if (keys.length)
    await db('block_use')
      .insert(keys.map((block_key) => ({ block_key, ...ref })))
      .onConflict()
      .ignore();
}

/** What says something as it stands now, so many of each kind. */
export interface WordingUses {
  readonly cues: readonly { readonly id: number; readonly name: string; readonly eventId: number }[];
  readonly digests: readonly { readonly id: number; readonly name: string }[];
  readonly wordings: readonly { readonly key: string; readonly name: string }[];
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

/** What shows a picture, or says a block of the house, as it says now. Reads what is named, from the index. */
export async function usesOf(
  db: Knex,
  table: 'picture_use' | 'block_use',
  what: Readonly<Record<string, string>>,
  most: number,
): Promise<WordingUses> {
  const of = (saying: 'cue' | 'digest' | 'kept_wording'): Knex.QueryBuilder =>
    db(`${table} as u`)
      .join(`${saying} as t`, (on) =>
        on.on('t.wording_id', 'u.wording_id').andOn('t.wording_version', 'u.wording_version'),
      )
      .where(Object.fromEntries(Object.entries(what).map(([column, value]) => [`u.${column}`, value])))
      .orderBy('u.wording_id', 'desc')
      .limit(most);
  const [cues, digests, wordings]: [
    { id: number; name: string; eventId: number }[],
    { id: number; name: string }[],
    { key: string; name: string }[],
  ] = await Promise.all([
    of('cue').where('t.is_retired', false).select('t.id', 't.name', { eventId: 't.event_id' }),
    of('digest').select('t.id', { name: db.raw("json_value(t.fields, '$.name')") }),
    of('kept_wording').select({ key: 't.wording_key' }, 't.name'),
  ]);
  return { cues, digests, wordings };
}
