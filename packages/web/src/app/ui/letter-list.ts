import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { mostLetters, type LetterRow } from '@convite/contract';
import { When } from './when';

/** What people wrote in words, each to be marked as seen to. Their text is shown as text, whatever it holds. */
@Component({
  selector: 'cv-letter-list',
  imports: [When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (letter of letters(); track letter.id) {
      <article class="sheet" [class.seen]="!letter.isOpen">
        <div class="row small">
          <strong>{{ letter.from }}</strong>
          <span class="quiet">to {{ letter.to.startsWith('guests+') ? 'their invitation' : letter.to }}</span>
          <span class="quiet"><cv-when [at]="letter.receivedAt" [zone]="zone()" /></span>
          @if (canSettle()) {
            <button class="link push" (click)="settled.emit(letter)">
              {{ letter.isOpen ? 'Seen to' : 'Open again' }}
            </button>
          }
        </div>
        @if (letter.subject) {
          <h3 dir="auto">{{ letter.subject }}</h3>
        }
        <p class="pre" dir="auto">{{ letter.text }}</p>
      </article>
    }
    @if (letters().length >= mostLetters) {
      <p class="quiet small">These are the newest {{ mostLetters }}.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .seen {
      opacity: 0.75;
    }
    h3 {
      margin: 6px 0 2px;
    }
    p {
      margin: 4px 0 0;
      overflow-wrap: anywhere;
      max-height: 220px;
      overflow: auto;
    }
  `,
})
export class LetterList {
  readonly letters = input.required<readonly LetterRow[]>();
  readonly zone = input.required<string>();
  readonly canSettle = input(false);
  readonly settled = output<LetterRow>();
  protected readonly mostLetters = mostLetters;
}
