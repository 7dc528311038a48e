import { concatMap, defer, EMPTY, expand, last, map, mergeMap, of, range, type Observable } from 'rxjs';
import { mostCharactersAtOnce, mostRowsAtOnce, type PeopleImport, type PeopleImportRows } from '@convite/contract';
import type { PeopleTableRow } from '@convite/core';
import type { AudienceApi } from '../api/audience';
import type { PeopleFile } from '../workers/people-file';

type Rows = PeopleImportRows['rows'];

/**
 * Hands the rows of a file in, two parcels at a time, and says how many have arrived and what they are so far.
 * Whoever unsubscribes stops it.
 */
export function handIn(
  api: AudienceApi,
  id: number,
  file: PeopleFile,
  { sheet, rowCount }: { readonly sheet: number; readonly rowCount: number },
): Observable<{ readonly done: number; readonly seen: PeopleImport }> {
  let done = 0;
  const chunks = Math.ceil(rowCount / mostRowsAtOnce);
  return range(0, chunks).pipe(
    mergeMap(
      (chunk) =>
        file.rows(sheet, chunk * mostRowsAtOnce, mostRowsAtOnce).pipe(
          concatMap((rows) => sendAll(api, id, parcelsOf(rows)).pipe(map((seen) => ({ rows, seen })))),
          map(({ rows, seen }) => ({ done: (done += rows.length), seen })),
        ),
      2,
    ),
  );
}

const sendAll = (api: AudienceApi, id: number, parcels: readonly Rows[]): Observable<PeopleImport> =>
  defer(() => of(0)).pipe(
    expand((next) => (next + 1 < parcels.length ? of(next + 1) : EMPTY)),
    concatMap((next) => api.addRows(id, parcels[next] ?? [])),
    last(),
  );

/** Rows with long cells go in several parcels, each of a size that the server takes. */
export function parcelsOf(rows: readonly PeopleTableRow[]): Rows[] {
  const parcels: Rows[] = [];
  let characters = Infinity;
  for (const { number, cells } of rows) {
    const own = cells.reduce((sum, cell) => sum + cell.length, 0);
    if (characters + own > mostCharactersAtOnce) {
      parcels.push([]);
      characters = 0;
    }
    characters += own;
    parcels.at(-1)?.push({ number, cells });
  }
  return parcels;
}
