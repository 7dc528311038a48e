import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import type { LocatedProblem } from '@convite/contract';
import { checkEvent, type EventFacts } from '@convite/core';
import { FieldProblem } from '../ui/field-problem';
import { zoneNames } from '../ui/zones';

/** The facts of an event. The same check that guards the server runs beside every field as one types. */
@Component({
  selector: 'cv-event-form',
  imports: [FieldProblem, MatFormFieldModule, MatInputModule, MatSelectModule, ReactiveFormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="fields" [formGroup]="form">
      <div>
        <mat-form-field
          ><mat-label>Title</mat-label><input matInput formControlName="title" dir="auto" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="title" />
      </div>
      <div class="third">
        <label class="check"><input type="checkbox" formControlName="allDay" /> Whole days</label>
      </div>
      <div class="third"></div>
      <div class="third"></div>
      @if (value().allDay) {
        <div class="third">
          <mat-form-field
            ><mat-label>First day</mat-label><input matInput type="date" formControlName="firstDay" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="span.firstDay" />
        </div>
        <div class="third">
          <mat-form-field
            ><mat-label>Last day</mat-label><input matInput type="date" formControlName="lastDay" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="span.lastDay" />
        </div>
      } @else {
        <div class="third">
          <mat-form-field
            ><mat-label>Starts</mat-label
            ><input matInput type="datetime-local" formControlName="start" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="span.start" />
        </div>
        <div class="third">
          <mat-form-field
            ><mat-label>Ends</mat-label><input matInput type="datetime-local" formControlName="end" /></mat-form-field
          ><cv-field-problem [problems]="problems()" path="span.end" />
        </div>
      }
      <div class="third">
        <mat-form-field
          ><mat-label>Time zone</mat-label><input matInput formControlName="zone" list="zones" autocomplete="off"
        /></mat-form-field>
        <datalist id="zones">
          @for (zone of zones; track zone) {
            <option [value]="zone"></option>
          }
        </datalist>
        <cv-field-problem [problems]="problems()" path="zone" />
      </div>
      <div class="half">
        <mat-form-field
          ><mat-label>Venue</mat-label
          ><textarea matInput formControlName="venue" rows="2" dir="auto"></textarea></mat-form-field
        ><cv-field-problem [problems]="problems()" path="venue" />
      </div>
      <div class="half">
        <mat-form-field
          ><mat-label>Join link</mat-label
          ><input matInput type="url" formControlName="joinLink" placeholder="https://" /></mat-form-field
        ><cv-field-problem [problems]="problems()" path="joinLink" />
      </div>
      <div>
        <mat-form-field
          ><mat-label>Description</mat-label
          ><textarea matInput formControlName="description" rows="5" dir="auto"></textarea></mat-form-field
        ><cv-field-problem [problems]="problems()" path="description" />
      </div>
      <div>
        <mat-form-field
          ><mat-label>Topics</mat-label>
          <mat-select formControlName="topics" multiple>
            @for (topic of allTopics(); track topic) {
              <mat-option [value]="topic">{{ topic }}</mat-option>
            }
          </mat-select></mat-form-field
        >
      </div>
    </form>
  `,
})
export class EventForm {
  readonly facts = input.required<EventFacts>();
  readonly topics = input<readonly string[]>([]);
  /** What the server found beside our own check. */
  readonly serverProblems = input<readonly LocatedProblem[]>([]);
  readonly disabled = input(false);
  readonly factsChange = output<EventFacts>();

  protected readonly zones = zoneNames;
  protected readonly form = inject(NonNullableFormBuilder).group({
    title: '',
    description: '',
    zone: '',
    allDay: false,
    start: '',
    end: '',
    firstDay: '',
    lastDay: '',
    venue: '',
    joinLink: '',
    topics: [[] as string[]],
  });
  private readonly changes = toSignal(this.form.valueChanges);
  protected readonly value = computed(() => {
    this.changes();
    return this.form.getRawValue();
  });
  private readonly typed = computed<EventFacts>(() => {
    const { allDay, start, end, firstDay, lastDay, ...facts } = this.value();
    return { ...facts, span: allDay ? { kind: 'all-day', firstDay, lastDay } : { kind: 'timed', start, end } };
  });
  protected readonly problems = computed(() => [...checkEvent(this.typed()), ...this.serverProblems()]);
  /** Topics that an event carries stay choosable when Settings no longer lists them. */
  protected readonly allTopics = computed(() => [...new Set([...this.topics(), ...this.facts().topics])]);

  constructor() {
    effect(() => this.fill(this.facts()));
    effect(() => (this.disabled() ? this.form.disable({ emitEvent: false }) : this.form.enable({ emitEvent: false })));
    effect(() => this.factsChange.emit(this.typed()));
  }

  private fill(facts: EventFacts): void {
    const { span, topics, ...rest } = facts;
    const times =
      span.kind === 'timed'
        ? { allDay: false, start: span.start, end: span.end }
        : { allDay: true, firstDay: span.firstDay, lastDay: span.lastDay };
    untracked(() => this.form.patchValue({ ...rest, ...times, topics: [...topics] }));
  }
}
