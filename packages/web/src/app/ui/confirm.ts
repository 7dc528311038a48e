import { ChangeDetectionStrategy, Component, inject, Injectable } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { catchError, defer, filter, map, type Observable, switchMap, throwError } from 'rxjs';
import { Refused } from '../refused';
import { fillInSettings } from './fill-in';

interface Question {
  readonly title: string;
  readonly text: string;
  readonly yes: string;
  /** `Not yet` where nothing else is said. */
  readonly no?: string;
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
      <button matButton [mat-dialog-close]="false">{{ question.no ?? 'Not yet' }}</button>
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
  private readonly fillIn = inject(fillInSettings);

  /** Emits once when the answer is yes, else completes. */
  ask(question: Question): Observable<boolean> {
    return this.decide(question).pipe(filter(Boolean));
  }
  /** Emits the answer once; closing it is a no. */
  decide(question: Question): Observable<boolean> {
    return this.dialog
      .open<ConfirmDialog, Question, boolean>(ConfirmDialog, { data: question, width: '460px' })
      .afterClosed()
      .pipe(map((answer) => answer === true));
  }

  /**
   * Sends, and asks again where the server does: with the number when more than a hundred people would get it, and in the
   * server's words when something about it is odd. The number confirmed is the one seen: had it changed meanwhile, the
   * server asks once more. Where Settings lack what every message carries, it is asked for, and sending goes on. However often it is asked for, the same wish carries one key, so that it is done once.
   * @param confirmed how many were seen and confirmed before it is asked for
   */
  sendAsking(
    send: (sending: Sending) => Observable<unknown>,
    what: string,
    confirmed: number | null = null,
  ): Observable<unknown> {
    const attempt = (sending: Sending): Observable<unknown> =>
      send(sending).pipe(
        catchError((error: unknown) => {
          const details = error instanceof Refused ? error.details : undefined;
          if (details?.title === 'confirm-count' && details.count !== undefined) {
            const { count } = details;
            const people = count === 1 ? 'one person' : `${count} people`;
            return this.ask({ title: `Send to ${people}?`, text: what, yes: `Send to ${count}` }).pipe(
              switchMap(() => attempt({ ...sending, count })),
            );
          }
          if (details?.title === 'confirm-doubts' && !sending.isSure)
            return this.ask({ title: 'Is that meant?', text: details.detail ?? '', yes: 'Yes, do it' }).pipe(
              switchMap(() => attempt({ ...sending, isSure: true })),
            );
          if (details?.title === 'cannot-send-yet')
            return this.fillIn().pipe(switchMap((isGiven) => (isGiven ? attempt(sending) : throwError(() => error))));
          return throwError(() => error);
        }),
      );
    return defer(() => attempt({ count: confirmed, isSure: false, key: newKey() }));
  }
}

/** One wish to send, as far as it was confirmed. */
export interface Sending {
  /** How many people were confirmed; null before the server asked. */
  readonly count: number | null;
  /** The server's doubts were read. */
  readonly isSure: boolean;
  /** By which the server knows the same wish when it comes twice. */
  readonly key: string;
}

/** A key that nobody has used; also where the page is served without TLS. */
export const newKey = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((octet) => octet.toString(16).padStart(2, '0')).join('');
