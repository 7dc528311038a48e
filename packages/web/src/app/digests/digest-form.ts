import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { digestFields, type DigestRow, type LocatedProblem } from '@convite/contract';
import { isSame, sayWeekday } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { DigestsApi } from '../api/digests';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FormBar } from '../ui/form/form-bar';
import { Section } from '../ui/form/section';
import { keepTyped } from '../ui/form/unsaved';
import { ListsField } from '../ui/lists-field';
import { FieldProblem, FormProblems } from '../ui/field-problem';
import { ClockField } from '../ui/time/clock-field';
import { ZoneField } from '../ui/time/zone-field';
import { ReadingProblem } from '../ui/reading-problem';

/** A digest's rhythm, window, list and words. */
@Component({
  selector: 'cv-digest-form',
  imports: [
    ClockField,
    FieldProblem,
    FormProblems,
    FormBar,
    ListsField,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    ReactiveFormsModule,
    ReadingProblem,
    Section,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './digest-form.html',
})
export class DigestForm {
  private readonly api = inject(DigestsApi);
  private readonly audience = inject(AudienceApi);
  readonly digest = input.required<DigestRow | null>();
  readonly closed = output();
  protected readonly weekdays = [1, 2, 3, 4, 5, 6, 7].map((number) => ({ number, name: sayWeekday(number) }));
  protected readonly lists = reading(() => this.audience.lists(), []);
  protected readonly problem = signal('');
  protected readonly problems = signal<readonly LocatedProblem[]>([]);
  protected readonly form = inject(NonNullableFormBuilder).group({
    name: '',
    listId: 0,
    weekday: 5,
    at: '13:00',
    zone: inject(Session).me()?.organisation.zone ?? 'UTC',
    windowDays: 10,
    subject: '',
    intro: 'Dear {{person.firstName|friend}},\n\nthis is coming up.',
    isOn: true,
  });

  private readonly changes = toSignal(this.form.valueChanges);
  private readonly typed = computed(() => {
    this.changes();
    return this.form.getRawValue();
  });
  protected readonly listIds = computed(() => (this.typed().listId ? [this.typed().listId] : []));
  private readonly before = signal(this.form.getRawValue());
  private readonly isDone = signal(false);
  protected readonly isBusy = signal(false);
  protected readonly isChanged = computed(() => !this.isDone() && !isSame(this.typed(), this.before()));

  constructor() {
    effect(() => {
      const digest = this.digest();
      if (!digest) return;
      this.form.patchValue(digest);
      untracked(() => this.before.set(this.form.getRawValue()));
    });
    keepTyped({
      key: () => `digest.${this.digest()?.id ?? 'new'}`,
      value: this.typed,
      isChanged: this.isChanged,
      read: (text) => digestFields.safeParse(text).data ?? null,
      restore: (before) => this.form.patchValue(before),
    });
  }

  protected close(): void {
    this.isDone.set(true);
    this.closed.emit();
  }
  protected save(): void {
    this.isBusy.set(true);
    this.api.save(this.digest()?.id ?? null, this.form.getRawValue()).subscribe({
      next: () => {
        this.close();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
}
