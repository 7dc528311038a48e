import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { switchMap, type Observable } from 'rxjs';
import { roles, type LocatedProblem, type Role, type TeamMember } from '@convite/contract';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { FieldProblem } from '../ui/field-problem';
import { ReadingProblem } from '../ui/reading-problem';
import { Toast } from '../ui/toast';
import { chosenOf } from '../ui/typed';
import { Fold } from '../ui/fold';

/** Who may sign in, and as what. */
@Component({
  selector: 'cv-team',
  imports: [
    FieldProblem,
    Fold,
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
        <div class="row top">
          <span class="grow"
            ><strong>{{ member.name }}</strong>
            @if (member.isInvited) {
              <span class="small quiet"> · invited, not in yet</span>
            } @else if (member.hasSecondFactor) {
              <span class="small quiet"> · second factor</span>
            }
            <br /><span class="quiet small wrap">{{ member.email }}</span>
            @if (session.isOwner()) {
              <span class="row acts small">
                @if (member.isInvited) {
                  <button class="link" (click)="inviteAgain(member)">Invite again</button>
                }
                @if (member.hasSecondFactor && !isMe(member)) {
                  <button class="link" (click)="removeFactor(member)">Second factor is lost …</button>
                }
                @if (!isMe(member)) {
                  <button class="link" (click)="remove(member)">Remove …</button>
                }
              </span>
            }
          </span>
          @if (session.isOwner()) {
            <mat-form-field class="inline" subscriptSizing="dynamic"
              ><select matNativeControl [attr.aria-label]="'Role of ' + member.name" (change)="change(member, $event)">
                @for (role of roles; track role) {
                  <option [value]="role" [selected]="role === member.role">{{ role }}</option>
                }
              </select></mat-form-field
            >
          } @else {
            <span>{{ member.role }}</span>
          }
        </div>
      }
      @if (session.isOwner()) {
        <cv-fold heading="Invite somebody">
          <form [formGroup]="form" (ngSubmit)="invite()">
            <p class="small quiet">A mail goes to them with a link; they choose their own password.</p>
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
            @if (problem()) {
              <p class="note alarm" role="alert">{{ problem() }}</p>
            }
            <button matButton="outlined">Send the invitation</button>
          </form>
        </cv-fold>
      }
    </section>
  `,
  styles: `
    .acts {
      gap: 2px 14px;
    }
  `,
})
export class Team {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(Session);
  protected readonly roles = roles;
  protected readonly team = reading(() => this.api.team(), []);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({ name: '', email: '', role: 'marketer' as Role });

  protected isMe = ({ id }: TeamMember): boolean => id === this.session.me()?.id;

  protected invite(): void {
    const { email } = this.form.getRawValue();
    this.api.invite(this.form.getRawValue()).subscribe({
      next: () => {
        this.form.reset();
        this.problem.set('');
        this.problems.set([]);
        this.toast.say(`The invitation is on its way to ${email}.`);
        this.team.reload();
      },
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
        this.team.reload();
      },
    });
  }
  protected inviteAgain({ id, email }: TeamMember): void {
    this.act(this.api.inviteAgain(id), `The invitation is on its way to ${email} again.`);
  }
  protected change({ id, name, role: before }: TeamMember, event: Event): void {
    const role = chosenOf(roles, event) ?? before;
    this.act(this.api.changeRole(id, role), `${name} is now ${role}.`);
  }
  protected remove({ id, name }: TeamMember): void {
    const question = {
      title: `Remove ${name}?`,
      text: 'They are signed out everywhere at once. What they did stays in the audit log.',
      yes: 'Remove',
    };
    this.act(this.confirm.ask(question).pipe(switchMap(() => this.api.removeMember(id))), `${name} is removed.`);
  }
  protected removeFactor({ id, name }: TeamMember): void {
    const question = {
      title: `Take ${name}’s second factor away?`,
      text: 'Do it when you are sure that it is they who ask: by their password alone they get in again after this.',
      yes: 'Take it away',
    };
    this.act(
      this.confirm.ask(question).pipe(switchMap(() => this.api.removeFactor(id))),
      `${name} has no second factor now.`,
    );
  }

  private act(work: Observable<unknown>, said: string): void {
    work.subscribe({
      next: () => {
        this.toast.say(said);
        this.team.reload();
      },
      error: (error: unknown) => {
        this.toast.fail(error);
        this.team.reload();
      },
    });
  }
}
