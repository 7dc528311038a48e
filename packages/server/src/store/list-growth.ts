import type { Knex } from 'knex';

/** How many came to a list, went from it, and began to bounce, on one day. */
export interface GrowthOfDay {
  /** In UTC, `2026-11-27`. */
  readonly day: string;
  readonly came: number;
  readonly went: number;
  readonly bounced: number;
}

const dayOf = (at: Date): string => at.toISOString().slice(0, 10);

/** How lists grew, a row a day: kept with each change of them, so that nobody counts members by their days. */
export function listGrowthStore(db: Knex) {
  return {
    async note(listIds: readonly number[], at: Date, what: 'came' | 'went' | 'bounced', count: number): Promise<void> {
      if (listIds.length === 0 || count <= 0) return;
      await db.raw(
        `insert into list_growth (list_id, day, ??) values ${listIds.map(() => '(?, ?, ?)').join(', ')}
         on duplicate key update ?? = ?? + values(??)`,
        [what, ...listIds.flatMap((id) => [id, dayOf(at), count]), what, what, what],
      );
    },
    async since(listId: number, from: Date): Promise<GrowthOfDay[]> {
      return db('list_growth')
        .where({ list_id: listId })
        .where('day', '>=', dayOf(from))
        .orderBy('day')
        .select(db.raw(`date_format(day, '%Y-%m-%d') as day`), 'came', 'went', 'bounced');
    },
  };
}
