import type { Knex } from 'knex';
import * as z from 'zod';
import { troubleStore, type FaultKind } from './troubles';

/** The same fault is written down again after this time at the earliest, in one process. */
const tellEveryMs = 30_000;
const toldAt = new WeakMap<Knex, Map<string, number>>();
const mostRemembered = 1000;

/** A row whose JSON is not what it should be. Thrown where one row is asked for; where many are, it is left out. */
export class UnreadableRow extends Error {
  constructor(
    readonly kind: FaultKind,
    readonly id: number,
    cause: unknown,
  ) {
    super(`${kind} ${id} cannot be read: ${reasonOf(cause)}`, { cause });
  }
}

/** Reads rows one by one: one that cannot be read is told as a fault, and keeps nobody else from being read. */
export function readEach<R extends { id: number }, T>(
  db: Knex,
  kind: FaultKind,
  rows: readonly R[],
  read: (row: R) => T,
): T[] {
  return rows.flatMap((row) => {
    try {
      return [read(row)];
    } catch (error) {
      tell(db, kind, row.id, reasonOf(error));
      return [];
    }
  });
}

/** @throws UnreadableRow */
export function readOne<R extends { id: number }, T>(db: Knex, kind: FaultKind, row: R, read: (row: R) => T): T {
  try {
    return read(row);
  } catch (error) {
    tell(db, kind, row.id, reasonOf(error));
    throw new UnreadableRow(kind, row.id, error);
  }
}

function tell(db: Knex, kind: FaultKind, id: number, text: string): void {
  // What is found inside a transaction is told by whoever the transaction fails for.
  if (db.isTransaction) return;
  const key = `${kind} ${id}`;
  const nowMs = performance.now();
  const told = toldAt.get(db) ?? new Map<string, number>();
  toldAt.set(db, told);
  if (nowMs - (told.get(key) ?? -Infinity) < tellEveryMs) return;
  if (told.size >= mostRemembered) told.clear();
  told.set(key, nowMs);
  // Whoever reads goes on meanwhile; if it cannot be written now, the next reading tells it.
  troubleStore(db)
    .tellFault(kind, id, text)
    .catch(() => told.delete(key));
}

/** The place and the complaint, in a line. */
function reasonOf(error: unknown): string {
  if (error instanceof z.ZodError) {
    const [issue] = error.issues;
    return issue ? `${issue.path.join('.') || 'all of it'}: ${issue.message}` : 'unreadable';
  }
  return error instanceof Error ? error.message : String(error);
}
