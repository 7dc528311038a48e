import type { AuditPage, AuditQuery } from '@convite/contract';
import { addDays, resolveWallTime } from '@convite/core';
import type { TextRows } from '../../files/table-file';
import type { AuditSearch } from '../../store/audit';
import { nowOf, type Actor, type Context } from '../context';

const pageSize = 100;
const exportSize = 1000;

/** A page of what was done, the newest first. */
export async function readAudit(context: Context, query: AuditQuery): Promise<AuditPage> {
  const rows = await context.store.house.auditRows(await searchOf(context, query), pageSize + 1);
  const page = rows.slice(0, pageSize);
  return { rows: page, next: rows.length > pageSize ? (page.at(-1)?.id ?? null) : null };
}

export const auditHeading = ['at', 'by', 'action', 'what', 'address'];

/** All of it as rows of text, piece by piece. */
export async function exportAudit(context: Context, query: AuditQuery, actor: Actor): Promise<TextRows> {
  const { store } = context;
  const search = await searchOf(context, query);
  await store.house.audit(nowOf(context), actor, 'export: audit log', query.kind ?? 'everything');
  async function* pages() {
    let { before } = search;
    for (;;) {
      const rows = await store.house.auditRows({ ...search, before }, exportSize);
      if (rows.length === 0) return;
      yield rows.map(({ at, by, action, what, address }) => [at, by, action, what, address]);
      before = rows.at(-1)?.id;
    }
  }
  return pages();
}

/** Days are those of the house. */
async function searchOf({ store }: Context, { kind, member, from, to, before }: AuditQuery): Promise<AuditSearch> {
  const { zone } = await store.house.settings();
  const midnight = (day: string): Date => new Date(resolveWallTime(`${day}T00:00`, zone));
  return {
    kind,
    memberId: member,
    from: from === undefined ? null : midnight(from),
    to: to === undefined ? null : midnight(addDays(to, 1)),
    before,
  };
}
