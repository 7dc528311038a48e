import { signal, type Signal } from '@angular/core';
import { keptForGood } from '../keeper';
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
  const key = `columns.${name}`;
  let turned = new Set(name ? turnedOf(keptForGood.read(key)) : []);
  const shownNow = (): ReadonlySet<string> =>
    new Set(columns.filter((column) => Boolean(column.isExtra) === turned.has(column.key)).map((column) => column.key));
  const shown = signal(shownNow());
  return {
    shown: shown.asReadonly(),
    toggle(column) {
      turned = new Set(turned);
      if (!turned.delete(column)) turned.add(column);
      shown.set(shownNow());
      if (name) keptForGood.write(key, [...turned]);
    },
  };
}

const turnedOf = (kept: unknown): string[] => (Array.isArray(kept) ? kept.map(String) : []);
