import { signal, type Signal } from '@angular/core';
import type { Column } from './column';

/** Which columns somebody chose for a table, kept in this browser. */
export interface KeptColumns {
  readonly shown: Signal<ReadonlySet<string>>;
  toggle(key: string): void;
}

/**
 * What is kept is what somebody turned over, not what is shown: a column that comes later, such as who came, is there as if
 * nobody had chosen anything.
 * @param name of the table; empty to keep nothing
 */
export function keptColumns(name: string, columns: readonly Column[]): KeptColumns {
  const key = `convite.columns.${name}`;
  let turned = new Set(name ? read(key) : []);
  const shownNow = (): ReadonlySet<string> =>
    new Set(columns.filter((column) => Boolean(column.isExtra) === turned.has(column.key)).map((column) => column.key));
  const shown = signal(shownNow());
  return {
    shown: shown.asReadonly(),
    toggle(column) {
      turned = new Set(turned);
      if (!turned.delete(column)) turned.add(column);
      shown.set(shownNow());
      if (name) write(key, [...turned]);
    },
  };
}

/** Storage may be closed to us, and may hold anything. */
function read(key: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
    return Array.isArray(kept) ? kept.map(String) : [];
  } catch {
    return [];
  }
}

function write(key: string, turned: readonly string[]): void {
  try {
    localStorage.setItem(key, JSON.stringify(turned));
  } catch {
    // It is shown as chosen all the same, until the page is left.
  }
}
