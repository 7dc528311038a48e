import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { ActivatedRoute, RouterLink } from '@angular/router';
import type { LocatedProblem } from '@convite/contract';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { typed } from '../ui/typed';

/** Where a mailed link leads: an invitation to the team, or a new password for a forgotten one. */
@Component({
  selector: 'cv-new-password',
  imports: [FieldProblem, MatButtonModule, MatFormFieldModule, MatInputModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  styleUrl: './door.scss',
  template: `
    <main>
      <form class="sheet stack" (submit)="set($event)">
        <p class="name">Convite</p>
        @if (link.error(); as error) {
          <h1>This link is over</h1>
          <p class="note alarm" role="alert">{{ say(error) }}</p>
          <a routerLink="/sign-in">To signing in</a>
        } @else if (isDone()) {
          <h1>That is your password now</h1>
          <p class="note good" role="status">It counts at once; whoever was signed in as you is out.</p>
          <a routerLink="/sign-in">Sign in with it</a>
        } @else if (link.hasValue()) {
          <h1>{{ link.value().purpose === 'invitation' ? 'Welcome' : 'A new password' }}</h1>
          <p class="small">
            {{ link.value().name }}, for <strong class="wrap">{{ link.value().email }}</strong>
          </p>
          <input type="email" autocomplete="username" [value]="link.value().email" hidden />
          <mat-form-field
            ><mat-label>Password, 12 characters or more</mat-label
            ><input
              matInput
              type="password"
              autocomplete="new-password"
              [value]="password()"
              (input)="password.set(typed($event))" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="password" />
          @if (problem()) {
            <p class="note alarm" role="alert">{{ problem() }}</p>
          }
          <button matButton="filled" [disabled]="isBusy()">Take this password</button>
          <p class="small quiet">A few words that belong to nobody’s song are long, and easily kept in mind.</p>
        } @else {
          <p class="quiet" role="status">Looking at the link …</p>
        }
      </form>
    </main>
  `,
})
export class NewPassword {
  protected readonly typed = typed;
  private readonly session = inject(Session);
  /** Behind the `#`, so that it stands in no log. */
  private readonly token = inject(ActivatedRoute).snapshot.fragment ?? '';
  protected readonly say = sayError;
  protected readonly link = rxResource({ stream: () => this.session.readLink(this.token) });
  protected readonly password = signal('');
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly isDone = signal(false);

  protected set(event: Event): void {
    event.preventDefault();
    this.isBusy.set(true);
    this.problem.set('');
    this.problems.set([]);
    this.session.setPassword(this.token, this.password()).subscribe({
      next: () => this.isDone.set(true),
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problems.set(problemsOf(error));
        if (this.problems().length === 0) this.problem.set(sayError(error));
      },
    });
  }
}
