import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { EventDetail, WaitingRow } from '@convite/contract';
import { findOccurrence, sayWhen } from '@convite/core';
import { EventsApi } from '../api/events';
import { reloadOn } from '../api/live';
import { Session } from '../api/session';
import { Confirm } from '../ui/confirm';
import { Cell, type Column } from '../ui/table/column';
import { rowSource } from '../ui/table/row-source';
import { Table } from '../ui/table/table';
import { Toast } from '../ui/toast';
import { When } from '../ui/when';

/** Who waits for a place, whoever has waited longest first; nothing where nobody does. */
@Component({
  selector: 'cv-waitlist',
  imports: [Cell, MatButtonModule, Table, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (waiting.first()?.rows?.length) {
      <section class="stack" aria-label="Waitlist">
        <h2>Waitlist</h2>
        <cv-table label="Waitlist" [source]="waiting" [columns]="columns()">
          <ng-template cvCell="who" [cvCellOf]="waiting" let-row
            ><bdi>{{ whom(row) }}</bdi></ng-template
          >
          <ng-template cvCell="address" [cvCellOf]="waiting" let-row
            ><span class="quiet">{{ row.person.email || row.person.mobile }}</span></ng-template
          >
          <ng-template cvCell="date" [cvCellOf]="waiting" let-row>{{ dateOf(row) }}</ng-template>
          <ng-template cvCell="since" [cvCellOf]="waiting" let-row
            ><cv-when [at]="row.since" [zone]="event().facts.zone"
          /></ng-template>
          <ng-template cvCell="state" [cvCellOf]="waiting" let-row>
            @if (row.keptUntil) {
              asked; a place is kept until <cv-when [at]="row.keptUntil" [zone]="event().facts.zone" />
            } @else {
              waits
            }
          </ng-template>
          <ng-template cvCell="act" [cvCellOf]="waiting" let-row>
            <span class="row acts">
              <button matButton (click)="give(row)">Give a place …</button>
              <button matButton (click)="end(row)">Take off …</button>
            </span>
          </ng-template>
        </cv-table>
      </section>
    }
  `,
  styles: `
    .acts {
      flex-wrap: nowrap;
      white-space: nowrap;
      gap: 0;
    }
  `,
})
export class Waitlist {
  protected readonly session = inject(Session);
  private readonly api = inject(EventsApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  readonly event = input.required<EventDetail>();
  /** Key of the date whose waitlist is shown; empty for those of all dates. */
  readonly date = input('');
  protected readonly waiting = rowSource(
    () => ({ id: this.event().id, occurrence: this.date() }),
    ({ id, occurrence }, after) => this.api.waitlist(id, { occurrence, after: String(after ?? '') }),
    ({ id, occurrence }) => [id, occurrence],
  );
  protected readonly columns = computed((): Column[] => [
    { key: 'who', label: 'Who', onCard: 'title' },
    { key: 'address', label: 'Address' },
    ...(this.event().facts.series && !this.date() ? [{ key: 'date', label: 'For', onCard: 'fact' } as const] : []),
    { key: 'since', label: 'Waits since', onCard: 'fact' },
    { key: 'state', label: 'Their turn', onCard: 'fact' },
    ...(this.session.canMarket()
      ? [{ key: 'act', label: 'What to do', isLabelHidden: true, onCard: 'fact' } as const]
      : []),
  ]);

  constructor() {
    reloadOn(
      () => [`event:${this.event().id}`],
      () => this.waiting.reload(),
    );
  }

  protected whom = ({ person }: WaitingRow): string => person.name || person.email || person.mobile;
  protected dateOf({ occurrence }: WaitingRow): string {
    const date = findOccurrence(this.event().facts, occurrence);
    return date ? sayWhen(date.facts, '') : '';
  }
  protected give(row: WaitingRow): void {
    const whom = this.whom(row);
    this.confirm
      .ask({
        title: `Give ${whom} a place?`,
        text: 'They have it at once, also where that is one more than there are places, and they are told.',
        yes: 'Give it',
      })
      .subscribe(() => this.done(this.api.givePlace(this.event().id, placeOf(row)), `${whom} has a place.`));
  }
  protected end(row: WaitingRow): void {
    const whom = this.whom(row);
    this.confirm
      .ask({ title: `Take ${whom} off the waitlist?`, text: 'They are not told.', yes: 'Take them off' })
      .subscribe(() => this.done(this.api.endWaiting(this.event().id, placeOf(row)), `${whom} waits no longer.`));
  }
  private done(doing: ReturnType<EventsApi['givePlace']>, says: string): void {
    doing.subscribe({
      next: () => {
        this.toast.say(says);
        this.waiting.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}

const placeOf = ({ person, occurrence }: WaitingRow) => ({ personId: person.id, occurrence });
