import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { Router } from '@angular/router';
import { sayError } from '../refused';
import { Session } from '../api/session';

@Component({
  selector: 'cv-sign-in',
  imports: [ReactiveFormsModule, MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <form class="sheet stack" [formGroup]="form" (ngSubmit)="signIn()">
        <p class="name">Convite</p>
        <h1>Sign in</h1>
        <mat-form-field
          ><mat-label>Email address</mat-label
          ><input matInput type="email" formControlName="email" autocomplete="username"
        /></mat-form-field>
        <mat-form-field
          ><mat-label>Password</mat-label
          ><input matInput type="password" formControlName="password" autocomplete="current-password"
        /></mat-form-field>
        @if (problem()) {
          <p class="note alarm" role="alert">{{ problem() }}</p>
        }
        <button matButton="filled" [disabled]="isBusy()">Sign in</button>
      </form>
    </main>
  `,
  styles: `
    main {
      min-height: 100vh;
      display: grid;
      place-items: center;
      padding: 16px;
    }
    form {
      width: min(380px, 100%);
      padding: 28px;
    }
    .name {
      font: 560 17px var(--heading);
      color: var(--lead);
      margin: 0;
    }
  `,
})
export class SignIn {
  private readonly session = inject(Session);
  private readonly router = inject(Router);
  /** Where the person wanted to go. */
  readonly to = input<string>();
  protected readonly form = inject(NonNullableFormBuilder).group({
    email: ['', Validators.required],
    password: ['', Validators.required],
  });
  protected readonly problem = signal('');
  protected readonly isBusy = signal(false);

  protected signIn(): void {
    const { email, password } = this.form.getRawValue();
    if (!email || !password) return this.problem.set('Fill in the address and the password.');
    this.isBusy.set(true);
    this.session.signIn(email, password).subscribe({
      next: () => void this.router.navigateByUrl(this.to()?.startsWith('/') ? (this.to() ?? '/') : '/'),
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.isBusy.set(false);
      },
    });
  }
}
