import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CueRow, EventDetail, RailAround } from '@convite/contract';
import { isOfPeople, occurrencesBetween } from '@convite/core';
import { CueMoves } from './cue-moves';
import { Rail } from './rail/rail';
import { StartMove } from './start-move';

/** The rail of an event, what was moved on it, and what another start would do. */
@Component({
  selector: 'cv-countdown-rail',
  imports: [MatButtonModule, MatCheckboxModule, Rail, StartMove],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-rail
      [cues]="onRail()"
      [facts]="dateFacts()"
      [startAt]="event().startAt"
      [around]="around()"
      [chosen]="chosen()"
      [canMove]="canMove()"
      [allDates]="allDates()"
      (picked)="picked.emit($event)"
      (moved)="move($event.cue, $event.toMs)"
      (keydown.control.z)="moves.undo()"
      (keydown.control.shift.z)="moves.redo()"
      (startMoved)="startTo.set($event)"
    />
    <div class="row">
      @if (moves.last(); as last) {
        <button matButton (click)="moves.undo()">Undo “{{ last.name }}”</button>
      }
      @if (moves.lastUndone(); as undone) {
        <button matButton (click)="moves.redo()">Redo “{{ undone.name }}”</button>
      }
      @if (event().facts.series) {
        <mat-checkbox [checked]="allDates()" (change)="allDates.set($event.checked)"
          >all planned dates laid over each other</mat-checkbox
        >
      }
      <span class="small quiet">{{ others() }}</span>
    </div>
    @if (startTo(); as toMs) {
      @if (around(); as it) {
        <cv-start-move
          [event]="event()"
          [facts]="dateFacts()"
          [cues]="cues()"
          [around]="it"
          [toMs]="toMs"
          (closed)="startTo.set(null)"
        />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 14px;
    }
  `,
})
export class CountdownRail {
  protected readonly moves = inject(CueMoves);
  readonly event = input.required<EventDetail>();
  readonly cues = input.required<readonly CueRow[]>();
  /** Without it the rail stands all the same; nothing is moved on it until it is there. */
  readonly around = input<RailAround | null>(null);
  readonly chosen = input<number | null>(null);
  readonly canMove = input(false);
  readonly picked = output<CueRow>();
  protected readonly allDates = signal(false);
  /** Another start that is looked at. */
  protected readonly startTo = signal<number | null>(null);
  /** Of the date that the rail shows, where the event is a series. */
  protected readonly dateFacts = computed(() => {
    const { facts, startAt } = this.event();
    const startMs = Date.parse(startAt);
    return (facts.series ? occurrencesBetween(facts, startMs, startMs + 1)[0]?.facts : null) ?? facts;
  });
  /** What goes by dates of people's own is not drawn: it has no place before the start. */
  protected readonly onRail = computed(() => this.cues().filter(({ moment }) => !isOfPeople(moment)));
  protected readonly others = computed(() => {
    const { others = [], hasMoreOthers = false } = this.around() ?? {};
    if (others.length === 0) return '';
    const count = hasMoreOthers ? `The next ${others.length}` : `${others.length}`;
    return `${count} of other events and digests in the coming weeks, drawn as small marks.`;
  });

  protected move(cue: CueRow, toMs: number): void {
    const around = this.around();
    if (around) this.moves.moveTo(cue, toMs, this.dateFacts(), around);
  }
}
