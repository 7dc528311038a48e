import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { replyStates, type Audience, type ReplyState } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { ReadingProblem } from '../ui/reading-problem';
import { replyWords } from './reply-words';

/** Who a cue is for: invitees by their answer, lists, less other lists. */
@Component({
  selector: 'cv-cue-audience',
  imports: [ReadingProblem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>For invitees who said</legend>
      @for (reply of replies; track reply) {
        <label class="check"
          ><input
            type="checkbox"
            [checked]="audience().invitees.includes(reply)"
            (change)="toggleReply('invitees', reply)"
          />
          {{ words[reply] }}</label
        >
      }
    </fieldset>
    <details [open]="audience().lists.length + audience().exceptLists.length + audience().exceptReplies.length > 0">
      <summary>Lists: also for, or leaving out</summary>
      <cv-reading-problem [of]="lists" what="The lists" />
      <table>
        <thead>
          <tr>
            <th class="quiet small">also</th>
            <th class="quiet small">not</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (list of lists.value(); track list.id) {
            <tr>
              <td>
                <input
                  type="checkbox"
                  [attr.aria-label]="'Also for ' + list.name"
                  [checked]="audience().lists.includes(list.id)"
                  (change)="toggle('lists', list.id)"
                />
              </td>
              <td>
                <input
                  type="checkbox"
                  [attr.aria-label]="'Leaving out ' + list.name"
                  [checked]="audience().exceptLists.includes(list.id)"
                  (change)="toggle('exceptLists', list.id)"
                />
              </td>
              <td>
                {{ list.name }} <span class="quiet">{{ list.count }}</span>
              </td>
            </tr>
          }
        </tbody>
      </table>
      <fieldset>
        <legend>Leaving out whoever said</legend>
        @for (reply of answers; track reply) {
          <label class="check"
            ><input
              type="checkbox"
              [attr.aria-label]="'Leaving out whoever said ' + words[reply]"
              [checked]="audience().exceptReplies.includes(reply)"
              (change)="toggleReply('exceptReplies', reply)"
            />
            {{ words[reply] }}</label
          >
        }
      </fieldset>
    </details>
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
    th {
      font-weight: 500;
      padding-right: 10px;
    }
    td {
      min-height: 26px;
      padding: 3px 0;
    }
  `,
})
export class CueAudience {
  private readonly api = inject(AudienceApi);
  readonly audience = input.required<Audience>();
  readonly audienceChange = output<Audience>();
  protected readonly replies = replyStates;
  /** A reminder to register is not for who has registered: it unsettles them. */
  protected readonly answers = replyStates.filter((state) => state !== 'needs-action');
  protected readonly words = replyWords;
  protected readonly lists = reading(() => this.api.lists(), []);

  protected toggleReply(which: 'invitees' | 'exceptReplies', reply: ReplyState): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], reply) });
  }
  protected toggle(which: 'lists' | 'exceptLists', id: number): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], id) });
  }
}

const flip = <T>(items: readonly T[], item: T): T[] =>
  items.includes(item) ? items.filter((one) => one !== item) : [...items, item];
