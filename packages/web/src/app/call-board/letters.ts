import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { LetterRow } from '@convite/contract';
import { BoardApi } from '../api/board';
import { reloadOn } from '../api/live';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { LetterList, type LetterAnswer } from '../ui/letter-list';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';

/** What people wrote to the house's own addresses, and nobody has seen to yet. */
@Component({
  selector: 'cv-letters',
  imports: [LetterList, ReadingProblem, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="stack">
      <p class="small"><a routerLink="/">Call board</a></p>
      <div class="head">
        <h1>Letters</h1>
        <span class="quiet">what people wrote by mail or text, and nobody has seen to yet</span>
      </div>
      <cv-reading-problem [of]="letters" what="The letters" />
      <cv-letter-list
        [letters]="letters.value()"
        [zone]="zone"
        [canSettle]="session.canMarket()"
        (answered)="answer($event)"
        (settled)="settle($event)"
      />
      @if (!letters.value().length) {
        <div class="empty">Every letter is seen to.</div>
      }
    </main>
  `,
})
export class Letters {
  private readonly api = inject(BoardApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly zone = this.session.zone();
  protected readonly letters = reading(() => this.api.letters(), []);

  constructor() {
    reloadOn(
      () => ['board'],
      () => this.letters.reload(),
    );
  }

  protected answer({ letter, text, key }: LetterAnswer): void {
    this.api.answerLetter(letter.id, text, key).subscribe({
      next: () => {
        this.toast.say('Your answer is on its way.');
        this.letters.reload();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  protected settle({ id, isOpen }: LetterRow): void {
    this.api.settleLetter(id, !isOpen).subscribe({
      next: () => this.letters.reload(),
      error: (error: unknown) => this.toast.fail(error),
    });
  }
}
