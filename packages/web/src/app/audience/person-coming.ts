import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { sayLane } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { readingOf } from '../api/reading';
import { Session } from '../api/session';
import { sayCount } from '../ui/say';
import { HeatStrip } from '../ui/chart/heat-strip';
import { When } from '../ui/when';

/** What is planned for one person, and how much they get in a week, over all events. */
@Component({
  selector: 'cv-person-coming',
  imports: [HeatStrip, RouterLink, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="stack tight" aria-label="What is planned for them">
      <h3>What is planned for them</h3>
      @if (coming.value(); as it) {
        <p class="small">
          {{ sayCount(it.lastWeek, 'message', 'messages') }} in the last seven days,
          <strong>{{ sayCount(it.nextWeek, 'message', 'messages') }}</strong> in the next seven.
          @if (it.most) {
            {{ it.counted }} of at most {{ it.most }} count this week.
          }
        </p>
        @if (it.rows.length) {
          <cv-heat-strip label="Messages planned for them on each of the coming 28 days" [days]="it.days" />
        }
        <ul class="small">
          @for (row of it.rows; track row.firingId) {
            <li>
              <cv-when [at]="row.dueAt" [zone]="zone" /> ·
              @if (row.eventId) {
                <a [routerLink]="['/events', row.eventId, 'countdown']">{{ row.name }}</a>
              } @else {
                {{ row.name }}
              }
              <span class="quiet rtl-safe"
                >{{ row.eventTitle && '· ' + row.eventTitle }} · {{ sayLane(row.channel) }}</span
              >
            </li>
          } @empty {
            <li class="quiet">Nothing within four weeks.</li>
          }
        </ul>
        @if (it.hasMore) {
          <p class="small quiet">More is planned in the house than was looked at: the first hundred sendings.</p>
        }
      } @else if (coming.hasFailed()) {
        <p class="small alarm">What is planned cannot be read just now.</p>
      } @else {
        <p class="small quiet" role="status">Looking …</p>
      }
    </section>
  `,
  styles: `
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class PersonComing {
  protected readonly sayLane = sayLane;
  protected readonly sayCount = sayCount;
  private readonly api = inject(AudienceApi);
  protected readonly zone = inject(Session).zone();
  readonly personId = input.required<number>();
  protected readonly coming = readingOf(
    computed(() => this.personId()),
    (id) => this.api.coming(id),
    null,
  );
}
