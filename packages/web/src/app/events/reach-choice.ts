import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatRadioModule } from '@angular/material/radio';
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
  imports: [MatRadioModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h3 id="reach">Who may see it</h3>
    <mat-radio-group
      aria-labelledby="reach"
      [value]="reach()"
      [disabled]="disabled()"
      (change)="chosen.emit($event.value)"
    >
      @for (one of reaches; track one) {
        <mat-radio-button class="tall" [value]="one"
          ><strong>{{ words[one] }}</strong
          ><span class="quiet small">{{ sentences[one] }}</span></mat-radio-button
        >
      }
    </mat-radio-group>
  `,
  styles: `
    mat-radio-group {
      display: grid;
      gap: 8px;
      margin-top: 6px;
    }
    strong {
      display: block;
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
