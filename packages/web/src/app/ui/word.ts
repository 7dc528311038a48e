import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { MatTooltipModule } from '@angular/material/tooltip';

/** Our own words, as they are explained where they first stand on a screen. */
const meanings = {
  'call board': 'Everything due to go out, in time order, and what needs a person.',
  countdown: 'All timed messages of one event.',
  cue: 'One timed message of an event: a moment, who gets it, by email or text, and its words.',
  standby:
    'The last minutes before something goes out, ten unless Settings say otherwise, in which it can still be held.',
  rehearsal: 'A dry run: everything a chosen person would get, when, in which words, and why not.',
  plan: 'A countdown kept for use again.',
  notice: 'A message that pushes a change to everybody who holds an older version.',
  issue: 'One sending of a digest.',
  'holds version': 'The newest version of the event that a person has in their calendar or inbox.',
  'set aside': 'An answer that came in and does not count, with the reason; you may let it count.',
  backstage: 'A simulated outside world: mailboxes, phones and the clock, to try everything out.',
} as const;
export type Word = keyof typeof meanings;

/** A word of ours that explains itself: to whoever points at it, goes to it by key, or hears it. */
@Component({
  selector: 'cv-word',
  imports: [MatTooltipModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<button type="button" class="word" [matTooltip]="meaning()" #tip="matTooltip" (click)="tip.show()">
    <ng-content />
  </button>`,
  styles: `
    .word {
      font: inherit;
      color: inherit;
      padding: 0;
      background: none;
      border: 0;
      border-bottom: 1px dotted var(--quiet);
      cursor: help;
      min-height: 24px;
    }
  `,
})
export class OurWord {
  readonly word = input.required<Word>();
  protected readonly meaning = computed(() => meanings[this.word()]);
}
