import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { sayError } from '../refused';

/** A short word at the foot of the screen, read out too. */
@Injectable({ providedIn: 'root' })
export class Toast {
  private readonly bar = inject(MatSnackBar);

  say(text: string): void {
    this.bar.open(text, undefined, { duration: 4000, politeness: 'polite' });
  }
  /** Something was done that can be undone for a moment. */
  offerUndo(text: string, undo: () => void, seconds = 12): void {
    const shown = this.bar.open(text, 'Undo', { duration: seconds * 1000, politeness: 'polite' });
    shown.onAction().subscribe(undo);
  }
  fail(error: unknown): void {
    this.bar.open(sayError(error), 'Close', { politeness: 'assertive' });
  }
}
