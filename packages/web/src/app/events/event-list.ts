import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { EventPage, EventQuery } from '@convite/contract';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Pager } from '../ui/pager';
import { When } from '../ui/when';
import { typed } from '../ui/typed';

/** Events with their next start, replies and next cue: what comes, or what is over, a page at a time. */
@Component({
  selector: 'cv-event-list',
  imports: [MatButtonModule, Pager, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Events</h1>
        <div class="choice" role="group" aria-label="Which events">
          <button [attr.aria-pressed]="when() === 'coming'" (click)="choose('coming')">Coming</button>
          <button [attr.aria-pressed]="when() === 'past'" (click)="choose('past')">Past</button>
        </div>
        <input
          type="search"
          placeholder="Find by title or place"
          aria-label="Find an event"
          [value]="search()"
          (input)="find(typed($event))"
        />
        @if (session.canMarket()) {
          <a matButton="outlined" routerLink="/events/import" class="push">Import</a>
          <a matButton="filled" routerLink="/events/new">New event</a>
        }
      </div>
      @if (page(); as page) {
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
              @for (row of page.rows; track row.id) {
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
                    {{
                      search()
                        ? 'No event of these words.'
                        : when() === 'past'
                          ? 'No event is past yet.'
                          : 'No event is coming up. Make the first one.'
                    }}
                  </td>
                </tr>
              }
            </tbody>
          </table>
        </div>
        @if (page.total > page.rows.length) {
          <div class="row">
            <span class="quiet"
              >{{ (after() + 1).toLocaleString('en-GB') }} to
              {{ (after() + page.rows.length).toLocaleString('en-GB') }} of
              {{ page.total.toLocaleString('en-GB') }}</span
            >
            <cv-pager [(after)]="after" [next]="page.next" />
          </div>
        }
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
  protected readonly typed = typed;
  private readonly api = inject(EventsApi);
  protected readonly session = inject(Session);
  protected readonly when = signal<EventQuery['when']>('coming');
  protected readonly search = signal('');
  protected readonly after = signal(0);
  protected readonly resource = rxResource({
    params: () => ({ when: this.when(), search: this.search().trim(), after: this.after() }),
    stream: ({ params }) => this.api.list(params),
  });
  /** What was read last, until the next is here: a list must not blink as one types. */
  protected readonly page = linkedSignal<EventPage | undefined, EventPage | null>({
    source: () => (this.resource.hasValue() ? this.resource.value() : undefined),
    computation: (read, previous) => read ?? (this.resource.error() ? null : (previous?.value ?? null)),
  });

  constructor() {
    reloadOn(
      () => ['events', 'clock'],
      () => this.resource.reload(),
    );
  }

  protected choose(when: EventQuery['when']): void {
    this.after.set(0);
    this.when.set(when);
  }
  protected find(text: string): void {
    this.after.set(0);
    this.search.set(text);
  }
}
