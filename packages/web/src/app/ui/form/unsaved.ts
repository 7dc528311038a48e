import { DestroyRef, effect, inject, Injectable, untracked, type Signal } from '@angular/core';
import { map, of, type Observable } from 'rxjs';
import { Confirm } from '../confirm';

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

const prefix = 'convite.typed.';

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
    for (const key of storedKeys()) drop(key);
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
          if (leaves) for (const { key } of changed) drop(key());
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
    if (!untracked(form.isChanged)) drop(untracked(form.key));
  });
  let restored = '';
  effect(() => {
    const key = form.key();
    if (!key) return;
    if (restored !== key) {
      restored = key;
      const kept = untracked(() => form.read(read(key)));
      if (kept !== null) return untracked(() => form.restore(kept));
    }
    if (form.isChanged()) write(key, form.value());
    else drop(key);
  });
}

/** The store may be closed to us, and may hold anything. */
function read(key: string): unknown {
  try {
    return JSON.parse(sessionStorage.getItem(prefix + key) ?? 'null');
  } catch {
    return null;
  }
}
function write(key: string, value: unknown): void {
  try {
    sessionStorage.setItem(prefix + key, JSON.stringify(value));
  } catch {
    // It stays in the form all the same.
  }
}
function drop(key: string): void {
  try {
    sessionStorage.removeItem(prefix + key);
  } catch {
    // Nothing was kept then.
  }
}
function storedKeys(): string[] {
  try {
    return Object.keys(sessionStorage)
      .filter((key) => key.startsWith(prefix))
      .map((key) => key.slice(prefix.length));
  } catch {
    return [];
  }
}
