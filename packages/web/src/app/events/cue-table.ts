import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { CueRow, RailAround } from '@convite/contract';
import { sayMoment, wallTimeAt, type EventFacts, isOnPeople } from '@convite/core';
import { RouterLink } from '@angular/router';
import { AudienceApi } from '../api/audience';
import { BoardApi } from '../api/board';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { ByHandSender } from '../by-hand-sender';
import { PeopleCount } from '../ui/people-count';
import { sayInstant, sayShortDay } from '../ui/say';
import { sayWhom } from '../ui/say-whom';
import { StateMark } from '../ui/state-mark';
import { Cell, type Column } from '../ui/table/column';
import { fixedRows } from '../ui/table/fixed-rows';
import { nobodyPicked, Table, type Picked } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';
import { CueBulk } from './cue-bulk';
import { CueHazards } from './cue-hazards';
import { sayLate } from './cue-parts';
import { wayOf } from './cue-ways';
import { sayAudience } from './say-audience';

/** The cues of an event as a table: the same as on the rail, and what can be done with each. */
@Component({
  selector: 'cv-cue-table',
  imports: [Cell, CueBulk, CueHazards, PeopleCount, RouterLink, StateMark, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-table
      name="cues"
      label="Cues"
      [source]="list"
      [columns]="columns"
      [opens]="true"
      [chosenId]="chosen()"
      [canPick]="session.canMarket()"
      [(picked)]="picked"
      (opened)="opened.emit($event)"
    >
      <cv-cue-bulk
        bulk
        [cues]="pickedCues()"
        [eventId]="eventId()"
        [facts]="facts()"
        [around]="around()"
        (done)="picked.set(nobody); changed.emit()"
      />
      <ng-template cvCell="cue" [cvCellOf]="list" let-cue>
        <button class="link" (click)="opened.emit(cue)">
          <strong>{{ cue.name }}</strong>
        </button>
      </ng-template>
      <ng-template cvCell="moment" [cvCellOf]="list" let-cue
        >{{ say(cue) }}
        @if (late(cue); as words) {
          <div class="small quiet">{{ words }}</div>
        }
      </ng-template>
      <ng-template cvCell="fires" [cvCellOf]="list" let-cue>
        <cv-when [at]="cue.firing.dueAt" [zone]="zone()" />
        @if (whom(cue); as who) {
          <div class="small quiet whom">
            for {{ who }}{{ cue.ahead.length ? ', then ' + cue.ahead.length + ' more' : '' }}
          </div>
        }
      </ng-template>
      <ng-template cvCell="by" [cvCellOf]="list" let-cue
        >{{ cue.act ? 'task' : cue.channel }}
        @if (cue.does) {
          <div class="small quiet">{{ cue.does }}</div>
        }
        @if (beside(cue); as words) {
          <div class="small quiet">{{ words }}</div>
        }
      </ng-template>
      <ng-template cvCell="for" [cvCellOf]="list" let-cue>{{ isForPeople(cue) ? audience(cue) : '' }}</ng-template>
      <ng-template cvCell="people" [cvCellOf]="list" let-cue>
        @if (isForPeople(cue)) {
          <cv-people-count [tally]="cue.firing.tally" [state]="cue.firing.state" [withAge]="true" />
        }
      </ng-template>
      <ng-template cvCell="state" [cvCellOf]="list" let-cue>
        <cv-state [state]="cue.firing.state" />
        @if (cue.firing.tally.finishAt; as last) {
          <div class="small quiet note-text">the last leaves {{ sayLast(last) }}</div>
        }
        @if (cue.firing.note) {
          <div class="small quiet note-text">{{ cue.firing.note }}</div>
        }
      </ng-template>
      <ng-template cvCell="hazards" [cvCellOf]="list" let-cue>
        <cv-cue-hazards
          [cue]="cue"
          [zone]="zone()"
          (moved)="moved.emit({ cue, toMs: $event })"
          (wasSet)="wasSet.emit(cue)"
          (optOutAsked)="optOutAsked.emit(cue)"
          (inviteAsked)="inviteAsked.emit(cue)"
          (excludeAsked)="excludeAsked.emit(cue)"
          (opened)="opened.emit(cue)"
        />
      </ng-template>
      <ng-template cvCell="act" [cvCellOf]="list" let-cue>
        @if (session.canMarket()) {
          @switch (cue.firing.state) {
            @case ('set') {
              <button class="link small" (click)="stop(cue)">Hold</button>
            }
            @case ('standby') {
              <button class="link small" (click)="stop(cue)">Hold</button>
            }
            @case ('sending') {
              <button class="link small" (click)="stop(cue)">Hold</button>
            }
            @case ('done') {
              <a class="small" [routerLink]="['/sendings', cue.firing.id]">Log</a>
            }
            @case ('missed') {
              <button class="link small" (click)="sendNow(cue)">Send now</button>
            }
            @case ('stopped') {
              <button class="link small" (click)="setAgain(cue)">Set again</button>
            }
          }
        }
      </ng-template>
    </cv-table>
  `,
  styles: `
    .note-text,
    .whom {
      max-width: 240px;
    }
    cv-cue-hazards {
      display: block;
      max-width: 260px;
    }
  `,
})
export class CueTable {
  /** What is done once is for nobody in particular. */
  protected readonly isForPeople = ({ act }: CueRow): boolean => !act || isOnPeople(act);
  protected readonly session = inject(Session);
  private readonly board = inject(BoardApi);
  private readonly byHand = inject(ByHandSender);
  private readonly toast = inject(Toast);
  private readonly audienceApi = inject(AudienceApi);
  readonly rows = input.required<CueRow[]>();
  readonly zone = input.required<string>();
  readonly chosen = input<number | null>(null);
  readonly opened = output<CueRow>();
  readonly moved = output<{ readonly cue: CueRow; readonly toMs: number }>();
  readonly wasSet = output<CueRow>();
  readonly optOutAsked = output<CueRow>();
  readonly inviteAsked = output<CueRow>();
  readonly excludeAsked = output<CueRow>();
  readonly eventId = input.required<number>();
  readonly facts = input.required<EventFacts>();
  readonly around = input<RailAround | null>(null);
  /** Something was done with several at once. */
  readonly changed = output();
  protected readonly nobody = nobodyPicked;
  protected readonly picked = signal<Picked>(nobodyPicked);
  protected readonly pickedCues = computed(() => {
    const picked = this.picked();
    return picked.kind === 'all' ? this.rows() : this.rows().filter(({ id }) => picked.ids.has(id));
  });
  private readonly fields = reading(() => this.audienceApi.fields(), []);
  protected readonly list = fixedRows(this.rows);
  protected readonly columns: readonly Column[] = [
    { key: 'cue', label: 'Cue', onCard: 'title' },
    { key: 'moment', label: 'Moment' },
    { key: 'fires', label: 'Fires', onCard: 'fact' },
    { key: 'by', label: 'By' },
    { key: 'for', label: 'For' },
    { key: 'people', label: 'People', isNumber: true },
    { key: 'state', label: 'State', onCard: 'fact' },
    { key: 'hazards', label: 'Look at', onCard: 'fact' },
    { key: 'act', label: 'What to do', isLabelHidden: true, isNumber: true, onCard: 'fact' },
  ];

  protected sayLast = (at: string): string => sayInstant(Date.parse(at), this.zone());
  protected say({ moment }: CueRow): string {
    const field = moment.kind === 'own-date' ? this.fields.value().find(({ id }) => id === moment.field) : undefined;
    return sayMoment(moment, field?.name);
  }
  protected whom({ firing }: CueRow): string {
    const day = firing.occurrence ? wallTimeAt(Date.parse(firing.occurrence.startAt), this.zone()).slice(0, 10) : '';
    return [day ? sayShortDay(day) : '', sayWhom(firing, this.zone())].filter(Boolean).join(', ');
  }
  /** What goes with it by the other channel. */
  protected beside(cue: CueRow): string {
    if (cue.textOf !== null) return 'goes with the email';
    return { both: 'and a text', 'text-first': 'to who cannot be texted', email: '', text: '', act: '' }[wayOf(cue)];
  }
  protected late = sayLate;
  protected audience = ({ audience }: CueRow): string => sayAudience(audience);

  protected stop({ firing, name }: CueRow): void {
    this.board.stop(firing.id).subscribe({
      next: () => this.toast.say(`Held: “${name}” will not go out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected setAgain({ firing, name }: CueRow): void {
    this.board.setAgain(firing.id).subscribe({
      next: () => this.toast.say(`“${name}” is set again.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected sendNow({ firing, name }: CueRow): void {
    this.byHand.send(firing.id).subscribe({
      next: () => this.toast.say(`“${name}” is going out.`),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
