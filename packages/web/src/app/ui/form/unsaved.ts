import { DestroyRef, effect, inject, Injectable, untracked, type Signal } from '@angular/core';
import { map, of, type Observable } from 'rxjs';
import { Confirm } from '../confirm';
import { keptForTab } from '../keeper';

/** A form whose contents outlive a reload, and which nobody leaves by mistake. */
export interface Typed<T> {
  /** Names it within this browser: `event.12`. */
  readonly key: () => string;
  /** What stands in it. */
  readonly value: Signal<T>;
  readonly isChanged: Signal<boolean>;
  /** Puts back what was typed before the reload. */
  readonly restore: (value: T) => void;
  /** Reads what was kept, which may be of an older make; null where it cannot be used. */
  readonly read: (kept: unknown) => T | null;
}

const keyOf = (form: string): string => `typed.${form}`;

/** What is typed and not saved, in all forms that are open. */
@Injectable({ providedIn: 'root' })
export class Unsaved {
  private readonly forms = new Set<Typed<unknown>>();
  private readonly confirm = inject(Confirm);

  /** @returns how to take the form out again */
  add(form: Typed<unknown>): () => void {
    this.forms.add(form);
    return () => this.forms.delete(form);
  }
  /** Whoever sits here next sees nothing of it. */
  forgetAll(): void {
    this.forms.clear();
    for (const key of keptForTab.keys('typed.')) keptForTab.drop(key);
  }
  /** Asks whether what is typed may be lost. Emits once. */
  mayLeave(): Observable<boolean> {
    const changed = [...this.forms].filter(({ isChanged }) => isChanged());
    if (changed.length === 0) return of(true);
    return this.confirm
      .decide({
        title: 'Leave without saving?',
        text: 'What you typed here is not saved, and is dropped when you leave.',
        yes: 'Leave and drop it',
        no: 'Stay',
      })
      .pipe(
        map((leaves) => {
          if (leaves) for (const { key } of changed) keptForTab.drop(keyOf(key()));
          return leaves;
        }),
      );
  }
}

/**
 * Keeps what is typed into a form for this tab: it is there again after a reload, and gone once it is saved or dropped. To be
 * called where a component is made.
 */
export function keepTyped<T>(form: Typed<T>): void {
  const taken = inject(Unsaved).add({ ...form, restore: () => undefined, read: () => null });
  inject(DestroyRef).onDestroy(() => {
    taken();
    // What was saved, or dropped, as the form was closed: nothing looks at it any more.
    if (!untracked(form.isChanged)) keptForTab.drop(keyOf(untracked(form.key)));
  });
  let restored = '';
  effect(() => {
    const key = form.key();
    if (!key) return;
    if (restored !== key) {
      restored = key;
      const kept = untracked(() => form.read(keptForTab.read(keyOf(key))));
      if (kept !== null) return untracked(() => form.restore(kept));
    }
    if (form.isChanged()) keptForTab.write(keyOf(key), form.value());
    else keptForTab.drop(keyOf(key));
  });
}
