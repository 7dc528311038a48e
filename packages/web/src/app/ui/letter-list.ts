import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { mostInAnswer, mostLetters, type LetterRow } from '@convite/contract';
import { measureText } from '@convite/core';
import { newKey } from './confirm';
import { sayCount } from './say';
import { When } from './when';

/** An answer that somebody wrote under a letter. @param key the same for the same wish */
export interface LetterAnswer {
  readonly letter: LetterRow;
  readonly text: string;
  readonly key: string;
}

/** What people wrote in words, each to be answered, or marked as seen to. Their text is shown as text, whatever it holds. */
@Component({
  selector: 'cv-letter-list',
  imports: [MatButtonModule, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (letter of letters(); track letter.id) {
      <article class="sheet" [class.seen]="!letter.isOpen">
        <div class="row small">
          <strong>{{ letter.name || letter.from }}</strong>
          <span class="quiet">{{ sayWay(letter) }}</span>
          <span class="quiet"><cv-when [at]="letter.receivedAt" [zone]="zone()" /></span>
          @if (canSettle()) {
            @if (letter.isOpen && letter.subscriberId !== null && answering() !== letter.id) {
              <button class="link push" (click)="begin(letter)">Answer</button>
            }
            <button
              class="link"
              [class.push]="!letter.isOpen || letter.subscriberId === null || answering() === letter.id"
              (click)="settled.emit(letter)"
            >
              {{ letter.isOpen ? 'Seen to' : 'Open again' }}
            </button>
          }
        </div>
        @if (letter.subject) {
          <h3 dir="auto">{{ letter.subject }}</h3>
        }
        <p class="pre" dir="auto">{{ letter.text }}</p>
        @if (letter.isOpen && answering() === letter.id) {
          <form class="stack tight" (submit)="send($event, letter)">
            <textarea
              rows="3"
              dir="auto"
              [attr.maxlength]="mostInAnswer"
              [attr.aria-label]="'Answer to ' + (letter.name || letter.from)"
              [value]="text()"
              (input)="text.set(area.value)"
              #area
            ></textarea>
            <p class="row small">
              <button matButton="filled" type="submit" [disabled]="!text().trim()">Send the answer</button>
              <button matButton type="button" (click)="answering.set(null)">Leave it</button>
              <span class="quiet">{{ sayLength(letter) }}</span>
            </p>
          </form>
        }
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
    form {
      margin-top: 8px;
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
  readonly answered = output<LetterAnswer>();
  protected readonly mostLetters = mostLetters;
  protected readonly mostInAnswer = mostInAnswer;
  /** The letter under which an answer is written. */
  protected readonly answering = signal<number | null>(null);
  protected readonly text = signal('');
  private key = '';

  protected begin({ id }: LetterRow): void {
    this.answering.set(id);
    this.text.set('');
    this.key = newKey();
  }
  protected send(event: Event, letter: LetterRow): void {
    event.preventDefault();
    this.answered.emit({ letter, text: this.text().trim(), key: this.key });
  }
  protected sayWay({ channel, from, name, to }: LetterRow): string {
    if (channel === 'text') return name ? `by text from ${from}` : 'by text';
    const where = to.startsWith('guests+') ? 'their invitation' : to;
    return name ? `from ${from} to ${where}` : `to ${where}`;
  }
  protected sayLength({ channel }: LetterRow): string {
    if (channel === 'email') return 'by mail, with what they wrote below it';
    const { units, unitsPerPart, parts } = measureText(this.text());
    return `by text: ${units} of ${unitsPerPart * Math.max(parts, 1)} characters, ${sayCount(Math.max(parts, 1), 'text', 'texts')}`;
  }
}
