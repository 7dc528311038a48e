import type { Knex } from 'knex';
import type { AuditRow } from '@convite/contract';

/** Who did it: a member, somebody else by a word ("person 12", "mail server"), and from where. */
export interface AuditedBy {
  readonly name: string;
  readonly memberId?: number | null | undefined;
  readonly address?: string | undefined;
}

/** What rows are looked for by; each is an index's matter. */
export interface AuditSearch {
  readonly kind: string | undefined;
  readonly memberId: number | undefined;
  /** From this instant, and before that one. */
  readonly from: Date | null;
  readonly to: Date | null;
  /** Older than this row. */
  readonly before: number | undefined;
}

interface Row {
  id: number;
  at: Date;
  by_name: string;
  action: string;
  what: string;
  address: string;
}

/** The log of what was done, by whom, from where. Its kind is the word before the colon. */
export function auditStore(db: Knex) {
  /** Rows are numbered as time goes: the first one at or after an instant, by one look at an index. */
  const firstSince = async (at: Date): Promise<number> => {
    const row: { id: number } | undefined = await db('audit').where('at', '>=', at).orderBy('at').first('id');
    return row?.id ?? Number.MAX_SAFE_INTEGER;
  };
  return {
    async audit(at: Date, by: AuditedBy | string, action: string, what: string): Promise<void> {
      const { name, memberId = null, address = '' } = typeof by === 'string' ? { name: by } : by;
      await db('audit').insert({
        at,
        by_name: name.slice(0, 120),
        member_id: memberId,
        address: address.slice(0, 45),
        kind: action.split(':', 1)[0]?.slice(0, 20) ?? '',
        action,
        what: what.slice(0, 500),
      });
    },
    /** Did this member sign in from that address lately? Looks at the last few hundred things they did. */
    async hasSignedInFrom(memberId: number, address: string): Promise<boolean> {
      const lately = db('audit')
        .where({ member_id: memberId })
        .orderBy('id', 'desc')
        .limit(500)
        .select('action', 'address')
        .as('lately');
      return Boolean(await db.from(lately).where({ action: 'sign-in: in', address }).first('action'));
    },
    async auditRows({ kind, memberId, from, to, before }: AuditSearch, limit: number): Promise<AuditRow[]> {
      const fromId = from && (await firstSince(from));
      const toId = to && (await firstSince(to));
      const rows: Row[] = await db('audit')
        .modify((query) => {
          if (kind !== undefined) void query.where({ kind });
          if (memberId !== undefined) void query.where({ member_id: memberId });
          if (fromId !== null) void query.where('id', '>=', fromId);
          if (toId !== null) void query.where('id', '<', toId);
          if (before !== undefined) void query.where('id', '<', before);
        })
        .orderBy('id', 'desc')
        .limit(limit)
        .select('id', 'at', 'by_name', 'action', 'what', 'address');
      return rows.map((row) => ({
        id: row.id,
        at: row.at.toISOString(),
        by: row.by_name,
        action: row.action,
        what: row.what,
        address: row.address,
      }));
    },
  };
}
