import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { roles, type LocatedProblem, type Member, type Role } from '@convite/contract';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';

/** Who may sign in, and as what. */
@Component({
  selector: 'cv-team',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    ReactiveFormsModule,
    ReadingProblem,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Team">
      <h2>Team</h2>
      <cv-reading-problem [of]="team" what="The team" />
      @for (member of team.value(); track member.id) {
        <div class="row">
          <span class="grow"
            ><strong>{{ member.name }}</strong
            ><br /><span class="quiet small wrap">{{ member.email }}</span></span
          >
          @if (session.isOwner()) {
            <select [attr.aria-label]="'Role of ' + member.name" (change)="change(member, $any($event.target).value)">
              @for (role of roles; track role) {
                <option [value]="role" [selected]="role === member.role">{{ role }}</option>
              }
            </select>
          } @else {
            <span>{{ member.role }}</span>
          }
        </div>
      }
      @if (session.isOwner()) {
        <details>
          <summary>Add somebody</summary>
          <form [formGroup]="form" (ngSubmit)="add()">
            <mat-form-field><mat-label>Name</mat-label><input matInput formControlName="name" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="name" />
            <mat-form-field
              ><mat-label>Email address</mat-label
              ><input matInput type="email" formControlName="email" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="email" />
            <mat-form-field
              ><mat-label>Role</mat-label
              ><mat-select formControlName="role">
                @for (role of roles; track role) {
                  <mat-option [value]="role">{{ role }}</mat-option>
                }
              </mat-select></mat-form-field
            >
            <mat-form-field
              ><mat-label>First password, 12 characters or more</mat-label
              ><input matInput type="password" formControlName="password" autocomplete="new-password" /></mat-form-field
            ><cv-field-problem [problems]="problems()" path="password" />
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            <button matButton="outlined">Add to the team</button>
          </form>
        </details>
      }
    </section>
  `,
  styles: `
    summary {
      cursor: pointer;
      min-height: 24px;
    }
  `,
})
export class Team {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly session = inject(Session);
  protected readonly roles = roles;
  protected readonly team = reading(() => this.api.team(), []);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({
    name: '',
    email: '',
    role: 'marketer' as Role,
    password: '',
  });

  protected add(): void {
    this.api.addMember(this.form.getRawValue()).subscribe({
      next: () => {
        this.form.reset();
        this.problem.set('');
        this.problems.set([]);
        this.team.reload();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
  protected change(member: Member, role: Role): void {
    this.api.changeRole(member.id, role).subscribe({
      next: () => this.toast.say(`${member.name} is now ${role}.`),
      error: (error: unknown) => {
        this.toast.fail(error);
        this.team.reload();
      },
    });
  }
}
