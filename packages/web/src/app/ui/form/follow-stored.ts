import { computed, effect, signal, untracked, type Signal } from '@angular/core';
import { isSame } from '@convite/core';

/** What a form was filled with, and what it makes of something newer. */
export interface Followed<T> {
  /** What whoever types began with; null before anything was read. */
  readonly base: Signal<T | null>;
  readonly isChanged: Signal<boolean>;
  /** What somebody else saved while this was being typed; null where nobody did. */
  readonly newer: Signal<T | null>;
  /** Goes on from what they saved, with this in the form. */
  goOnWith(value: T): void;
  /** Drops what was typed. */
  drop(): void;
  /** Puts back what was typed before a reload, and what it began with. */
  restore(kept: { readonly base: T; readonly value: T }): void;
  /** What was typed is what stands there now. */
  wasSaved(value: T): void;
}

/**
 * Fills a form with what is stored, and again with whatever is newer, for as long as nothing is typed into it. What is typed
 * stays, whatever comes. To be called where a component is made.
 * @param show puts a value into the form
 */
export function followStored<T>(
  stored: Signal<T | null>,
  { typed, show }: { readonly typed: Signal<T>; readonly show: (value: T) => void },
): Followed<T> {
  const base = signal<T | null>(null);
  const isChanged = computed(() => base() !== null && !isSame(typed(), base()));
  const newer = computed(() => {
    const now = stored();
    return now !== null && isChanged() && !isSame(now, base()) ? now : null;
  });
  const begin = (value: T, shown = value): void => {
    base.set(value);
    show(shown);
  };
  effect(() => {
    const now = stored();
    untracked(() => {
      if (now !== null && !isChanged() && !isSame(now, base())) begin(now);
    });
  });
  return {
    base,
    isChanged,
    newer,
    goOnWith: (value) => begin(newer() ?? base() ?? value, value),
    drop: () => {
      const value = newer() ?? base();
      if (value !== null) begin(value);
    },
    restore: ({ base: before, value }) => begin(before, value),
    wasSaved: (value) => base.set(value),
  };
}
