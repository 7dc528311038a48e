import type { Knex } from 'knex';

/** What a statement took, all its runs together. */
export interface Statement {
  readonly text: string;
  readonly bindings: readonly unknown[];
  readonly runs: number;
  readonly longestMs: number;
}

interface Seen {
  readonly __knexQueryUid: string;
  readonly sql: string;
  readonly bindings?: readonly unknown[];
}

/** Watches every statement that goes through a pool, from here on. @returns what was seen until it is called */
export function watchStatements(db: Knex): () => Statement[] {
  const begun = new Map<string, number>();
  const seen = new Map<string, Statement>();
  db.on('query', ({ __knexQueryUid }: Seen) => begun.set(__knexQueryUid, performance.now()));
  db.on('query-response', (_response: unknown, { __knexQueryUid, sql, bindings }: Seen) => {
    const ms = performance.now() - (begun.get(__knexQueryUid) ?? performance.now());
    begun.delete(__knexQueryUid);
    const before = seen.get(sql);
    const isLonger = ms > (before?.longestMs ?? -1);
    seen.set(sql, {
      text: sql,
      bindings: isLonger ? (bindings ?? []) : (before?.bindings ?? []),
      runs: (before?.runs ?? 0) + 1,
      longestMs: Math.max(ms, before?.longestMs ?? 0),
    });
  });
  return () => [...seen.values()].sort((a, b) => b.longestMs - a.longestMs);
}

/** How the database goes about a statement: each table it reads with its key and the rows it expects. */
export async function planOf(db: Knex, { text, bindings }: Statement): Promise<string> {
  if (!/^\s*select/i.test(text)) return '';
  const [rows = []]: { table: string | null; type: string; key: string | null; rows: number }[][] = await db.raw(
    `explain ${text}`,
    [...bindings].map((one) =>
      typeof one === 'string' || typeof one === 'number' || one instanceof Date ? one : null,
    ),
  );
  return rows.map(({ table, type, key, rows: n }) => `${table} ${type} ${key ?? 'no key'} ${n}`).join('; ');
}

/** Rows that the database read so far, for whomever: meaningful while nobody else asks it anything. */
export async function rowsRead(db: Knex): Promise<number> {
  const [rows = []]: { Value: string }[][] = await db.raw(`show global status like 'Handler_read%'`);
  return rows.reduce((sum, { Value }) => sum + Number(Value), 0);
}
