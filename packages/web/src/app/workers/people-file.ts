import type { DayOrder, GuessedColumn, PeopleTableRow } from '@convite/core';
import { filter, map, Observable, share, take } from 'rxjs';

/** What the worker that reads files is asked. */
export type AskFile =
  | { readonly kind: 'read'; readonly what: File | string; readonly dayOrder: DayOrder }
  | { readonly kind: 'rows'; readonly sheet: number; readonly from: number; readonly count: number };
export type FileSays =
  | { readonly kind: 'progress'; readonly share: number }
  | { readonly kind: 'read'; readonly sheets: readonly SeenSheet[] }
  | { readonly kind: 'rows'; readonly from: number; readonly rows: readonly PeopleTableRow[] }
  | { readonly kind: 'failed'; readonly why: string };

export interface SeenColumn {
  readonly heading: string;
  readonly samples: readonly string[];
  readonly guess: GuessedColumn;
  /** Each word in it once; null where they are too many to be names of anything. */
  readonly words: readonly string[] | null;
}
/** A table as far as it is looked at: its rows stay with the worker. */
export interface SeenSheet {
  readonly name: string;
  readonly rowCount: number;
  readonly columns: readonly SeenColumn[];
}

/** A file that is open: its rows are with a worker, and are asked for as they are needed. */
export class PeopleFile {
  private readonly worker = new Worker(new URL('./people-file.worker', import.meta.url), { type: 'module' });
  private readonly said = new Observable<FileSays>((reader) => {
    const hear = ({ data }: MessageEvent<FileSays>): void => reader.next(data);
    const fail = (): void => reader.next({ kind: 'failed', why: 'This file cannot be read.' });
    this.worker.addEventListener('message', hear);
    this.worker.addEventListener('error', fail);
    return () => {
      this.worker.removeEventListener('message', hear);
      this.worker.removeEventListener('error', fail);
    };
  }).pipe(share());

  /** Reads it; how far it is comes first, and what stands in it last. */
  read(what: File | string, dayOrder: DayOrder): Observable<Exclude<FileSays, { kind: 'rows' }>> {
    return new Observable((reader) => {
      const heard = this.said.subscribe((said) => {
        if (said.kind === 'rows') return;
        reader.next(said);
        if (said.kind !== 'progress') reader.complete();
      });
      this.ask({ kind: 'read', what, dayOrder });
      return heard;
    });
  }
  rows(sheet: number, from: number, count: number): Observable<readonly PeopleTableRow[]> {
    return new Observable((reader) => {
      const heard = this.said
        .pipe(
          map((said) => (said.kind === 'rows' && said.from === from ? said.rows : null)),
          filter((rows) => rows !== null),
          take(1),
        )
        .subscribe(reader);
      this.ask({ kind: 'rows', sheet, from, count });
      return heard;
    });
  }
  /** Ends whatever it is doing. */
  close(): void {
    this.worker.terminate();
  }
  private ask(asked: AskFile): void {
    this.worker.postMessage(asked);
  }
}
