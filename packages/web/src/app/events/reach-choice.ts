import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { EventReach } from '@convite/contract';

export const reachWords: Readonly<Record<EventReach, string>> = {
  public: 'public',
  link: 'by link',
  invited: 'invited only',
};
export const reachSentences: Readonly<Record<EventReach, string>> = {
  public: 'Everybody may see it: on its page, in feeds and in digests.',
  link: 'Who has the address of its page may see it; it stands in no feed and no digest.',
  invited: 'Only who is invited may see it: it has no page for all, and stands in no feed and no digest.',
};
const reaches = ['public', 'link', 'invited'] as const;

/** Who may see an event. */
@Component({
  selector: 'cv-reach-choice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>Who may see it</legend>
      @for (one of reaches; track one) {
        <label class="check"
          ><input
            type="radio"
            name="reach"
            [checked]="reach() === one"
            [disabled]="disabled()"
            (change)="chosen.emit(one)"
          />
          <span
            ><strong>{{ words[one] }}</strong
            ><span class="quiet small">{{ sentences[one] }}</span></span
          ></label
        >
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: grid;
      gap: 4px;
    }
    legend {
      font-weight: 600;
      padding: 0 0 4px;
    }
    label {
      align-items: start;
    }
    input {
      margin-top: 5px;
    }
    label > span {
      display: grid;
    }
    strong::first-letter {
      text-transform: uppercase;
    }
  `,
})
export class ReachChoice {
  readonly reach = input<EventReach | null>(null);
  readonly disabled = input(false);
  readonly chosen = output<EventReach>();
  protected readonly reaches = reaches;
  protected readonly words = reachWords;
  protected readonly sentences = reachSentences;
}
