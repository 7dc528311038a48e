import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { EventRow } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { SharedClock } from '../ui/shared-clock';
import { When } from '../ui/when';

/** Every event with its next start, replies and next cue. */
@Component({
  selector: 'cv-event-list',
  imports: [MatButtonModule, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Events</h1>
        <div class="choice" role="group" aria-label="Which events">
          <button [attr.aria-pressed]="!showPast()" (click)="showPast.set(false)">Coming</button>
          <button [attr.aria-pressed]="showPast()" (click)="showPast.set(true)">Past</button>
        </div>
        @if (session.canMarket()) {
          <a matButton="outlined" routerLink="/events/import" class="push">Import</a>
          <a matButton="filled" routerLink="/events/new">New event</a>
        }
      </div>
      @if (resource.hasValue()) {
        <div class="scroll" tabindex="0" role="region" aria-label="Events">
          <table class="list">
            <thead>
              <tr>
                <th>Event</th>
                <th>Starts</th>
                <th>State</th>
                <th class="number">Yes</th>
                <th class="number">Perhaps</th>
                <th class="number">No</th>
                <th class="number">No answer</th>
                <th>Next cue</th>
              </tr>
            </thead>
            <tbody>
              @for (row of rows(); track row.id) {
                <tr>
                  <td class="clip">
                    <a [routerLink]="['/events', row.id]" class="rtl-safe"
                      ><strong>{{ row.title }}</strong></a
                    >
                    @if (row.repeats) {
                      <br /><span class="small quiet">{{ row.repeats }}</span>
                    }
                  </td>
                  <td>
                    <cv-when [at]="row.startAt" [zone]="row.zone" [dayOnly]="row.isAllDay" />
                    @if (row.isAllDay) {
                      <span class="quiet"> all day</span>
                    }
                  </td>
                  <td>
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
                  </td>
                  <td class="number yes">{{ row.replies.accepted }}</td>
                  <td class="number">{{ row.replies.tentative }}</td>
                  <td class="number">{{ row.replies.declined }}</td>
                  <td class="number quiet">{{ row.replies['needs-action'] }}</td>
                  <td>
                    @if (row.nextCue; as cue) {
                      {{ cue.name }}<br /><span class="quiet small"
                        ><cv-when [at]="cue.dueAt" [zone]="row.zone"
                      /></span>
                    } @else {
                      <span class="quiet">none</span>
                    }
                  </td>
                </tr>
              } @empty {
                <tr>
                  <td colspan="8" class="quiet">
                    {{ showPast() ? 'No event is past yet.' : 'No event is coming up. Make the first one.' }}
                  </td>
                </tr>
              }
            </tbody>
          </table>
        </div>
      } @else if (resource.error()) {
        <p class="note alarm" role="alert">
          The events cannot be read just now. <button class="link" (click)="resource.reload()">Try again</button>
        </p>
      } @else {
        <p class="quiet" role="status">Reading the events …</p>
      }
    </main>
  `,
  styles: `
    td.clip {
      width: 34%;
    }
  `,
})
export class EventList {
  private readonly api = inject(EventsApi);
  private readonly clock = inject(SharedClock);
  protected readonly session = inject(Session);
  protected readonly showPast = signal(false);
  protected readonly resource = rxResource({ stream: () => this.api.list() });
  /** Coming soonest first; past latest first. */
  protected readonly rows = computed<EventRow[]>(() => {
    const all = this.resource.hasValue() ? this.resource.value() : [];
    const now = new Date(this.clock.nowMs()).toISOString();
    return this.showPast() ? all.filter(({ endAt }) => endAt < now).reverse() : all.filter(({ endAt }) => endAt >= now);
  });

  constructor() {
    reloadOn(
      () => ['events', 'clock'],
      () => this.resource.reload(),
    );
  }
}
