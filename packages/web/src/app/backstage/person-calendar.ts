import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { BackstageApi } from '../api/backstage';

/** The calendar of one person, as an independent calendar reader understood what arrived. */
@Component({
  selector: 'cv-person-calendar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (entry of entries(); track entry.uid) {
        <li [class.cancelled]="entry.status === 'CANCELLED'">
          <strong class="rtl-safe">{{ entry.title }}</strong>
          <span>{{ entry.start.replace('T', ' ') }} to {{ entry.end.replace('T', ' ') }} {{ entry.zone }}</span>
          <span class="quiet pre">{{ entry.place }}</span>
          @if (entry.dates.length) {
            <ol class="small" [attr.aria-label]="'Dates of ' + entry.title">
              @for (date of entry.dates; track date.recurrence) {
                <li [class.off]="date.status === 'CANCELLED'">
                  {{ date.at.replace('T', ' ') }}
                  @if (date.at !== date.recurrence && date.status !== 'CANCELLED') {
                    <span class="quiet">instead of {{ date.recurrence.replace('T', ' ') }}</span>
                  }
                </li>
              }
            </ol>
          }
          <span class="small quiet">{{ entry.status.toLowerCase() }} · sequence {{ entry.sequence }}</span>
        </li>
      } @empty {
        <li class="empty">Nothing in this calendar.</li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      display: grid;
      gap: 10px;
    }
    ol {
      margin: 4px 0;
      padding-left: 20px;
    }
    .off {
      text-decoration: line-through;
    }
    ul > li:not(.empty) {
      display: grid;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-left: 5px solid var(--yes);
      border-radius: 4px;
      padding: 10px 14px;
    }
    li.cancelled {
      border-left-color: var(--alarm);
    }
    .cancelled strong {
      text-decoration: line-through;
    }
  `,
})
export class PersonCalendar {
  private readonly api = inject(BackstageApi);
  readonly address = input.required<string>();
  /** Changes whenever it is time to look again. */
  readonly tick = input(0);
  private readonly resource = rxResource({
    params: () => this.address(),
    stream: ({ params }) => this.api.calendar(params),
  });
  protected readonly entries = computed(() => (this.resource.hasValue() ? (this.resource.value() ?? []) : []));

  constructor() {
    effect(() => {
      if (this.tick()) untracked(() => this.resource.reload());
    });
  }
}
