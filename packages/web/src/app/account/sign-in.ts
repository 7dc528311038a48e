import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { Router } from '@angular/router';
import type { Observable } from 'rxjs';
import type { SignInAnswer } from '@convite/contract';
import { sayError } from '../refused';
import { Session } from '../api/session';

/** The door: address and password, then the second factor where there is one; or the way to a new password. */
@Component({
  selector: 'cv-sign-in',
  imports: [ReactiveFormsModule, MatButtonModule, MatFormFieldModule, MatInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './door.scss',
  template: `
    <main>
      @switch (step()) {
        @case ('password') {
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
            <button type="button" class="link small" (click)="go('forgotten')">Forgot your password?</button>
          </form>
        }
        @case ('code') {
          <form class="sheet stack" [formGroup]="form" (ngSubmit)="typeCode()">
            <p class="name">Convite</p>
            <h1>One code more</h1>
            <p class="small">The six digits that your authenticator shows now, or one of your recovery codes.</p>
            <mat-form-field
              ><mat-label>Code</mat-label
              ><input matInput class="mono" formControlName="code" autocomplete="one-time-code"
            /></mat-form-field>
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            <button matButton="filled" [disabled]="isBusy()">Go on</button>
            <button type="button" class="link small" (click)="go('password')">Begin again</button>
          </form>
        }
        @case ('forgotten') {
          <form class="sheet stack" [formGroup]="form" (ngSubmit)="askForReset()">
            <p class="name">Convite</p>
            <h1>A new password</h1>
            @if (isAsked()) {
              <p class="note good" role="status">
                If {{ form.controls.email.value }} is on the team, a link is on its way there. It works once, within a
                quarter of an hour.
              </p>
            } @else {
              <p class="small">We mail you a link by which you choose one.</p>
              <mat-form-field
                ><mat-label>Email address</mat-label
                ><input matInput type="email" formControlName="email" autocomplete="username"
              /></mat-form-field>
              @if (problem()) {
                <p class="note alarm" role="alert">{{ problem() }}</p>
              }
              <button matButton="filled" [disabled]="isBusy()">Mail me a link</button>
            }
            <button type="button" class="link small" (click)="go('password')">Back to signing in</button>
          </form>
        }
      }
    </main>
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
    code: '',
  });
  protected readonly step = signal<'password' | 'code' | 'forgotten'>('password');
  protected readonly problem = signal('');
  protected readonly isBusy = signal(false);
  protected readonly isAsked = signal(false);

  protected go(step: 'password' | 'code' | 'forgotten'): void {
    this.problem.set('');
    this.isAsked.set(false);
    this.form.patchValue({ password: '', code: '' });
    this.step.set(step);
  }
  protected signIn(): void {
    const { email, password } = this.form.getRawValue();
    if (!email || !password) return this.problem.set('Fill in the address and the password.');
    this.enter(this.session.signIn(email, password));
  }
  protected typeCode(): void {
    const code = this.form.controls.code.value.trim();
    if (code.length < 6) return this.problem.set('Type the six digits, or a recovery code.');
    this.enter(this.session.typeCode(code));
  }
  protected askForReset(): void {
    const { email } = this.form.getRawValue();
    if (!email) return this.problem.set('Fill in your address.');
    this.wait(this.session.askForReset(email), () => this.isAsked.set(true));
  }

  private enter(answer: Observable<SignInAnswer>): void {
    this.wait(answer, ({ step }) => {
      if (step === 'code') this.go('code');
      else void this.router.navigateByUrl(this.to()?.startsWith('/') ? (this.to() ?? '/') : '/');
    });
  }
  private wait<T>(work: Observable<T>, then: (value: T) => void): void {
    this.isBusy.set(true);
    this.problem.set('');
    work.subscribe({
      next: (value) => {
        this.isBusy.set(false);
        then(value);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
      },
    });
  }
}
