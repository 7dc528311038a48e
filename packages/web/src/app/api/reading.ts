import { computed, linkedSignal, type Signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { Observable } from 'rxjs';

export interface Reading<T> {
  /** What was read last, or before that the empty value. */
  readonly value: Signal<T>;
  readonly hasFailed: Signal<boolean>;
  reload(): void;
}

/** Reads something to show. A bare resource throws from its value when a read fails; this keeps what was read before. */
export function reading<T>(stream: () => Observable<T>, empty: T): Reading<T> {
  return readingOf(() => 0, stream, empty);
}

/** The same of something that is asked for: read anew when that changes. */
export function readingOf<P, T>(params: () => P, stream: (params: P) => Observable<T>, empty: T): Reading<T> {
  const resource = rxResource({ params, stream: ({ params: asked }) => stream(asked) });
  const value = linkedSignal<T | undefined, T>({
    source: () => (resource.hasValue() ? resource.value() : undefined),
    computation: (read, previous) => read ?? previous?.value ?? empty,
  });
  return { value, hasFailed: computed(() => resource.error() !== undefined), reload: () => void resource.reload() };
}
