import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { ListsField } from '../ui/lists-field';
import { PeopleField } from '../ui/people-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { replyStates, type Audience, type ReplyState } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { SegmentsApi } from '../api/segments';
import { ReadingProblem } from '../ui/reading-problem';
import { replyWords } from './reply-words';
import { Fold } from '../ui/fold';

/** Who a cue is for: invitees by their answer, lists, segments and people by hand, less others. */
@Component({
  selector: 'cv-cue-audience',
  imports: [Fold, ListsField, MatCheckboxModule, PeopleField, ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>For invitees who said</legend>
      @for (reply of replies; track reply) {
        <mat-checkbox [checked]="audience().invitees.includes(reply)" (change)="toggleReply('invitees', reply)">{{
          words[reply]
        }}</mat-checkbox>
      }
    </fieldset>
    <cv-fold heading="Also for others, or leaving out" [isOpen]="goesByOthers()">
      <cv-reading-problem [of]="lists" what="The lists" />
      <div class="fields">
        <div class="half">
          <cv-lists-field
            label="Also for the lists"
            [lists]="lists.value()"
            [chosen]="audience().lists"
            (chosenChange)="choose('lists', $event)"
          />
        </div>
        <div class="half">
          <cv-lists-field
            label="Leaving out the lists"
            [lists]="lists.value()"
            [chosen]="audience().exceptLists"
            (chosenChange)="choose('exceptLists', $event)"
          />
        </div>
        @if (segments.value().length) {
          <div class="half">
            <cv-lists-field
              label="Also for the segments"
              [lists]="segments.value()"
              [chosen]="audience().segments ?? []"
              (chosenChange)="choose('segments', $event)"
            />
          </div>
          <div class="half">
            <cv-lists-field
              label="Leaving out the segments"
              [lists]="segments.value()"
              [chosen]="audience().exceptSegments ?? []"
              (chosenChange)="choose('exceptSegments', $event)"
            />
          </div>
        }
        <div class="half">
          <cv-people-field
            label="Also for these people"
            [ids]="audience().people ?? []"
            (idsChange)="choose('people', $event)"
          />
        </div>
        <div class="half">
          <cv-people-field
            label="Leaving out these people"
            [ids]="audience().exceptPeople ?? []"
            (idsChange)="choose('exceptPeople', $event)"
          />
        </div>
      </div>
      <fieldset>
        <legend>Leaving out whoever said</legend>
        @for (reply of answers; track reply) {
          <mat-checkbox
            [aria-label]="'Leaving out whoever said ' + words[reply]"
            [checked]="audience().exceptReplies.includes(reply)"
            (change)="toggleReply('exceptReplies', reply)"
            >{{ words[reply] }}</mat-checkbox
          >
        }
      </fieldset>
    </cv-fold>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: flex;
      flex-wrap: wrap;
      gap: 2px 16px;
    }
    legend {
      font-weight: 600;
      padding: 0 0 2px;
    }
  `,
})
export class CueAudience {
  private readonly api = inject(AudienceApi);
  private readonly segmentsApi = inject(SegmentsApi);
  readonly audience = input.required<Audience>();
  readonly audienceChange = output<Audience>();
  protected readonly replies = replyStates;
  /** A reminder to register is not for who has registered: it unsettles them. */
  protected readonly answers = replyStates.filter((state) => state !== 'needs-action');
  protected readonly words = replyWords;
  protected readonly lists = reading(() => this.api.lists(), []);
  protected readonly segments = reading(() => this.segmentsApi.offered(), []);
  protected readonly goesByOthers = computed(() => {
    const { lists, exceptLists, exceptReplies, segments = [], exceptSegments = [] } = this.audience();
    const { people = [], exceptPeople = [] } = this.audience();
    const others = [lists, exceptLists, exceptReplies, segments, exceptSegments, people, exceptPeople];
    return others.some(({ length }) => length > 0);
  });

  protected toggleReply(which: 'invitees' | 'exceptReplies', reply: ReplyState): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], reply) });
  }
  protected choose(
    which: 'lists' | 'exceptLists' | 'segments' | 'exceptSegments' | 'people' | 'exceptPeople',
    ids: readonly number[],
  ): void {
    this.audienceChange.emit({ ...this.audience(), [which]: [...ids] });
  }
}

const flip = <T>(items: readonly T[], item: T): T[] =>
  items.includes(item) ? items.filter((one) => one !== item) : [...items, item];
