import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ChangeDate, EventDetail, OccurrenceRow } from '@convite/contract';
import { isDay, isWallTime, sayWhen } from '@convite/core';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { TimeField } from '../ui/time/time-field';
import { Toast } from '../ui/toast';

/** The dates of a series as they come: those that were moved, changed or called off by themselves stand out. */
@Component({
  selector: 'cv-dates',
  imports: [MatButtonModule, RouterLink, TimeField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Dates">
      <div class="row">
        <h2>Dates</h2>
        @if (canChange()) {
          <span class="push row">
            <cv-time-field
              label="Another date"
              [kind]="isAllDay() ? 'day' : 'time'"
              [zone]="event().facts.zone"
              [(value)]="added"
            />
            <button matButton="outlined" [disabled]="!isReady()" (click)="add()">Add this date</button>
          </span>
        }
      </div>
      <ul>
        @for (date of dates(); track date.key) {
          <li [class.over]="isOver(date)">
            <span [class.off]="date.calledOff">{{ say(date) }}</span>
            <span class="small">
              @if (date.calledOff) {
                <strong class="alarm">called off</strong>
              } @else if (date.isChanged) {
                <strong>changed</strong>
              }
            </span>
            <span class="small quiet"
              ><a routerLink="../guests" [queryParams]="{ date: date.key }"
                >{{ date.replies.accepted }} yes, {{ date.replies.declined }} no</a
              ></span
            >
            <span class="actions">
              @if (canChange() && !isOver(date)) {
                @if (!date.calledOff) {
                  <button class="link small" (click)="edited.emit(date.key)">Edit</button>
                  <button class="link small" (click)="change({ kind: 'call-off', key: date.key })">Call off</button>
                }
                @if (date.isChanged) {
                  <button class="link small" (click)="change({ kind: 'put-back', key: date.key })">Put back</button>
                }
              }
            </span>
          </li>
        }
      </ul>
    </section>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 74px 110px 172px;
      gap: 12px;
      align-items: center;
      min-height: 36px;
      border-bottom: 1px solid var(--line);
    }
    li:last-child {
      border: 0;
    }
    .over {
      color: var(--quiet);
    }
    .off {
      text-decoration: line-through;
    }
    .actions {
      display: flex;
      gap: 12px;
      justify-content: end;
    }
    @media (max-width: 700px) {
      li {
        grid-template-columns: minmax(0, 1fr) auto;
        gap: 2px 12px;
        padding: 8px 0;
      }
    }
  `,
})
export class Dates {
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly session = inject(Session);
  readonly event = input.required<EventDetail>();
  readonly dates = input.required<readonly OccurrenceRow[]>();
  readonly nowMs = input.required<number>();
  /** The date that somebody wants to edit by itself. */
  readonly edited = output<string>();
  readonly changed = output();
  protected readonly added = signal('');
  protected readonly isAllDay = computed(() => this.event().facts.span.kind === 'all-day');
  protected readonly isReady = computed(() => (this.isAllDay() ? isDay(this.added()) : isWallTime(this.added())));
  protected readonly canChange = computed(() => this.session.canMarket() && this.event().status !== 'called-off');

  protected isOver = ({ endAt }: OccurrenceRow): boolean => Date.parse(endAt) < this.nowMs();
  protected say = ({ facts }: OccurrenceRow): string => sayWhen(facts, '');

  protected add(): void {
    this.change({ kind: 'add', at: this.added() });
  }
  protected change(change: ChangeDate): void {
    const { id, version } = this.event();
    this.api.changeDate(id, change, version).subscribe({
      next: () => {
        this.added.set('');
        this.toast.say(said[change.kind]);
        this.changed.emit();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}

const said: Readonly<Record<ChangeDate['kind'], string>> = {
  'call-off': 'The date is called off; its cues stop. Tell people from Changes.',
  'put-back': 'The date is as the series has it. Tell people from Changes.',
  add: 'The date is added.',
};
