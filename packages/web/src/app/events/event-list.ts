import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatInputModule } from '@angular/material/input';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { EventQuery } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { When } from '../ui/when';
import { typed } from '../ui/typed';

/** Events with their next start, replies and next cue: what comes, or what is over, a page at a time. */
@Component({
  selector: 'cv-event-list',
  imports: [Cell, MatButtonModule, MatFormFieldModule, MatInputModule, RouterLink, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Events</h1>
        <div class="choice" role="group" aria-label="Which events">
          <button [attr.aria-pressed]="when() === 'coming'" (click)="when.set('coming')">Coming</button>
          <button [attr.aria-pressed]="when() === 'past'" (click)="when.set('past')">Past</button>
        </div>
        @if (session.canMarket()) {
          <a matButton="outlined" routerLink="/events/import" class="push">Import</a>
          <a matButton="filled" routerLink="/events/new">New event</a>
        }
      </div>
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
        <span empty>{{
          search()
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
          @switch (row.status) {
            @case ('draft') {
              <span class="quiet">draft</span>
            }
            @case ('called-off') {
              <span class="alarm">called off</span>
            }
            @default {
              published
            }
          }
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
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  private readonly router = inject(Router);
  protected readonly session = inject(Session);
  protected readonly when = signal<EventQuery['when']>('coming');
  protected readonly search = signal('');
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
    () => ({ when: this.when(), search: this.search().trim() }),
    (query, after) => this.api.list({ ...query, after: Number(after ?? 0) }),
  );
  protected readonly total = computed(() => this.events.first()?.total ?? null);

  constructor() {
    reloadOn(
      () => ['events', 'clock'],
      () => this.events.reload(),
    );
  }

  protected open(id: number): void {
    void this.router.navigate(['/events', id]);
  }
}
