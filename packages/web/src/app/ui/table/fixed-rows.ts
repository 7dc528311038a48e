import { computed, signal, type Signal } from '@angular/core';
import type { PageOf, RowSource } from './row-source';

/** Rows that are there already, all of them, as a list that is read: the same table shows both. */
export function fixedRows<T>(rows: Signal<readonly T[]>): RowSource<T> {
  return {
    rows,
    first: computed((): PageOf<T> => ({ rows: rows(), next: null })),
    state: signal('ready' as const).asReadonly(),
    hasMore: signal(false).asReadonly(),
    isReading: signal(false).asReadonly(),
    asked: signal('all').asReadonly(),
    more: () => undefined,
    reload: () => undefined,
  };
}
