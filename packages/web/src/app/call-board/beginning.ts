import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { RouterLink } from '@angular/router';
import { unnamedHouse, type Beginning, type LocatedProblem } from '@convite/contract';
import { canonicalZone } from '@convite/core';
import { switchMap } from 'rxjs';
import { BoardApi } from '../api/board';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { problemsOf, sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { FieldProblem } from '../ui/field-problem';
import { ZoneField } from '../ui/time/zone-field';
import { Toast } from '../ui/toast';

/** Leads a new house to its first invitation: a short list that ticks itself, and goes away when all of it is done. */
@Component({
  selector: 'cv-beginning',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    ReactiveFormsModule,
    RouterLink,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './beginning.html',
  styleUrl: './beginning.scss',
})
export class BeginningList {
  private readonly board = inject(BoardApi);
  private readonly settings = inject(SettingsApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  protected readonly session = inject(Session);
  readonly beginning = input.required<Beginning>();
  readonly changed = output();

  protected readonly isDone = computed(
    () => new Map(this.beginning().steps.map(({ key, isDone }) => [key, isDone] as const)),
  );
  /** The one to do next stands open. */
  protected readonly next = computed(() => this.beginning().steps.find(({ isDone }) => !isDone)?.key ?? null);
  protected readonly left = computed(() => this.beginning().steps.filter(({ isDone }) => !isDone).length);
  private readonly saved = rxResource({ stream: () => this.settings.get() });
  protected readonly sender = computed(() => (this.saved.hasValue() ? this.saved.value().sender.email : ''));
  protected readonly isBusy = signal(false);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({
    organisation: '',
    postalAddress: '',
    zone: browserZone(),
  });

  protected save(): void {
    this.isBusy.set(true);
    const typed = this.form.getRawValue();
    const organisation = typed.organisation.trim();
    if (!organisation || organisation === unnamedHouse) {
      this.isBusy.set(false);
      this.problems.set([{ code: 'required', path: 'organisation' }]);
      return;
    }
    this.settings
      .get()
      .pipe(
        switchMap((before) =>
          this.settings.save({
            ...before,
            ...typed,
            organisation,
            // Named after the house until somebody says otherwise.
            sender: { ...before.sender, name: before.sender.name === unnamedHouse ? organisation : before.sender.name },
          }),
        ),
        switchMap(() => this.session.load()),
      )
      .subscribe({
        next: () => this.done('The house has a name.'),
        error: (error: unknown) => this.fail(error),
      });
  }
  protected prove(): void {
    this.isBusy.set(true);
    this.board.askForProof().subscribe({
      next: ({ sentTo }) => {
        this.isBusy.set(false);
        this.toast.say(`A mail is on its way to ${sentTo}. Press its button, and this is ticked.`);
      },
      error: (error: unknown) => this.fail(error),
    });
  }
  protected invent(): void {
    this.isBusy.set(true);
    this.board.loadInvented().subscribe({
      next: () => this.done('Sixty invented people and three events. Nothing is ever sent to them.'),
      error: (error: unknown) => this.fail(error),
    });
  }
  protected takeOut(): void {
    this.confirm
      .ask({
        title: 'Take the invented data out?',
        text: 'The invented people, their list and their events go, with everything about them. What is yours stays.',
        yes: 'Take it out',
      })
      .subscribe(() =>
        this.board.removeInvented().subscribe({
          next: () => this.done('Nothing invented is left.'),
          error: (error: unknown) => this.fail(error),
        }),
      );
  }
  private done(words: string): void {
    this.isBusy.set(false);
    this.problem.set('');
    this.problems.set([]);
    this.toast.say(words);
    this.changed.emit();
  }
  private fail(error: unknown): void {
    this.isBusy.set(false);
    this.problem.set(sayError(error));
    this.problems.set(problemsOf(error));
  }
}

/** Where the browser says that it is; a house is seldom elsewhere than its owner. */
const browserZone = (): string => canonicalZone(Intl.DateTimeFormat().resolvedOptions().timeZone) ?? 'UTC';
