import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import type { DigestRow, LocatedProblem } from '@convite/contract';
import { sayWeekday } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { DigestsApi } from '../api/digests';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { problemsOf, sayError } from '../refused';
import { FieldProblem } from '../ui/field-problem';
import { ZoneField } from '../ui/time/zone-field';
import { ReadingProblem } from '../ui/reading-problem';

/** A digest's rhythm, window, list and words. */
@Component({
  selector: 'cv-digest-form',
  imports: [
    FieldProblem,
    MatButtonModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    ReactiveFormsModule,
    ReadingProblem,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="sheet fields" [formGroup]="form" (ngSubmit)="save()" aria-label="Digest">
      <div class="half">
        <mat-form-field><mat-label>Name</mat-label><input matInput formControlName="name" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="name" />
      </div>
      <div class="half">
        <cv-reading-problem [of]="lists" what="The lists" />
        <mat-form-field
          ><mat-label>To the list</mat-label
          ><mat-select formControlName="listId">
            @for (list of lists.value(); track list.id) {
              <mat-option [value]="list.id">{{ list.name }} ({{ list.count }})</mat-option>
            }
          </mat-select></mat-form-field
        ><cv-field-problem [problems]="problems()" path="listId" />
      </div>
      <div class="quarter">
        <mat-form-field
          ><mat-label>Every</mat-label
          ><mat-select formControlName="weekday">
            @for (day of weekdays; track day.number) {
              <mat-option [value]="day.number">{{ day.name }}</mat-option>
            }
          </mat-select></mat-form-field
        >
      </div>
      <div class="quarter">
        <mat-form-field><mat-label>At</mat-label><input matInput type="time" formControlName="at" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="at" />
      </div>
      <div class="quarter">
        <cv-zone-field label="Time zone" formControlName="zone" /><cv-field-problem
          [problems]="problems()"
          path="zone"
        />
      </div>
      <div class="quarter">
        <mat-form-field
          ><mat-label>Looks ahead, days</mat-label
          ><input matInput type="number" min="1" max="60" formControlName="windowDays" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="windowDays" />
      </div>
      <div>
        <mat-form-field
          ><mat-label>Subject</mat-label><input matInput formControlName="subject" dir="auto" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="subject" />
      </div>
      <div>
        <mat-form-field
          ><mat-label>Words before the events</mat-label
          ><textarea matInput rows="3" formControlName="intro" dir="auto"></textarea></mat-form-field
        ><cv-field-problem [problems]="problems()" path="intro" />
      </div>
      <div>
        <label class="check"
          ><input type="checkbox" formControlName="isOn" /> On: issues go out by themselves. Nothing goes to anybody for
          whom there is nothing.</label
        >
      </div>
      @if (problem()) {
        <p class="note alarm" role="alert">{{ problem() }}</p>
      }
      <div class="row">
        <button matButton="filled">Save the digest</button
        ><button matButton type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>
  `,
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

  constructor() {
    effect(() => {
      const digest = this.digest();
      if (digest) this.form.patchValue(digest);
    });
  }

  protected save(): void {
    this.api.save(this.digest()?.id ?? null, this.form.getRawValue()).subscribe({
      next: () => this.closed.emit(),
      error: (error: unknown) => {
        this.problem.set(sayError(error));
        this.problems.set(problemsOf(error));
      },
    });
  }
}
