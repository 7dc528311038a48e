import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { LocatedProblem } from '@convite/contract';
import { AccountApi } from '../api/account';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { Toast } from '../ui/toast';

@Component({
  selector: 'cv-change-password',
  imports: [FieldProblem, MatButtonModule, MatFormFieldModule, MatInputModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="sheet stack" aria-label="Password" [formGroup]="form" (ngSubmit)="change()">
      <h2>Password</h2>
      <div class="fields">
        <div class="half">
          <mat-form-field
            ><mat-label>The one you have</mat-label
            ><input matInput type="password" formControlName="current" autocomplete="current-password"
          /></mat-form-field>
        </div>
        <div class="half">
          <mat-form-field
            ><mat-label>The new one, 12 characters or more</mat-label
            ><input matInput type="password" formControlName="password" autocomplete="new-password" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="password" />
        </div>
      </div>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <div class="row">
        <button matButton="outlined">Change the password</button>
        <span class="small quiet">Wherever else you are signed in, that ends.</span>
      </div>
    </form>
  `,
})
export class ChangePassword {
  private readonly api = inject(AccountApi);
  private readonly toast = inject(Toast);
  readonly changed = output();
  protected readonly form = inject(NonNullableFormBuilder).group({ current: '', password: '' });
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);

  protected change(): void {
    const { current, password } = this.form.getRawValue();
    this.problem.set('');
    this.problems.set([]);
    this.api.changePassword(current, password).subscribe({
      next: () => {
        this.form.reset();
        this.toast.say('Your password is changed.');
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.problems.set(problemsOf(error));
        if (this.problems().length === 0) this.problem.set(sayError(error));
      },
    });
  }
}
