import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { replyStates, type Audience, type ReplyState } from '@convite/core';
import { replyWords } from './reply-words';
import { Fold } from '../ui/fold';
import { isAnybody, SomePeopleField, type SomePeople } from './some-people';

/** Who a cue is for: invitees by their answer, lists, segments and people by hand, less others. */
@Component({
  selector: 'cv-cue-audience',
  imports: [Fold, MatCheckboxModule, SomePeopleField],
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
      <div class="fields">
        <cv-some-people class="half" words="Also for" [some]="also()" (someChange)="include($event)" />
        <cv-some-people class="half" words="Leaving out" [some]="out()" (someChange)="leaveOut($event)" />
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
  readonly audience = input.required<Audience>();
  readonly audienceChange = output<Audience>();
  protected readonly replies = replyStates;
  /** A reminder to register is not for who has registered: it unsettles them. */
  protected readonly answers = replyStates.filter((state) => state !== 'needs-action');
  protected readonly words = replyWords;
  protected readonly also = computed((): SomePeople => {
    const { lists, segments = [], people = [] } = this.audience();
    return { lists, segments, people };
  });
  protected readonly out = computed((): SomePeople => {
    const { exceptLists, exceptSegments = [], exceptPeople = [] } = this.audience();
    return { lists: exceptLists, segments: exceptSegments, people: exceptPeople };
  });
  protected readonly goesByOthers = computed(
    () => isAnybody(this.also()) || isAnybody(this.out()) || this.audience().exceptReplies.length > 0,
  );

  protected toggleReply(which: 'invitees' | 'exceptReplies', reply: ReplyState): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], reply) });
  }
  protected include(some: SomePeople): void {
    this.audienceChange.emit({ ...this.audience(), ...some });
  }
  protected leaveOut({ lists, segments, people }: SomePeople): void {
    const out = { exceptLists: lists, exceptSegments: segments, exceptPeople: people };
    this.audienceChange.emit({ ...this.audience(), ...out });
  }
}

const flip = <T>(items: readonly T[], item: T): T[] =>
  items.includes(item) ? items.filter((one) => one !== item) : [...items, item];
