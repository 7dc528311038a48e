import { computed, inject, Injectable, signal } from '@angular/core';
import { tap, type Observable } from 'rxjs';
import { cueFields, type CueRow, type RailAround } from '@convite/contract';
import { movedMoment, sayMoment, type EventFacts, type Moment } from '@convite/core';
import { EventsApi } from '../api/events';
import { sayRefused } from '../refused';
import { Toast } from '../ui/toast';
import { aroundOf } from './rail/say-move';

/** A cue that was moved, by which moments. */
export interface CueMove {
  readonly cueId: number;
  readonly name: string;
  readonly from: Moment;
  readonly to: Moment;
}

/** The countdown whose cues are moved. */
export interface MovedCountdown {
  readonly eventId: () => number;
  /** Its cues as they stand now. */
  readonly rows: () => readonly CueRow[];
  /** Something was saved, or was refused because it had changed. */
  readonly changed: () => void;
}

/** Moves cues of one event, and takes moves back as long as the countdown is open. */
@Injectable()
export class CueMoves {
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly done = signal<readonly CueMove[]>([]);
  private readonly undone = signal<readonly CueMove[]>([]);
  readonly last = computed(() => this.done().at(-1) ?? null);
  readonly lastUndone = computed(() => this.undone().at(-1) ?? null);
  private of: MovedCountdown = { eventId: () => 0, rows: () => [], changed: () => undefined };

  follow(countdown: MovedCountdown): void {
    this.of = countdown;
  }

  /**
   * Saves a cue at another moment, and offers to take that back; the server says no where it is too near.
   * @param facts of the date on which that instant is meant
   */
  moveTo(cue: CueRow, toMs: number, facts: EventFacts, around: RailAround): void {
    const to = movedMoment(cue.moment, facts, toMs, cue.firing.zone || facts.zone, aroundOf(around));
    if (!to) return this.toast.say(`“${cue.name}” cannot be moved there.`);
    this.tell(this.move(cue, to), () =>
      this.toast.offerUndo(`“${cue.name}” goes ${sayMoment(to)}.`, () => this.undo()),
    );
  }
  move(cue: CueRow, to: Moment): Observable<unknown> {
    const made = { cueId: cue.id, name: cue.name, from: cue.moment, to };
    return this.save(cue, to).pipe(
      tap(() => {
        this.done.update((moves) => [...moves, made]);
        this.undone.set([]);
      }),
    );
  }
  undo(): void {
    const move = this.last();
    const cue = move && this.standing(move);
    if (!cue) return;
    this.tell(this.save(cue, move.from), () => {
      this.done.update((moves) => moves.filter((one) => one !== move));
      this.undone.update((moves) => [...moves, move]);
    });
  }
  redo(): void {
    const move = this.lastUndone();
    const cue = move && this.standing(move);
    if (!cue) return;
    this.tell(this.save(cue, move.to), () => {
      this.undone.update((moves) => moves.filter((one) => one !== move));
      this.done.update((moves) => [...moves, move]);
    });
  }

  /** Null, which is said, where somebody removed it meanwhile. */
  private standing({ cueId, name }: CueMove): CueRow | null {
    const cue = this.of.rows().find(({ id }) => id === cueId) ?? null;
    if (!cue) this.toast.say(`“${name}” is gone.`);
    return cue;
  }
  private tell(act: Observable<unknown>, done: () => void): void {
    act.subscribe({
      next: () => {
        this.of.changed();
        done();
      },
      error: (error: unknown) => {
        this.of.changed();
        this.toast.fail(sayRefused(error));
      },
    });
  }
  /** Where somebody else changed the cue meanwhile, nothing is saved. */
  private save(cue: CueRow, moment: Moment): Observable<unknown> {
    const was = cueFields.parse(cue);
    return this.api.saveCue(this.of.eventId(), cue.id, { ...was, moment, was });
  }
}
