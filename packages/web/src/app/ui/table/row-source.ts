import { isSame } from '@convite/core';
import { computed, DestroyRef, inject, signal, untracked, type Signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import {
  catchError,
  debounce,
  defer,
  EMPTY,
  expand,
  map,
  of,
  Subject,
  switchMap,
  timer,
  toArray,
  type Observable,
} from 'rxjs';

/** Where a page begins, as the one before it said; null for the first. */
type Place = number | string | null;

/** One page of a list that is read by where the page begins. */
export interface PageOf<T> {
  readonly rows: readonly T[];
  /** Where the next page begins; null for the last. */
  readonly next: Place;
}

/** The rows of a list as far as they were read, and what can be done to read on. */
export interface RowSource<T, P = PageOf<T>> {
  readonly rows: Signal<readonly T[]>;
  /** The first page with all that it says beside its rows; null until it is there. */
  readonly first: Signal<P | null>;
  /** `reading` while nothing is there yet; what was read before stays until the next is here. */
  readonly state: Signal<'reading' | 'ready' | 'failed'>;
  readonly hasMore: Signal<boolean>;
  readonly isReading: Signal<boolean>;
  /** What is asked for: another object for another list. */
  readonly asked: Signal<unknown>;
  more(): void;
  /** Reads again what is shown, quietly. */
  reload(): void;
}

/** Typing rests for so long before it is asked. */
const restMs = 150;
/** So many pages are read again when something changed; of what lies behind them the reader is told nothing new. */
const mostAgain = 10;

/**
 * Reads a list page by page. Another query begins at its first page, and one that is overtaken is dropped.
 * @param query undefined while there is nothing to ask
 * @param read one page, from where the one before said that it begins; null for the first
 * @param subjectOf whose list it is: rows of another are never shown, while those of a narrower search may stay for a moment
 */
export function rowSource<Q, P extends PageOf<unknown>>(
  query: () => Q | undefined,
  read: (query: Q, after: Place) => Observable<P>,
  subjectOf: (query: Q) => unknown = () => '',
): RowSource<P['rows'][number], P> {
  const isReading = signal(true);
  const asked = computed(query, { equal: isSame });
  const subject = computed(() => {
    const wanted = asked();
    return wanted === undefined ? '' : JSON.stringify(subjectOf(wanted));
  });
  const kept = signal<{
    readonly pages: readonly P[];
    readonly hasFailed: boolean;
    readonly of: string;
    readonly asked: Q | undefined;
  }>({
    pages: [],
    hasFailed: false,
    of: '',
    asked: undefined,
  });
  const mine = computed(() => (kept().of === subject() ? kept() : { pages: [], hasFailed: false }));
  const pages = computed((): readonly P[] => mine().pages);
  const acts = new Subject<'begin' | 'again' | 'more'>();

  const from = (wanted: Q, after: Place, count: number): Observable<P[]> =>
    defer(() => read(wanted, after)).pipe(
      expand(({ next }, index) => (next === null || index + 1 >= count ? EMPTY : read(wanted, next))),
      toArray(),
    );
  acts
    .pipe(
      switchMap((act) => {
        const [wanted, shown] = untracked(() => [asked(), pages()] as const);
        const next = shown.at(-1)?.next ?? null;
        // What comes behind another query's pages is none of this one's.
        if (wanted === undefined || (act === 'more' && (next === null || untracked(kept).asked !== wanted)))
          return EMPTY;
        isReading.set(true);
        const found =
          act === 'more'
            ? from(wanted, next, 1).pipe(map((more) => [...shown, ...more]))
            : from(wanted, null, act === 'begin' ? 1 : Math.min(mostAgain, Math.max(1, shown.length))).pipe(
                map((fresh) => (act === 'again' ? withThoseBehind(fresh, shown) : fresh)),
              );
        const whose = untracked(subject);
        return found.pipe(
          map((pages) => ({ pages, hasFailed: false, of: whose, asked: wanted })),
          // What was read before stays, and that it could not be read again is said beside it.
          catchError(() => of({ pages: act === 'begin' ? [] : shown, hasFailed: true, of: whose, asked: wanted })),
        );
      }),
      takeUntilDestroyed(inject(DestroyRef)),
    )
    .subscribe((found) => {
      isReading.set(false);
      kept.set(found);
    });
  let isFirst = true;
  toObservable(asked)
    .pipe(
      debounce(() => (isFirst ? of(0) : timer(restMs))),
      takeUntilDestroyed(),
    )
    .subscribe((wanted) => {
      if (wanted !== undefined) isFirst = false;
      acts.next('begin');
    });

  return {
    rows: computed(() => pages().flatMap(({ rows }) => rows)),
    first: computed(() => pages()[0] ?? null),
    state: computed(() => (mine().hasFailed ? 'failed' : pages().length ? 'ready' : 'reading')),
    hasMore: computed(() => (pages().at(-1)?.next ?? null) !== null),
    isReading: isReading.asReadonly(),
    asked,
    more: () => acts.next('more'),
    reload: () => acts.next('again'),
  };
}

/** What was read again, and behind it what was not, where the one still ends at the other's beginning. */
function withThoseBehind<P extends PageOf<unknown>>(fresh: readonly P[], before: readonly P[]): readonly P[] {
  const [last, same] = [fresh.at(-1), before[fresh.length - 1]];
  return last && same && last.next === same.next ? [...fresh, ...before.slice(fresh.length)] : fresh;
}
