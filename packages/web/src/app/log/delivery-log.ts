import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { map, type Observable } from 'rxjs';
import { tableFormats, type LogRow, type LogState } from '@convite/contract';
import { sayMinutes, sayLane } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { LogApi } from '../api/log';
import { Session } from '../api/session';
import { Chooser, type Choice } from '../ui/chooser';
import { findEventChoices } from '../ui/event-choices';
import { Fold } from '../ui/fold';
import { sayInstant } from '../ui/say';
import { SentMessageView } from '../ui/sent-message';
import { Cell, type Column } from '../ui/table/column';
import { Filter, type FilterChoice } from '../ui/table/filter';
import { rowSource } from '../ui/table/row-source';
import { Table, type FileLink } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

/** What became of a message, as the marketer reads it. */
const stateWords: Readonly<Record<LogRow['state'], string>> = {
  queued: 'waits',
  sending: 'is being sent',
  sent: 'taken by their server',
  delivered: 'arrived',
  failed: 'refused',
  bounced: 'came back',
  skipped: 'not sent',
  stopped: 'held',
};
const alarming: readonly string[] = ['failed', 'bounced'];

/** Every message to every person, of one sending or of all, the latest first: when it was planned, when it left, what became of it. */
@Component({
  selector: 'cv-delivery-log',
  imports: [Cell, Chooser, Filter, Fold, MatButtonModule, RouterLink, SentMessageView, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <p class="small">
        <a routerLink="/">Call board</a>
        @if (firing()) {
          · <a routerLink="/log">All that went out</a>
        }
      </p>
      <div class="head">
        <h1>Delivery log</h1>
        @if (firing() && page(); as page) {
          <span class="rtl-safe"
            >{{ page.title }}
            @if (page.eventTitle) {
              <span class="quiet">· {{ page.eventTitle }}</span>
            }
          </span>
        } @else {
          <span class="quiet">all that went out, the latest sending first</span>
        }
        @if (session.canMarket() && firing() && hasFailed()) {
          <button matButton="filled" class="push" (click)="tryAgain()">Try those refused again</button>
        }
      </div>
      <cv-table
        name="log"
        label="Messages"
        [source]="rows"
        [columns]="columns()"
        [exports]="files()"
        [(find)]="search"
        findLabel="Find somebody"
        findHint="Find by name, address or number"
      >
        <span above class="row">
          <cv-filter none="" label="What became of it" [choices]="states" [(value)]="wanted" />
          @if (!firing()) {
            <cv-filter none="" label="Channel" [choices]="channels" [(value)]="channel" />
            <cv-chooser
              label="Only one event"
              placeholder="Only one event"
              [find]="findEvent"
              [clears]="true"
              (chosen)="only.set($event)"
            />
          }
        </span>
        @if (page()?.hasMorePeople) {
          <p above class="note">
            More people match this than are looked through here: type more of the name or address.
          </p>
        }
        <span empty>{{ emptyWords() }}</span>
        <ng-template cvCell="person" [cvCellOf]="rows" let-row>
          <bdi>{{ row.person.name || '—' }}</bdi>
          <div class="quiet small">{{ row.channel === 'text' ? row.person.mobile : row.person.email }}</div>
        </ng-template>
        <ng-template cvCell="message" [cvCellOf]="rows" let-row>
          <a [routerLink]="['/sendings', row.firingId]">{{ row.title }}</a>
          @if (row.eventTitle) {
            &ngsp;<span class="quiet rtl-safe">· {{ row.eventTitle }}</span>
          }
        </ng-template>
        <ng-template cvCell="by" [cvCellOf]="rows" let-row>{{ sayLane(row.channel) }}</ng-template>
        <ng-template cvCell="planned" [cvCellOf]="rows" let-row
          ><cv-when [at]="row.dueAt" [zone]="zone()" />
          <div class="quiet small">{{ left(row) }}</div>
        </ng-template>
        <ng-template cvCell="state" [cvCellOf]="rows" let-row>
          <span [class.alarm]="isAlarming(row)">{{
            row.channel === 'act' && row.state === 'sent' ? 'done' : words[row.state]
          }}</span>
        </ng-template>
        <ng-template cvCell="answer" [cvCellOf]="rows" let-row>
          <div class="small">
            {{ row.answer }}
            @if (row.attempts.length > 1) {
              <cv-fold [heading]="row.attempts.length + ' answers in all'">
                @for (attempt of row.attempts; track $index) {
                  <div><cv-when [at]="attempt.at" [zone]="zone()" /> {{ attempt.answer }}</div>
                }
              </cv-fold>
            }
            @if (row.advice) {
              <div class="quiet">{{ row.advice }}</div>
            }
          </div>
        </ng-template>
        <ng-template cvCell="show" [cvCellOf]="rows" let-row>
          @if (row.isKept && session.canMarket()) {
            <button
              class="link small"
              [attr.aria-expanded]="opened() === row.id"
              (click)="opened.set(opened() === row.id ? null : row.id)"
            >
              {{ opened() === row.id ? 'Close it' : 'Show it' }}
            </button>
          }
        </ng-template>
      </cv-table>
      @if (opened() !== null) {
        @if (message.hasValue()) {
          <cv-sent-message [message]="message.value()" />
        } @else if (message.error()) {
          <p class="note alarm" role="alert">This message cannot be shown.</p>
        }
      }
    </main>
  `,
})
export class DeliveryLog {
  protected readonly sayLane = sayLane;
  private readonly api = inject(LogApi);
  private readonly events = inject(EventsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  /** Of one sending alone, by the address; of all where it names none. */
  readonly id = input<string>();
  /** What became of it, by the address. */
  readonly state = input<string>();
  protected readonly words = stateWords;
  protected readonly firing = computed(() => Number(this.id()) || 0);
  protected readonly channel = signal<'' | 'email' | 'text'>('');
  protected readonly only = signal<Choice<number> | null>(null);
  protected readonly search = signal('');
  protected readonly states: readonly FilterChoice<LogState>[] = [
    { key: 'not-reached', label: 'not reached' },
    { key: 'failed', label: 'refused' },
    { key: 'bounced', label: 'came back' },
    { key: 'skipped', label: 'not sent' },
    { key: 'queued', label: 'waits' },
    { key: 'sent', label: 'taken by their server' },
    { key: 'delivered', label: 'arrived' },
  ];
  protected readonly wanted = linkedSignal<string | undefined, LogState>({
    source: this.state,
    computation: (asked) => this.states.find(({ key }) => key === asked)?.key ?? '',
  });
  protected readonly channels: readonly FilterChoice<'email' | 'text' | 'act'>[] = [
    { key: 'email', label: 'email' },
    { key: 'text', label: 'text' },
    { key: 'act', label: 'task' },
  ];
  protected readonly columns = computed((): readonly Column[] => [
    { key: 'person', label: 'Person', onCard: 'title' },
    ...(this.firing()
      ? []
      : [{ key: 'message', label: 'Message', onCard: 'fact' } as const, { key: 'by', label: 'By' }]),
    { key: 'planned', label: 'Planned, and when it left', onCard: 'fact' },
    { key: 'state', label: 'What became of it', onCard: 'fact' },
    { key: 'answer', label: 'In the other server’s words', onCard: 'fact' },
    { key: 'show', label: 'Show it', isLabelHidden: true, onCard: 'fact' },
  ]);
  private readonly query = computed(() => ({
    firing: this.firing(),
    event: this.only()?.value ?? 0,
    channel: this.channel(),
    state: this.wanted(),
    search: this.search(),
  }));
  protected readonly rows = rowSource(
    () => this.query(),
    (query, after) =>
      this.api
        .page({ ...query, after: String(after ?? '') })
        .pipe(map((page) => ({ ...page, rows: page.rows.map((row) => ({ ...row, id: row.deliveryId })) }))),
    ({ firing }) => firing,
  );
  protected readonly page = this.rows.first;
  protected readonly zone = computed(() => this.page()?.zone ?? 'UTC');
  protected readonly hasFailed = computed(() => this.rows.rows().some(({ state }) => state === 'failed'));
  protected readonly emptyWords = computed(() =>
    this.wanted() === 'not-reached'
      ? 'Everybody was reached, or is being tried again.'
      : 'No message is found by this.',
  );
  protected readonly opened = linkedSignal<unknown, number | null>({ source: this.query, computation: () => null });
  protected readonly message = rxResource({
    params: () => this.opened() ?? undefined,
    stream: ({ params }) => this.api.message(params),
  });
  protected readonly files = computed((): FileLink[] => {
    if (!this.session.canMarket()) return [];
    const query = new URLSearchParams(
      Object.entries(this.query()).map(([key, value]): [string, string] => [key, String(value)]),
    ).toString();
    return tableFormats.map((format) => ({
      name: format === 'csv' ? 'CSV' : 'Workbook (.xlsx)',
      url: `/api/log.${format}?${query}`,
    }));
  });
  protected readonly findEvent = (text: string): Observable<readonly Choice<number>[]> =>
    findEventChoices((query) => this.events.list(query), text, ['past', 'coming']);

  constructor() {
    reloadOn(
      () => ['board'],
      () => this.rows.reload(),
    );
  }

  protected isAlarming = ({ state }: LogRow): boolean => alarming.includes(state);
  /** @example 'left in time', 'left 3 seconds later', 'left 2 hours later, Fri 27 Nov 20:30 Lisbon' */
  protected left({ dueAt, sentAt }: LogRow): string {
    if (sentAt === null) return 'did not leave';
    const seconds = Math.round((Date.parse(sentAt) - Date.parse(dueAt)) / 1000);
    if (seconds < 2) return 'left in time';
    return seconds < 120
      ? `left ${seconds} seconds later`
      : `left ${sayMinutes(Math.round(seconds / 60))} later, ${sayInstant(Date.parse(sentAt), this.zone())}`;
  }
  protected tryAgain(): void {
    this.api.tryAgain(this.firing()).subscribe({
      next: () => {
        this.toast.say('They are tried again.');
        this.rows.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
