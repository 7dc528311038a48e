import type { NewsKind, Tells } from '@convite/contract';
import { newsKinds } from '@convite/contract';
import type { Knex } from 'knex';

/** Something that somebody did about an event. */
export interface NewsItem {
  readonly kind: NewsKind;
  readonly eventId: number;
  readonly subscriberId: number;
  readonly occurrence: string;
  /** As they wrote it; empty for none. */
  readonly comment: string;
}
export interface StoredNews extends NewsItem {
  readonly atMs: number;
  /** Of who did it. */
  readonly name: string;
  readonly email: string;
}
/** A member who is told something. */
export interface ToldMember {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly tells: Tells;
  /** Told up to this one. */
  readonly seen: number;
}
interface Row {
  id: number;
  name: string;
  email: string;
  news_kinds: string;
  summary_at: string;
  told_zone: string;
  news_seen: number;
}

const columns = ['id', 'name', 'email', 'news_kinds', 'summary_at', 'told_zone', 'news_seen'] as const;
const tellsOf = (row: Pick<Row, 'news_kinds' | 'summary_at' | 'told_zone'>): Tells => ({
  kinds: newsKinds.filter((kind) => row.news_kinds.split(',').includes(kind)),
  summaryAt: row.summary_at || null,
  zone: row.told_zone,
});
const memberOf = (row: Row): ToldMember => ({
  id: row.id,
  name: row.name,
  email: row.email,
  tells: tellsOf(row),
  seen: row.news_seen,
});

/** What members are told of: kept until they were, and for no longer than a few days. */
export function newsStore(db: Knex) {
  return {
    async tellsOf(memberId: number): Promise<Tells> {
      const row: Row | undefined = await db('user')
        .where({ id: memberId })
        .first(...columns);
      return row ? tellsOf(row) : { kinds: [], summaryAt: null, zone: '' };
    },
    /** What happened before is no news to who asks for it only now. @param nextMs of the summary; null for none */
    async setTells(memberId: number, { kinds, summaryAt, zone }: Tells, nextMs: number | null): Promise<void> {
      const [last] = await db('news').max({ id: 'id' });
      await db('user')
        .where({ id: memberId })
        .update({
          news_seen: db.raw('if(news_kinds = ?, news_seen, ?)', [kinds.join(','), Number(last?.['id'] ?? 0)]),
          news_kinds: kinds.join(','),
          summary_at: summaryAt ?? '',
          told_zone: zone,
          summary_next: nextMs === null ? null : new Date(nextMs),
        });
    },
    /** Written down only where somebody listens. */
    async note({ kind, eventId, subscriberId, occurrence, comment }: NewsItem, at: Date): Promise<void> {
      await db.raw(
        `insert into news (kind, event_id, subscriber_id, occurrence, comment, at)
         select ?, ?, ?, ?, ?, ? from dual where exists (select 1 from user where find_in_set(?, news_kinds))`,
        [kind, eventId, subscriberId, occurrence, comment.slice(0, 500), at, kind],
      );
    },
    /** The next member for whom there is something, and who was not told of anything for so long. To be called in a transaction. */
    async takeListener(nowMs: number, apartMs: number): Promise<ToldMember | null> {
      const row: Row | undefined = await db('user as u')
        .whereNot('u.news_kinds', '')
        .where((or) => or.whereNull('u.told_at').orWhere('u.told_at', '<=', new Date(nowMs - apartMs)))
        // Kind by kind, so that what they do not listen to is not read.
        .where((or) => {
          for (const kind of newsKinds)
            void or.orWhereRaw(
              'find_in_set(?, u.news_kinds) and exists (select 1 from news n where n.kind = ? and n.id > u.news_seen)',
              [kind, kind],
            );
        })
        .forUpdate()
        .skipLocked()
        .first(...columns.map((name) => `u.${name}`));
      return row ? memberOf(row) : null;
    },
    /** What there is for a member, oldest first; so many at the most, and how many there are. */
    async forMember(
      { seen, tells }: ToldMember,
      most: number,
    ): Promise<{ rows: StoredNews[]; count: number; lastId: number }> {
      const theirs = (): Knex.QueryBuilder =>
        db('news as n')
          .where('n.id', '>', seen)
          .whereIn('n.kind', [...tells.kinds]);
      const rows: (Omit<StoredNews, 'atMs'> & { at: Date })[] = await theirs()
        .join('subscriber as s', 's.id', 'n.subscriber_id')
        .orderBy('n.id')
        .limit(most)
        .select(
          'n.kind',
          { eventId: 'n.event_id', subscriberId: 'n.subscriber_id' },
          'n.occurrence',
          'n.comment',
          'n.at',
        )
        .select('s.name', db.raw("coalesce(s.email, '') as email"));
      const [sums = []]: { n: number; last: number | null }[][] = [
        await theirs().select(db.raw('count(*) as n, max(n.id) as last')),
      ];
      const { n = 0, last = null } = sums[0] ?? {};
      return {
        rows: rows.map(({ at, ...row }) => ({ ...row, atMs: at.getTime() })),
        count: n,
        lastId: last ?? seen,
      };
    },
    async setSeen(memberId: number, seen: number, toldAtMs: number): Promise<void> {
      await db('user')
        .where({ id: memberId })
        .update({ news_seen: seen, told_at: new Date(toldAtMs) });
    },
    /** The next member whose summary is due. To be called in a transaction. */
    async takeSummary(nowMs: number): Promise<ToldMember | null> {
      const row: Row | undefined = await db('user')
        .where('summary_next', '<=', new Date(nowMs))
        .forUpdate()
        .skipLocked()
        .first(...columns);
      return row ? memberOf(row) : null;
    },
    async setNextSummary(memberId: number, nextMs: number): Promise<void> {
      await db('user')
        .where({ id: memberId })
        .update({ summary_next: new Date(nextMs) });
    },
    /** The clock was put back: nobody was told anything later than now. */
    async forgetLater(nowMs: number): Promise<void> {
      const now = new Date(nowMs);
      await db('user').where('told_at', '>', now).update({ told_at: null });
      await db('user').where('summary_next', '>', now).update({ summary_next: now });
    },
    forget: (before: Date): Promise<number> => db('news').where('at', '<', before).limit(5000).delete(),
  };
}
