import { signal, type Signal } from '@angular/core';
import type { Column } from './column';

/** Which columns somebody chose for a table, kept in this browser. */
export interface KeptColumns {
  readonly shown: Signal<ReadonlySet<string>>;
  toggle(key: string): void;
}

/** @param name of the table; empty to keep nothing */
export function keptColumns(name: string, columns: readonly Column[]): KeptColumns {
  const key = `convite.columns.${name}`;
  const all = columns.filter(({ isExtra }) => !isExtra).map((one) => one.key);
  const shown = signal<ReadonlySet<string>>(new Set(name ? (read(key) ?? all) : all));
  return {
    shown: shown.asReadonly(),
    toggle(column) {
      shown.update((before) => {
        const after = new Set(before);
        if (!after.delete(column)) after.add(column);
        if (name) write(key, [...after]);
        return after;
      });
    },
  };
}

/** Storage may be closed to us, and may hold anything. */
function read(key: string): string[] | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? 'null');
    return Array.isArray(kept) ? kept.map(String) : null;
  } catch {
    return null;
  }
}

function write(key: string, shown: readonly string[]): void {
  try {
    localStorage.setItem(key, JSON.stringify(shown));
  } catch {
    // It is shown as chosen all the same, until the page is left.
  }
}
