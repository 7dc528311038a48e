import { createHash } from 'node:crypto';
import type { Knex } from 'knex';

export interface HousePicture {
  readonly type: string;
  readonly octets: Buffer;
}

/** The one picture of the house. */
export function housePictureStore(db: Knex) {
  return {
    /** Names the picture as it is now; empty where there is none. */
    async digest(): Promise<string> {
      const row: { digest: string } | undefined = await db('house_picture').where({ id: 1 }).first('digest');
      return row?.digest ?? '';
    },
    async find(digest: string): Promise<HousePicture | null> {
      const row: HousePicture | undefined = await db('house_picture').where({ id: 1, digest }).first('type', 'octets');
      return row ?? null;
    },
    async set({ type, octets }: HousePicture): Promise<void> {
      const digest = createHash('sha256').update(octets).digest('hex').slice(0, 16);
      await db('house_picture').insert({ id: 1, type, digest, octets }).onConflict('id').merge();
    },
    async remove(): Promise<void> {
      await db('house_picture').where({ id: 1 }).delete();
    },
  };
}
