import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { EventQuery } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { rxResource } from '@angular/core/rxjs-interop';
import { SettingsApi } from '../api/settings';
import { Filter, type FilterChoice } from '../ui/table/filter';
import { EventState } from '../ui/event-state';
import { YearRibbon } from './year-ribbon';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { SavedViews, type View } from '../ui/table/saved-views';
import { Table } from '../ui/table/table';
import { Toggle, type ToggleOption } from '../ui/toggle';
import { When } from '../ui/when';

/** Events with their next start, replies and next cue: what comes, or what is over, a page at a time. */
@Component({
  selector: 'cv-event-list',
  imports: [Cell, EventState, Filter, MatButtonModule, RouterLink, SavedViews, Table, Toggle, When, YearRibbon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Events</h1>
        <cv-toggle label="Which events" [options]="whens" [(value)]="when" />
        @if (session.canMarket()) {
          <a matButton="outlined" routerLink="/events/import" class="push">Import</a>
          <a matButton="filled" routerLink="/events/new">New event</a>
        }
      </div>
      <cv-year-ribbon />
      <cv-table
        findLabel="Find an event"
        findHint="Find by title or place"
        [(find)]="search"
        name="events"
        label="Events"
        [source]="events"
        [columns]="columns"
        [total]="total()"
        [opens]="true"
        (opened)="open($event.id)"
      >
        <cv-filter above none="" label="State" [choices]="states" [(value)]="status" />
        <cv-filter above none="" label="Topic" [choices]="topics()" [(value)]="topic" />
        <cv-saved-views above name="events" [current]="view()" (chosen)="show($event)" />
        <span empty>{{
          search() || status() || topic()
            ? 'No event of these words.'
            : when() === 'past'
              ? 'No event is past yet.'
              : 'No event is coming up. Make the first one.'
        }}</span>
        <ng-template cvCell="title" [cvCellOf]="events" let-row>
          <a [routerLink]="['/events', row.id]" class="rtl-safe"
            ><strong>{{ row.title }}</strong></a
          >
          @if (row.repeats) {
            <br /><span class="small quiet">{{ row.repeats }}</span>
          }
        </ng-template>
        <ng-template cvCell="starts" [cvCellOf]="events" let-row>
          <cv-when [at]="row.startAt" [zone]="row.zone" [dayOnly]="row.isAllDay" />
          @if (row.isAllDay) {
            <span class="quiet"> all day</span>
          }
        </ng-template>
        <ng-template cvCell="state" [cvCellOf]="events" let-row>
          <cv-event-state [status]="row.status" />
        </ng-template>
        <ng-template cvCell="yes" [cvCellOf]="events" let-row
          ><span class="yes">{{ row.replies.accepted }}</span></ng-template
        >
        <ng-template cvCell="perhaps" [cvCellOf]="events" let-row>{{ row.replies.tentative }}</ng-template>
        <ng-template cvCell="no" [cvCellOf]="events" let-row>{{ row.replies.declined }}</ng-template>
        <ng-template cvCell="silent" [cvCellOf]="events" let-row
          ><span class="quiet">{{ row.replies['needs-action'] }}</span></ng-template
        >
        <ng-template cvCell="cue" [cvCellOf]="events" let-row>
          @if (row.nextCue; as cue) {
            {{ cue.name }}<br /><span class="quiet small"><cv-when [at]="cue.dueAt" [zone]="row.zone" /></span>
          } @else {
            <span class="quiet">none</span>
          }
        </ng-template>
      </cv-table>
    </main>
  `,
})
export class EventList {
  private readonly api = inject(EventsApi);
  private readonly router = inject(Router);
  protected readonly session = inject(Session);
  protected readonly whens: readonly ToggleOption<EventQuery['when']>[] = [
    { key: 'coming', label: 'Coming' },
    { key: 'past', label: 'Past' },
  ];
  protected readonly when = signal<EventQuery['when']>('coming');
  protected readonly search = signal('');
  protected readonly status = signal<EventQuery['status']>('');
  protected readonly topic = signal('');
  protected readonly states: readonly FilterChoice<EventQuery['status']>[] = [
    { key: 'draft', label: 'drafts' },
    { key: 'published', label: 'published' },
    { key: 'called-off', label: 'called off' },
  ];
  private readonly settingsApi = inject(SettingsApi);
  private readonly settings = rxResource({ stream: () => this.settingsApi.get() });
  protected readonly view = computed((): View => ({
    when: this.when(),
    search: this.search().trim(),
    status: this.status(),
    topic: this.topic(),
  }));
  protected readonly topics = computed((): FilterChoice<string>[] =>
    this.settings.hasValue() ? this.settings.value().topics.map((topic) => ({ key: topic, label: topic })) : [],
  );
  protected readonly columns: readonly Column[] = [
    { key: 'title', label: 'Event', onCard: 'title' },
    { key: 'starts', label: 'Starts', onCard: 'fact' },
    { key: 'state', label: 'State', onCard: 'fact' },
    { key: 'yes', label: 'Yes', isNumber: true },
    { key: 'perhaps', label: 'Perhaps', isNumber: true },
    { key: 'no', label: 'No', isNumber: true },
    { key: 'silent', label: 'No answer', isNumber: true },
    { key: 'cue', label: 'Next cue' },
  ];
  protected readonly events = rowSource(
    () => ({ when: this.when(), search: this.search().trim(), status: this.status(), topic: this.topic() }),
    (query, after) => this.api.list({ ...query, after: Number(after ?? 0) }),
  );
  protected readonly total = computed(() => this.events.first()?.total ?? null);

  constructor() {
    reloadOn(
      () => ['events', 'clock'],
      () => this.events.reload(),
    );
  }

  protected show({ when, search = '', status = '', topic = '' }: View): void {
    this.when.set(when === 'past' ? 'past' : 'coming');
    this.search.set(search);
    this.status.set(this.states.find(({ key }) => key === status)?.key ?? '');
    this.topic.set(topic);
  }
  protected open(id: number): void {
    void this.router.navigate(['/events', id]);
  }
}
