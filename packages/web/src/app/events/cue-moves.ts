import { computed, inject, Injectable, signal } from '@angular/core';
import { tap, type Observable } from 'rxjs';
import { cueFields, type CueRow } from '@convite/contract';
import type { Moment } from '@convite/core';
import { EventsApi } from '../api/events';

/** A cue that was moved, by which moments. */
export interface CueMove {
  readonly cueId: number;
  readonly name: string;
  readonly from: Moment;
  readonly to: Moment;
}

/** Moves cues of one event, and takes moves back as long as the countdown is open. */
@Injectable()
export class CueMoves {
  private readonly api = inject(EventsApi);
  private readonly done = signal<readonly CueMove[]>([]);
  private readonly undone = signal<readonly CueMove[]>([]);
  readonly last = computed(() => this.done().at(-1) ?? null);
  readonly lastUndone = computed(() => this.undone().at(-1) ?? null);

  move(eventId: number, cue: CueRow, to: Moment): Observable<unknown> {
    const made = { cueId: cue.id, name: cue.name, from: cue.moment, to };
    return this.save(eventId, cue, to).pipe(
      tap(() => {
        this.done.update((moves) => [...moves, made]);
        this.undone.set([]);
      }),
    );
  }
  /** @param cue the one that the last move was of, as it stands now */
  undo(eventId: number, cue: CueRow, move: CueMove): Observable<unknown> {
    return this.save(eventId, cue, move.from).pipe(
      tap(() => {
        this.done.update((moves) => moves.filter((one) => one !== move));
        this.undone.update((moves) => [...moves, move]);
      }),
    );
  }
  redo(eventId: number, cue: CueRow, move: CueMove): Observable<unknown> {
    return this.save(eventId, cue, move.to).pipe(
      tap(() => {
        this.undone.update((moves) => moves.filter((one) => one !== move));
        this.done.update((moves) => [...moves, move]);
      }),
    );
  }

  /** Where somebody else changed the cue meanwhile, nothing is saved. */
  private save(eventId: number, cue: CueRow, moment: Moment): Observable<unknown> {
    const was = cueFields.parse(cue);
    return this.api.saveCue(eventId, cue.id, { ...was, moment, was });
  }
}
