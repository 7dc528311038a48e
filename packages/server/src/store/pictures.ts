import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { usesOf, type WordingUses } from './wordings';

/** A picture as it is served. */
export interface Picture {
  readonly type: string;
  readonly octets: Buffer;
}
export interface StoredPicture {
  readonly id: number;
  readonly digest: string;
  readonly name: string;
  readonly words: string;
  readonly width: number;
  readonly height: number;
  readonly octets: number;
  readonly isArchived: boolean;
  readonly addedAt: Date;
  readonly addedBy: string;
}

interface PictureDbRow extends Omit<StoredPicture, 'isArchived' | 'addedAt' | 'addedBy'> {
  readonly is_archived: number;
  readonly added_at: Date;
  readonly added_by: string;
}

const columns = ['id', 'digest', 'name', 'words', 'width', 'height', 'octets', 'is_archived', 'added_at', 'added_by'];

/** Pictures of the house. None is ever dropped: a mail that went out shows it for as long as somebody keeps that mail. */
export function pictureStore(db: Knex) {
  return {
    /** The newest first. @param before rows older than this one; null for the first page */
    async page(isArchived: boolean, before: number | null, most: number): Promise<StoredPicture[]> {
      const rows: PictureDbRow[] = await db('picture')
        .where({ is_archived: isArchived })
        .modify((query) => {
          if (before !== null) void query.where('id', '<', before);
        })
        .orderBy('id', 'desc')
        .limit(most)
        .select(columns);
      return rows.map(pictureOf);
    },
    async find(digest: string): Promise<StoredPicture | null> {
      const row: PictureDbRow | undefined = await db('picture').where({ digest }).first(columns);
      return row ? pictureOf(row) : null;
    },
    async count(): Promise<number> {
      return Number((await db('picture').count({ count: '*' }).first())?.['count'] ?? 0);
    },
    async octets(digest: string): Promise<Picture | null> {
      const row: Picture | undefined = await db('picture_octets as o')
        .join('picture as p', 'p.digest', 'o.digest')
        .where('o.digest', digest)
        .first('p.type', 'o.octets');
      return row ?? null;
    },
    /** Keeps it once, whoever brings it again; one that was archived is taken up again. @returns its digest */
    async add(
      { type, octets }: Picture,
      about: Pick<StoredPicture, 'name' | 'words' | 'width' | 'height' | 'addedAt' | 'addedBy'>,
    ): Promise<string> {
      const digest = createHash('sha256').update(octets).digest('hex').slice(0, 40);
      const { addedAt, addedBy, ...rest } = about;
      await db('picture_octets').insert({ digest, octets }).onConflict().ignore();
      await db('picture')
        .insert({ digest, type, octets: octets.length, ...rest, added_at: addedAt, added_by: addedBy })
        .onConflict()
        .merge({ is_archived: false });
      return digest;
    },
    async change(digest: string, { words, isArchived }: { words: string; isArchived: boolean }): Promise<boolean> {
      return (await db('picture').where({ digest }).update({ words, is_archived: isArchived })) > 0;
    },
    /** What shows it as it says now, so many of each kind. */
    uses: (digest: string, most: number): Promise<WordingUses> => usesOf(db, 'picture_use', { digest }, most),
  };
}

const pictureOf = ({ is_archived, added_at, added_by, ...row }: PictureDbRow): StoredPicture => ({
  ...row,
  isArchived: Boolean(is_archived),
  addedAt: added_at,
  addedBy: added_by,
});
