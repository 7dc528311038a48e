import { forkJoin, map, type Observable } from 'rxjs';
import type { EventPage, EventQuery } from '@convite/contract';
import type { Choice } from './chooser';
import { sayInstant } from './say';

/** So many of those to come, and of those that are over, are offered. */
const mostOffered = 8;

/** Events whose title or place holds some words, to choose one: those that begin the list first. @param list reads a page of them */
export function findEventChoices(
  list: (query: EventQuery) => Observable<EventPage>,
  search: string,
  order: readonly EventQuery['when'][],
): Observable<readonly Choice<number>[]> {
  return forkJoin(order.map((when) => list({ when, search, after: 0, status: '', topic: '' }))).pipe(
    map((pages) =>
      pages.flatMap(({ rows }) =>
        rows.slice(0, mostOffered).map(({ id, title, startAt, zone }) => ({
          value: id,
          name: title,
          about: sayInstant(Date.parse(startAt), zone),
        })),
      ),
    ),
  );
}
