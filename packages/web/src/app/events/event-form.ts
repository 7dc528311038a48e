import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import type { LocatedProblem } from '@convite/contract';
import { addDays, canonicalZone, checkEvent, isWallTime, spanFrom, type EventFacts, type Series } from '@convite/core';
import { FieldProblem, focusFirstProblem, FormProblems } from '../ui/field-problem';
import { Section } from '../ui/form/section';
import { TimeField } from '../ui/time/time-field';
import { ZoneField } from '../ui/time/zone-field';
import { SharedClock } from '../ui/shared-clock';
import { RuleEditor } from './rule-editor';

/** Of an evening, until somebody says otherwise. */
const usualHours = { start: '20:00', end: '22:00' } as const;

/** The facts of an event. The same check that guards the server runs beside every field as one types. */
@Component({
  selector: 'cv-event-form',
  imports: [
    FieldProblem,
    FormProblems,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    ReactiveFormsModule,
    RuleEditor,
    Section,
    TimeField,
    ZoneField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './event-form.html',
})
export class EventForm {
  readonly facts = input.required<EventFacts>();
  readonly topics = input<readonly string[]>([]);
  /** What the server found beside our own check. */
  readonly serverProblems = input<readonly LocatedProblem[]>([]);
  readonly disabled = input(false);
  /** One date of a series does not repeat by itself. */
  readonly canRepeat = input(true);
  /** Asks only what cannot be guessed; everything else waits. */
  readonly isShort = input(false);
  readonly factsChange = output<EventFacts>();

  private readonly clock = inject(SharedClock);
  /** The clock ticks every second; a list of dates need not. */
  protected readonly hourMs = computed(() => Math.floor(this.clock.nowMs() / 3_600_000) * 3_600_000);
  protected readonly form = inject(NonNullableFormBuilder).group({
    title: '',
    description: '',
    zone: '',
    endZone: '',
    endsElsewhere: false,
    isPersonal: false,
    allDay: false,
    start: '',
    end: '',
    firstDay: '',
    lastDay: '',
    venue: '',
    joinLink: '',
    topics: [[] as string[]],
    registers: false,
    places: [null as number | null],
    closesHours: 0,
    confirms: true,
    waitlist: false,
  });
  private readonly changes = toSignal(this.form.valueChanges);
  protected readonly value = computed(() => {
    this.changes();
    return this.form.getRawValue();
  });
  protected readonly series = linkedSignal<Series | null>(() => this.facts().series);
  protected readonly typed = computed<EventFacts>(() => {
    const {
      allDay,
      start,
      end,
      firstDay,
      lastDay,
      endsElsewhere,
      endZone,
      registers,
      places,
      closesHours,
      confirms,
      waitlist,
      ...facts
    } = this.value();
    const { entry } = this.facts();
    return {
      ...facts,
      // Browsers and people know some zones by older names.
      zone: canonicalZone(facts.zone) ?? facts.zone,
      entry,
      endZone: endsElsewhere && !allDay ? endZone : '',
      series: facts.isPersonal ? null : this.series(),
      registration:
        registers && !facts.isPersonal
          ? {
              places,
              closesMinutes: Math.round(Number(closesHours) * 60),
              confirms,
              ...(waitlist && places !== null && { waitlist }),
            }
          : null,
      span: allDay ? { kind: 'all-day', firstDay, lastDay } : { kind: 'timed', start, end, ...this.again(start, end) },
    };
  });
  protected readonly own = computed(() => checkEvent(this.typed()));
  protected readonly problems = computed(() => [...this.own(), ...this.serverProblems()]);
  /** Somebody wanted to save: from then on every problem is said. */
  protected readonly isSaving = signal(false);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly injector = inject(Injector);
  /** Topics that an event carries stay choosable when Settings no longer lists them. */
  protected readonly allTopics = computed(() => [...new Set([...this.topics(), ...this.facts().topics])]);

  constructor() {
    effect(() => this.fill(this.facts()));
    effect(() => {
      if (this.disabled()) return this.form.disable({ emitEvent: false });
      this.form.enable({ emitEvent: false });
      // One date of a series has the zone and the topics of the series.
      if (this.canRepeat()) return;
      this.form.controls.zone.disable({ emitEvent: false });
      this.form.controls.topics.disable({ emitEvent: false });
    });
    effect(() => this.factsChange.emit(this.typed()));
    const { start, end, allDay } = this.form.controls;
    allDay.valueChanges.pipe(takeUntilDestroyed()).subscribe((isAllDay) => this.carryDays(isAllDay));
    end.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.noteLength());
    start.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.keepLength());
  }

  /** The days stay when an event is for whole days, or for hours again; so do its times. */
  private carryDays(isAllDay: boolean): void {
    const { start, end, firstDay, lastDay } = this.form.getRawValue();
    if (isAllDay && start) {
      const first = start.slice(0, 10);
      // A night that ends in the small hours is one evening.
      const isOneEvening = end.slice(11) <= '06:00';
      const last = isOneEvening || end < start ? first : end.slice(0, 10);
      this.form.patchValue({ firstDay: first, lastDay: last });
    } else if (!isAllDay && firstDay) {
      const from = `${firstDay}T${start.slice(11) || usualHours.start}`;
      const clock = end.slice(11) || usualHours.end;
      const isNextDay = (lastDay || firstDay) === firstDay && clock <= from.slice(11);
      this.form.controls.start.setValue(from);
      this.form.controls.end.setValue(`${isNextDay ? addDays(firstDay, 1) : lastDay || firstDay}T${clock}`);
    }
  }

  /** Before saving: says all that is wrong, and goes to the first of it. @returns whether it can be saved */
  ready(): boolean {
    this.isSaving.set(true);
    if (this.own().length === 0) return true;
    afterNextRender(() => focusFirstProblem(this.host), { injector: this.injector });
    return false;
  }

  private fill(facts: EventFacts): void {
    const { span, topics, registration, series: _, entry: __, ...rest } = facts;
    const registers = {
      registers: registration !== null,
      places: registration?.places ?? null,
      closesHours: (registration?.closesMinutes ?? 0) / 60,
      confirms: registration?.confirms ?? true,
      waitlist: registration?.waitlist ?? false,
    };
    const times =
      span.kind === 'timed'
        ? { allDay: false, start: span.start, end: span.end }
        : { allDay: true, firstDay: span.firstDay, lastDay: span.lastDay };
    const endsElsewhere = rest.endZone !== '';
    untracked(() => this.form.patchValue({ ...rest, endsElsewhere, ...times, ...registers, topics: [...topics] }));
  }

  /** What no clock shows is kept as long as its reading is. */
  private again(start: string, end: string): { again?: 'start' | 'end' | 'both' } {
    const { span } = this.facts();
    const isKept = span.kind === 'timed' && span.start === start && span.end === end;
    return isKept && span.again ? { again: span.again } : {};
  }

  /** How long it lasts as somebody last said the end; null while that is no length. */
  private lengthMs: number | null = null;
  private noteLength(): void {
    const { start, end } = this.form.controls;
    const areRead = isWallTime(start.value) && isWallTime(end.value);
    const lengthMs = areRead ? Date.parse(`${end.value}Z`) - Date.parse(`${start.value}Z`) : 0;
    this.lengthMs = lengthMs > 0 ? lengthMs : null;
  }
  /** The end moves with the start. */
  private keepLength(): void {
    const { start, end } = this.form.controls;
    if (this.lengthMs === null || !isWallTime(start.value)) return;
    end.setValue(new Date(Date.parse(`${start.value}Z`) + this.lengthMs).toISOString().slice(0, 16));
  }

  /** Start and end move together to the first date that the rule names. */
  protected moveStart(start: string): void {
    const moved = spanFrom(this.typed(), start);
    this.form.patchValue(
      moved.kind === 'timed'
        ? { start: moved.start, end: moved.end }
        : { firstDay: moved.firstDay, lastDay: moved.lastDay },
    );
  }
}
