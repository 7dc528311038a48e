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
          ><input type="checkbox" [checked]="audience().invitees.includes(reply)" (change)="toggleReply(reply)" />
          {{ words[reply] }}</label
        >
      }
    </fieldset>
    <details [open]="audience().lists.length + audience().exceptLists.length > 0">
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
    summary {
      cursor: pointer;
      min-height: 24px;
    }
    th {
      font-weight: 500;
      padding-right: 10px;
    }
    input {
      width: 16px;
      height: 16px;
      accent-color: var(--lead);
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
  protected readonly words = replyWords;
  protected readonly lists = reading(() => this.api.lists(), []);

  protected toggleReply(reply: ReplyState): void {
    this.audienceChange.emit({ ...this.audience(), invitees: flip(this.audience().invitees, reply) });
  }
  protected toggle(which: 'lists' | 'exceptLists', id: number): void {
    this.audienceChange.emit({ ...this.audience(), [which]: flip(this.audience()[which], id) });
  }
}

const flip = <T>(items: readonly T[], item: T): T[] =>
  items.includes(item) ? items.filter((one) => one !== item) : [...items, item];
