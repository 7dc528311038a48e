import Papa from 'papaparse';
import type { AuditPage, AuditQuery } from '@convite/contract';
import { addDays, resolveWallTime } from '@convite/core';
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

/** All of it as CSV (RFC 4180), piece by piece; what a spreadsheet would take for a formula is made text. */
export async function* exportAudit(context: Context, query: AuditQuery, actor: Actor): AsyncGenerator<string> {
  const { store } = context;
  const search = await searchOf(context, query);
  await store.house.audit(nowOf(context), actor, 'export: audit log', query.kind ?? 'everything');
  yield `\uFEFF${['at', 'by', 'action', 'what', 'address'].join(',')}\r\n`;
  let { before } = search;
  for (;;) {
    const rows = await store.house.auditRows({ ...search, before }, exportSize);
    if (rows.length === 0) return;
    const lines = rows.map(({ at, by, action, what, address }) => [at, by, action, what, address]);
    yield `${Papa.unparse(lines, { escapeFormulae: true, newline: '\r\n' })}\r\n`;
    before = rows.at(-1)?.id;
  }
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
