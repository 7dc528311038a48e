import { ChangeDetectionStrategy, Component, inject, input, model } from '@angular/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { ListsField } from '../ui/lists-field';
import { PeopleField } from '../ui/people-field';
import { ReadingProblem } from '../ui/reading-problem';

/** People as they are named for an audience, in it or left out. */
export interface SomePeople {
  readonly lists: readonly number[];
  readonly segments: readonly number[];
  readonly people: readonly number[];
}
export const nobody: SomePeople = { lists: [], segments: [], people: [] };
export const isAnybody = ({ lists, segments, people }: SomePeople): boolean =>
  lists.length + segments.length + people.length > 0;

/** Lists, segments and people by hand: who is in beside others, or who is left out. */
@Component({
  selector: 'cv-some-people',
  imports: [ListsField, PeopleField, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <cv-reading-problem [of]="lists" what="The lists" />
    <cv-lists-field
      [label]="words() + ' the lists'"
      [lists]="lists.value()"
      [chosen]="some().lists"
      (chosenChange)="change({ lists: $event })"
    />
    @if (segments.value().length) {
      <cv-lists-field
        [label]="words() + ' the segments'"
        [lists]="segments.value()"
        [chosen]="some().segments"
        (chosenChange)="change({ segments: $event })"
      />
    }
    <cv-people-field
      [label]="words() + ' these people'"
      [ids]="some().people"
      (idsChange)="change({ people: $event })"
    />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
      align-content: start;
    }
  `,
})
export class SomePeopleField {
  private readonly api = inject(AudienceApi);
  private readonly segmentsApi = inject(SegmentsApi);
  /** What it means that somebody is named: `Also for`, `Leaving out`. */
  readonly words = input.required<string>();
  readonly some = model.required<SomePeople>();
  protected readonly lists = reading(() => this.api.lists(), []);
  protected readonly segments = reading(() => this.segmentsApi.offered(), []);

  protected change(part: Partial<SomePeople>): void {
    this.some.update((some) => ({ ...some, ...part }));
  }
}
