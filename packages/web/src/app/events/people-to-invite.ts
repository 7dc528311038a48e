import { ChangeDetectionStrategy, Component, inject, model } from '@angular/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { ListsField } from '../ui/lists-field';
import { ReadingProblem } from '../ui/reading-problem';
import { PastePeople } from './paste-people';

/** Who is going to be invited, before there is an event: lists and segments that there are, and addresses pasted here. */
@Component({
  selector: 'cv-people-to-invite',
  imports: [ListsField, PastePeople, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-lists-field [lists]="lists.value()" [(chosen)]="chosen" />
    <cv-reading-problem [of]="lists" what="The lists" />
    @if (offered.value().length) {
      <cv-lists-field label="Segments" [lists]="offered.value()" [(chosen)]="segments" />
    }
    <cv-paste-people
      [label]="lists.value().length ? 'Or paste addresses' : 'Paste addresses'"
      [(pasted)]="pasted"
      [(how)]="how"
    />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
    }
  `,
})
export class PeopleToInvite {
  private readonly audience = inject(AudienceApi);
  private readonly segmentsApi = inject(SegmentsApi);
  readonly chosen = model.required<readonly number[]>();
  readonly segments = model.required<readonly number[]>();
  readonly pasted = model.required<string>();
  /** In words, kept with each of those who are pasted: nobody is written to who did not agree. */
  readonly how = model.required<string>();
  protected readonly lists = reading(() => this.audience.lists(), []);
  protected readonly offered = reading(() => this.segmentsApi.offered(), []);
}
