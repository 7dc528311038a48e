import type { Knex } from 'knex';
import { manyFirings, type StoredFiring } from './firing-rows';

/** An automatic message of another event that goes about the same time, to people asked for by the same list or segment. */
export interface CloseFiring {
  readonly id: number;
  /** The firing that it is close to. */
  readonly toId: number;
  readonly dueMs: number;
  readonly cueName: string;
}

/** What else is on the way about the moment of a firing, or of an event: a few rows by the index of states and moments. */
export function closeFirings(db: Knex) {
  return {
    /** One for each of some firings of an event, so many milliseconds before or after it at the most. */
    async closeTo(
      eventId: number,
      firings: readonly { readonly id: number; readonly cueId: number | null; readonly dueMs: number }[],
      apartMs: number,
    ): Promise<CloseFiring[]> {
      if (firings.length === 0) return [];
      const one = `(select ? as to_id, f.id, f.due_at, c.name from firing f join cue c on c.id = f.cue_id
        where f.state in ('draft', 'set') and f.due_at > ? and f.due_at < ? and f.event_id <> ? and f.channel <> 'act'
          and (exists (select 1 from cue_list mine join cue_list theirs using (list_id)
                       where mine.cue_id = ? and theirs.cue_id = f.cue_id)
            or exists (select 1 from cue_segment mine join cue_segment theirs using (segment_id)
                       where mine.cue_id = ? and theirs.cue_id = f.cue_id))
        limit 1)`;
      const [rows = []]: CloseRow[][] = await db.raw(
        firings.map(() => one).join(' union all '),
        firings.flatMap(({ id, cueId, dueMs }) => [
          id,
          new Date(dueMs - apartMs),
          new Date(dueMs + apartMs),
          eventId,
          cueId ?? 0,
          cueId ?? 0,
        ]),
      );
      return rows.map((row) => ({
        id: row.id,
        toId: Number(row.to_id),
        dueMs: new Date(row.due_at).getTime(),
        cueName: row.name,
      }));
    },
    /** What others send within a span, soonest first. */
    async ofOthers(eventId: number, fromMs: number, toMs: number, limit: number): Promise<StoredFiring[]> {
      const parts = await Promise.all(
        ['draft', 'set'].map((state) =>
          manyFirings(
            db('firing')
              .where({ state })
              .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
              .whereRaw('not (event_id <=> ?)', [eventId])
              .orderBy('due_at')
              .limit(limit),
          ),
        ),
      );
      return parts
        .flat()
        .sort((a, b) => a.dueMs - b.dueMs || a.id - b.id)
        .slice(0, limit);
    },
  };
}

interface CloseRow {
  to_id: number;
  id: number;
  due_at: Date;
  name: string;
}
