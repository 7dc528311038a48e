import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { catchError, concatMap, from, map, of, throwError, toArray, type Observable } from 'rxjs';
import { cueFields, type CueRow, type RailAround } from '@convite/contract';
import { movedMoment, shiftInstant, type EventFacts, type Unit } from '@convite/core';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { sayError, sayRefused } from '../refused';
import { Confirm } from '../ui/confirm';
import { sayCount } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { CueMoves } from './cue-moves';
import { aroundOf, ownDateOf, whyFixed } from './rail/say-move';

/** What can be done with several cues at once: each for itself, and what could not be is named. */
@Component({
  selector: 'cv-cue-bulk',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button matButton (click)="hold()">Hold</button>
    <button matButton (click)="set(false)">Set</button>
    <button matButton (click)="set(true)">Keep as drafts</button>
    <button matButton (click)="remove()">Remove …</button>
    @if (around()) {
      <span>Move</span>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><input
          matInput
          type="number"
          min="1"
          max="1000"
          aria-label="How far"
          [value]="amount()"
          (input)="amount.set(whole(typed($event)))"
      /></mat-form-field>
      <mat-form-field class="inline" subscriptSizing="dynamic"
        ><select
          matNativeControl
          aria-label="Unit of the move"
          (change)="unit.set(typed($event) === 'hours' ? 'hours' : 'days')"
        >
          <option value="days">days</option>
          <option value="hours">hours</option>
        </select></mat-form-field
      >
      <button matButton (click)="move(-1)">earlier</button>
      <button matButton (click)="move(1)">later</button>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px;
    }
    mat-form-field {
      width: 116px;
    }
  `,
})
export class CueBulk {
  private readonly events = inject(EventsApi);
  private readonly board = inject(BoardApi);
  private readonly moves = inject(CueMoves);
  private readonly confirm = inject(Confirm);
  private readonly toast = inject(Toast);
  readonly cues = input.required<readonly CueRow[]>();
  readonly eventId = input.required<number>();
  readonly facts = input.required<EventFacts>();
  readonly around = input<RailAround | null>(null);
  readonly done = output();
  protected readonly typed = typed;
  protected readonly amount = signal(1);
  protected readonly unit = signal<Extract<Unit, 'days' | 'hours'>>('days');
  protected whole = (text: string): number => Math.min(1000, Math.max(1, Math.round(Number(text) || 1)));

  protected hold(): void {
    this.each('held', ({ firing }) => this.board.stop(firing.id), this.cues());
  }
  /** What is held is set again, a draft becomes one that goes; or all become drafts. */
  protected set(isDraft: boolean): void {
    this.each(isDraft ? 'kept as drafts' : 'set', (cue) => {
      if (!isDraft && cue.firing.state === 'stopped') return this.board.setAgain(cue.firing.id);
      const was = cueFields.parse(cue);
      return this.events.saveCue(this.eventId(), cue.id, { ...was, isDraft, was });
    });
  }
  protected remove(): void {
    const count = sayCount(this.cues().length, 'cue', 'cues');
    this.confirm
      .ask({ title: `Remove ${count}?`, text: 'What has gone out of them stays in the log.', yes: 'Remove them' })
      .subscribe(() => this.each('removed', ({ id }) => this.events.removeCue(this.eventId(), id)));
  }
  protected move(direction: -1 | 1): void {
    const around = this.around();
    if (!around) return;
    this.each('moved', (cue) => {
      const fixed = whyFixed(cue);
      if (fixed) return throwError(() => new Error(fixed));
      const { facts, shiftMs } = ownDateOf(cue, this.facts());
      const fromMs = Date.parse(cue.firing.dueAt) + shiftMs;
      const toMs = shiftInstant(fromMs, facts.zone, this.amount() * direction, this.unit());
      const to = movedMoment(cue.moment, facts, toMs, cue.firing.zone || facts.zone, aroundOf(around));
      return to ? this.moves.move(cue, to) : throwError(() => new Error('It cannot be moved there.'));
    });
  }

  /** A text goes along with its email, where both are picked. */
  private readonly own = computed(() => {
    const picked = new Set(this.cues().map(({ id }) => id));
    return this.cues().filter(({ textOf }) => textOf === null || !picked.has(textOf));
  });
  private each(what: string, act: (cue: CueRow) => Observable<unknown>, cues: readonly CueRow[] = this.own()): void {
    from(cues)
      .pipe(
        concatMap((cue) =>
          act(cue).pipe(
            map(() => ''),
            catchError((error: unknown) => of(`“${cue.name}”: ${wordsOf(error)}`)),
          ),
        ),
        toArray(),
      )
      .subscribe((results) => {
        const failed = results.filter(Boolean);
        const count = results.length - failed.length;
        this.toast.say([`${sayCount(count, 'cue', 'cues')} ${what}.`, ...failed].join(' '));
        this.done.emit();
      });
  }
}

const wordsOf = (error: unknown): string => {
  const said = sayRefused(error);
  return said instanceof Error ? said.message : sayError(error);
};
