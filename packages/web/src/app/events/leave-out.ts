import { ChangeDetectionStrategy, Component, computed, inject, model } from '@angular/core';
import { AudienceApi } from '../api/audience';
import type { LeftOut } from '../api/events';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { Fold } from '../ui/fold';
import { ListsField } from '../ui/lists-field';
import { PeopleField } from '../ui/people-field';

export const nobodyLeftOut: LeftOut = { exceptLists: [], exceptSegments: [], exceptPeople: [] };

/** Lists, segments and people by hand who are not invited, whatever else they are on. */
@Component({
  selector: 'cv-leave-out',
  imports: [Fold, ListsField, PeopleField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-fold heading="Leaving out" [isOpen]="isOpen()">
      <div class="stack tight">
        <cv-lists-field
          label="Leaving out the lists"
          [lists]="lists.value()"
          [chosen]="out().exceptLists"
          (chosenChange)="change({ exceptLists: $event })"
        />
        @if (segments.value().length) {
          <cv-lists-field
            label="Leaving out the segments"
            [lists]="segments.value()"
            [chosen]="out().exceptSegments"
            (chosenChange)="change({ exceptSegments: $event })"
          />
        }
        <cv-people-field
          label="Leaving out these people"
          [ids]="out().exceptPeople"
          (idsChange)="change({ exceptPeople: $event })"
        />
      </div>
    </cv-fold>
  `,
})
export class LeaveOut {
  private readonly api = inject(AudienceApi);
  private readonly segmentsApi = inject(SegmentsApi);
  readonly out = model.required<LeftOut>();
  protected readonly lists = reading(() => this.api.lists(), []);
  protected readonly segments = reading(() => this.segmentsApi.offered(), []);
  protected readonly isOpen = computed(() =>
    Object.values(this.out()).some((some: readonly number[]) => some.length > 0),
  );

  protected change(some: Partial<LeftOut>): void {
    this.out.update((out) => ({ ...out, ...some }));
  }
}
