import { ChangeDetectionStrategy, Component, inject, Injectable } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { catchError, EMPTY, filter, type Observable, switchMap, throwError } from 'rxjs';
import { Refused } from '../refused';

interface Question {
  readonly title: string;
  readonly text: string;
  readonly yes: string;
}

@Component({
  selector: 'cv-confirm',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>{{ question.title }}</h2>
    <mat-dialog-content
      ><p class="pre">{{ question.text }}</p></mat-dialog-content
    >
    <mat-dialog-actions align="end">
      <button matButton [mat-dialog-close]="false">Not yet</button>
      <button matButton="filled" [mat-dialog-close]="true">{{ question.yes }}</button>
    </mat-dialog-actions>
  `,
})
export class ConfirmDialog {
  protected readonly question = inject<Question>(MAT_DIALOG_DATA);
}

/** Asks before something that reaches people. */
@Injectable({ providedIn: 'root' })
export class Confirm {
  private readonly dialog = inject(MatDialog);

  /** Emits once when the answer is yes, else completes. */
  ask(question: Question): Observable<boolean> {
    return this.dialog
      .open<ConfirmDialog, Question, boolean>(ConfirmDialog, { data: question, width: '460px' })
      .afterClosed()
      .pipe(filter((answer) => answer === true));
  }

  /**
   * Sends, and when the server answers that more than a hundred people would get it, asks again with the number. The
   * number confirmed is the one seen: had it changed meanwhile, the server asks once more.
   */
  sendAsking(send: (confirmedCount: number | null) => Observable<unknown>, what: string): Observable<unknown> {
    const attempt = (confirmed: number | null): Observable<unknown> =>
      send(confirmed).pipe(
        catchError((error: unknown) => {
          const count =
            error instanceof Refused && error.details.title === 'confirm-count' ? error.details.count : undefined;
          if (count === undefined) return throwError(() => error);
          return this.ask({ title: `Send to ${count} people?`, text: what, yes: `Send to ${count}` }).pipe(
            switchMap((yes) => (yes ? attempt(count) : EMPTY)),
          );
        }),
      );
    return attempt(null);
  }
}
