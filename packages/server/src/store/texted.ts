import type { Knex } from 'knex';

/** Whose phone a number is, as far as it is known, and what was texted to it last. */
export interface Texted {
  readonly personId: number;
  /** Of the last text that went; null where none is remembered. */
  readonly firingId: number | null;
}

/** More persons than this do not share a phone. */
const mostSharing = 20;

export function textedStore(db: Knex) {
  return {
    /** Who was texted last of those whose number it is; else the first of them. Null for a number of nobody. */
    async lastAt(mobile: string): Promise<Texted | null> {
      const ids: number[] = await db('subscriber')
        .where({ mobile })
        .whereNull('same_as_id')
        .orderBy('id')
        .limit(mostSharing)
        .pluck('id');
      const [first] = ids;
      if (first === undefined) return null;
      const last: { subscriber_id: number; firing_id: number } | undefined = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        .whereIn('d.subscriber_id', ids)
        .where('d.channel', 'text')
        .whereIn('d.state', ['sending', 'sent', 'delivered'])
        // That texts were ended, or what HELP says, is nothing that anybody answers.
        .whereNot((none) => void none.where('f.kind', 'answer').whereNull('f.event_id'))
        .orderBy('d.id', 'desc')
        .first('d.subscriber_id', 'd.firing_id');
      return { personId: last?.subscriber_id ?? first, firingId: last?.firing_id ?? null };
    },
  };
}
