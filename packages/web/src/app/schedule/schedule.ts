import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { tableFormats, type BoardItem } from '@convite/contract';
import { sayZone, wallTimeAt, sayLane } from '@convite/core';
import { reloadOn } from '../api/live';
import { ScheduleApi } from '../api/schedule';
import { Session } from '../api/session';
import { sayPeople } from '../ui/people-count';
import { sayClock, sayCount, sayDay, sayNumber } from '../ui/say';
import { sayWhom } from '../ui/say-whom';
import { StateMark } from '../ui/state-mark';
import { typed } from '../ui/typed';

const spans = [7, 14, 28, 35] as const;

/** One day of what is due. */
interface ScheduledDay {
  readonly day: string;
  readonly sum: string;
  readonly rows: readonly BoardItem[];
}

/** Everything due, by day and hour, with how many get it: on one page for a meeting, as a file, and in the team's own calendars. */
@Component({
  selector: 'cv-schedule',
  imports: [MatButtonModule, MatFormFieldModule, MatInputModule, RouterLink, StateMark],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <p class="small not-printed"><a routerLink="/">Call board</a></p>
      <div class="head">
        <h1>Schedule</h1>
        <span class="quiet">{{ about() }}</span>
        <span class="row push not-printed">
          <mat-form-field class="inline" subscriptSizing="dynamic"
            ><select matNativeControl aria-label="How far ahead" (change)="span(typed($event))">
              @for (one of spans; track one) {
                <option [value]="one" [selected]="one === days()">the next {{ one }} days</option>
              }
            </select></mat-form-field
          >
          @if (session.canMarket()) {
            @for (file of files(); track file.url) {
              <a matButton [href]="file.url" download>{{ file.name }}</a>
            }
          }
          <button matButton="filled" (click)="print()">Print it</button>
        </span>
      </div>
      @if (read.hasValue()) {
        @for (day of byDay(); track day.day) {
          <section [attr.aria-label]="say(day.day)">
            <h2>
              {{ say(day.day) }} <span class="quiet small">{{ day.sum }}</span>
            </h2>
            <table>
              <tbody>
                @for (row of day.rows; track row.firingId) {
                  <tr>
                    <td class="time">{{ time(row) }}</td>
                    <td>
                      <a [routerLink]="linkOf(row)">{{ row.title }}</a>
                      @if (row.eventTitle) {
                        <span class="quiet rtl-safe">&ngsp;· {{ row.eventTitle }}</span>
                      }
                      @if (whom(row); as who) {
                        <span class="quiet small">&ngsp;{{ who }}</span>
                      }
                    </td>
                    <td class="by">{{ sayLane(row.channel) }}</td>
                    <td class="number">{{ people(row) }}</td>
                    <td class="state"><cv-state [state]="row.state" /></td>
                  </tr>
                }
              </tbody>
            </table>
          </section>
        } @empty {
          <div class="empty">Nothing is due in these days.</div>
        }
        @if (read.value().hasMore) {
          <p class="note">There is more than is listed: look at fewer days.</p>
        }
        @if (read.value().feedUrl; as url) {
          <section class="sheet stack not-printed" aria-label="In your own calendar">
            <h2>In your own calendar</h2>
            <p class="small quiet">
              Subscribe to this address: it says what goes out for the next five weeks, for as long as you are on the
              team. Keep it to yourself.
            </p>
            <p class="mono url" tabindex="0">{{ url }}</p>
          </section>
        }
      } @else if (read.error()) {
        <p class="note alarm" role="alert">
          The schedule cannot be read just now. <button class="link" (click)="read.reload()">Try again</button>
        </p>
      } @else {
        <p class="quiet" role="status">Reading the schedule …</p>
      }
    </main>
  `,
  styles: `
    h2 {
      margin: 16px 0 4px;
    }
    table {
      width: 100%;
      border-collapse: collapse;
    }
    td {
      padding: 5px 12px 5px 0;
      border-top: 1px solid var(--line);
      vertical-align: baseline;
      font-variant-numeric: tabular-nums;
    }
    .time {
      width: 70px;
      font-weight: 600;
    }
    .by,
    .state {
      width: 90px;
    }
    .number {
      width: 90px;
      text-align: right;
    }
    .url {
      overflow-wrap: anywhere;
      margin: 0;
    }
    @media print {
      td,
      td .small {
        padding: 2px 10px 2px 0;
        font-size: 10.5px;
      }
      h2 {
        margin: 8px 0 2px;
        font-size: 13px;
        break-after: avoid;
      }
      a {
        color: inherit;
        text-decoration: none;
      }
    }
  `,
})
export class ScheduleScreen {
  protected readonly sayLane = sayLane;
  private readonly api = inject(ScheduleApi);
  protected readonly session = inject(Session);
  protected readonly typed = typed;
  protected readonly spans = spans;
  protected readonly days = signal<number>(14);
  protected readonly read = rxResource({
    params: () => this.days(),
    stream: ({ params }) => this.api.read(params),
  });
  private readonly rows = computed(() => (this.read.hasValue() ? this.read.value().rows : []));
  private readonly zone = computed(() => (this.read.hasValue() ? this.read.value().zone : 'UTC'));
  protected readonly about = computed(() => `what is due, in ${sayZone(this.zone())} time`);
  protected readonly byDay = computed((): ScheduledDay[] => {
    const days = new Map<string, BoardItem[]>();
    for (const row of this.rows()) {
      const day = wallTimeAt(Date.parse(row.dueAt), this.zone()).slice(0, 10);
      days.set(day, [...(days.get(day) ?? []), row]);
    }
    return [...days].map(([day, rows]) => ({
      day,
      rows,
      sum: sayCount(
        rows.reduce((sum, { tally, state }) => sum + (state === 'stopped' || state === 'missed' ? 0 : tally.gets), 0),
        'message',
        'messages',
      ),
    }));
  });
  protected readonly files = computed(() =>
    tableFormats.map((format) => ({
      name: format === 'csv' ? 'CSV' : 'Workbook',
      url: `/api/schedule.${format}?days=${this.days()}`,
    })),
  );

  constructor() {
    reloadOn(
      () => ['board', 'clock'],
      () => this.read.reload(),
    );
  }

  protected span(text: string): void {
    this.days.set(spans.find((one) => one === Number(text)) ?? 14);
  }
  protected print(): void {
    window.print();
  }
  protected say = (day: string): string => sayDay(day);
  protected time = ({ dueAt }: BoardItem): string => sayClock(wallTimeAt(Date.parse(dueAt), this.zone()).slice(11));
  protected people = ({ tally, state }: BoardItem): string =>
    state === 'set' || state === 'standby' ? sayPeople(tally, state) : sayNumber(tally.gets);
  protected whom = (row: BoardItem): string => sayWhom(row, this.zone());
  protected linkOf = ({ eventId }: BoardItem): (string | number)[] =>
    eventId === null ? ['/digests'] : ['/events', eventId, 'countdown'];
}
