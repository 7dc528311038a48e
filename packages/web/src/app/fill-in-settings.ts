import { ChangeDetectionStrategy, Component, inject, Injectable, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { filter, map, of, switchMap, type Observable } from 'rxjs';
import type { LocatedProblem, Settings } from '@convite/contract';
import { isPlaceholderAddress } from '@convite/core';
import { Session } from './api/session';
import { SettingsApi } from './api/settings';
import { problemsOf, sayError } from './refused';
import { FieldProblem } from './ui/field-problem';

/** Asks for the postal address and the sender, as far as Settings lack them, and saves them. */
@Component({
  selector: 'cv-fill-in-settings',
  imports: [FieldProblem, MatButtonModule, MatDialogModule, MatFormFieldModule, MatInputModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [formGroup]="form" (ngSubmit)="save()">
      <h2 mat-dialog-title>Before you send</h2>
      <mat-dialog-content>
        <p>Every message shows who sends it. You enter this once; you can change it in Settings.</p>
        @if (lacksAddress) {
          <mat-form-field
            ><mat-label>Postal address</mat-label
            ><textarea matInput rows="3" formControlName="postalAddress" cdkFocusInitial></textarea>
          </mat-form-field>
          <cv-field-problem [problems]="problems()" path="postalAddress" />
        }
        @if (lacksSender) {
          <mat-form-field
            ><mat-label>Sender’s email address</mat-label><input matInput type="email" formControlName="email"
          /></mat-form-field>
          <cv-field-problem [problems]="problems()" path="sender.email" />
        }
        @if (problem(); as words) {
          <p class="alarm" role="alert">{{ words }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton type="button" [mat-dialog-close]="false">Cancel</button>
        <button matButton="filled" type="submit" [disabled]="isBusy()">Save and send</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-form-field {
      width: 100%;
    }
  `,
})
export class FillInSettingsDialog {
  private readonly settings = inject(SettingsApi);
  private readonly dialog = inject<MatDialogRef<FillInSettingsDialog, boolean>>(MatDialogRef);
  private readonly before = inject<Settings>(MAT_DIALOG_DATA);
  protected readonly lacksAddress = !this.before.postalAddress.trim();
  protected readonly lacksSender = isPlaceholderAddress(this.before.sender.email);
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({
    postalAddress: this.before.postalAddress,
    email: this.lacksSender ? '' : this.before.sender.email,
  });

  protected save(): void {
    const { postalAddress, email } = this.form.getRawValue();
    const missing = [...(postalAddress.trim() ? [] : ['postalAddress']), ...(email.trim() ? [] : ['sender.email'])].map(
      (path): LocatedProblem => ({ code: 'required', path }),
    );
    this.problems.set(missing);
    if (missing.length) return;
    this.isBusy.set(true);
    const { sender } = this.before;
    const replyTo = isPlaceholderAddress(sender.replyTo) ? email.trim() : sender.replyTo;
    this.settings
      .save({
        ...this.before,
        postalAddress: postalAddress.trim(),
        sender: { ...sender, email: email.trim(), replyTo },
      })
      .subscribe({
        next: () => this.dialog.close(true),
        error: (error: unknown) => {
          this.isBusy.set(false);
          this.problem.set(sayError(error));
          this.problems.set(problemsOf(error));
        },
      });
  }
}

/** Lets an owner fill in what Settings lack, there and then. */
@Injectable({ providedIn: 'root' })
export class FillInSettings {
  private readonly dialog = inject(MatDialog);
  private readonly session = inject(Session);
  private readonly settings = inject(SettingsApi);

  readonly ask = (): Observable<boolean> => {
    if (!this.session.isOwner()) return of(false);
    return this.settings.get().pipe(
      switchMap((data) =>
        this.dialog
          .open<FillInSettingsDialog, Settings, boolean>(FillInSettingsDialog, { data, width: '460px' })
          .afterClosed(),
      ),
      filter((isGiven) => isGiven === true),
      map(() => true),
    );
  };
}
