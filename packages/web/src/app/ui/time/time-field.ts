import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  forwardRef,
  inject,
  input,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import { sayClock, sayDay } from '../say';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDatepickerModule, type MatDatepickerInputEvent } from '@angular/material/datepicker';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { type MatTimepicker, MatTimepickerModule, type MatTimepickerSelected } from '@angular/material/timepicker';
import type { Temporal } from 'temporal-polyfill';
import { isDay, isWallTime, readTypedTime, wallTimeAt } from '@convite/core';
import { SharedClock } from '../shared-clock';
import { typed } from '../typed';
import { TypedControl } from '../typed-control';
import { Habits } from './habits';
import { clockReadingOf, dayReadingOf, temporalPickers } from './temporal-adapter';
import { SaidTime } from './said-time';

/**
 * A day, or a day and a clock time: typed as people type it (`27 nov 20:30`, `fri 20:30`, `tomorrow 9`, `+3d`) or chosen
 * from a calendar, and said again below with its weekday and what a clock change makes of it. Its value is a day or a
 * clock reading; empty while nothing is typed, and what was typed as it stands while it cannot be read, so that the form's
 * own check finds it.
 */
@Component({
  selector: 'cv-time-field',
  imports: [MatButtonModule, MatDatepickerModule, MatFormFieldModule, MatInputModule, MatTimepickerModule, SaidTime],
  providers: [
    { provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => TimeField), multi: true },
    ...temporalPickers,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <input
        #field
        matInput
        autocomplete="off"
        [placeholder]="kind() === 'day' ? '27 nov, fri, +3d' : '27 nov 20:30, fri 20:30, +3d'"
        [value]="shown()"
        [disabled]="isDisabled()"
        (input)="type(typed($event))"
        (change)="settle()"
        (keydown.enter)="settle()"
        (blur)="leave()"
      />
      <input hidden [matDatepicker]="calendar" [value]="date()" (dateChange)="pick($event)" />
      <mat-datepicker-toggle matIconSuffix [for]="calendar" [disabled]="isDisabled()" />
      <mat-datepicker #calendar (closed)="askTime()" />
      <input hidden [matTimepicker]="hours" [value]="time()" [matTimepickerOpenOnClick]="false" />
      <mat-timepicker #hours aria-label="At what time" (selected)="pickTime($event)" />
    </mat-form-field>
    @if (problem(); as problem) {
      <p class="small problem" role="status">{{ problem }}</p>
    } @else if (!isTerse()) {
      <cv-said-time [wall]="value()" [zone]="zone()" [isBrief]="!isTyping()" />
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .problem {
      margin: 2px 0 0;
      color: var(--alarm);
    }
  `,
})
export class TimeField extends TypedControl {
  private readonly clock = inject(SharedClock);
  private readonly habits = inject(Habits);
  /** Says nothing below, where it stands in a row and is said elsewhere. */
  readonly isTerse = input(false);
  readonly kind = input<'time' | 'day'>('time');
  readonly zone = input('UTC');

  protected readonly typed = typed;
  /** What stands in the field: while one types, that; else the value as people say it. */
  protected readonly shown = linkedSignal(() => this.sayValue(this.value()));
  protected readonly date = computed(() => dayReadingOf(this.value().slice(0, 10)));
  protected readonly time = computed(() => clockReadingOf(this.value().slice(11)));
  private readonly hours = viewChild<MatTimepicker<Temporal.PlainDateTime>>('hours');
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  protected readonly isTyping = signal(false);
  protected readonly problem = computed(() => {
    const value = this.value();
    if (value === '' || this.isTyping() || isWallTime(value) || (this.kind() === 'day' && isDay(value))) return '';
    return isDay(value)
      ? `${sayDay(value)}: at what time?`
      : `“${value.slice(0, 40)}” cannot be read. Try “27 nov 20:30”, “fri 20:30”, “tomorrow 9” or “+3d”.`;
  });
  protected override written(): void {
    this.isTyping.set(false);
  }

  protected type(text: string): void {
    const before = (this.before ??= this.value());
    this.isTyping.set(true);
    this.set(this.read(text, before) ?? text);
    // The value would say itself over what is being typed.
    this.shown.set(text);
  }
  protected settle(): void {
    this.before = null;
    this.isTyping.set(false);
    this.shown.set(this.sayValue(this.value()));
  }
  protected leave(): void {
    this.settle();
    this.touched();
  }
  protected pick({ value }: MatDatepickerInputEvent<Temporal.PlainDateTime>): void {
    if (!value) return;
    const time = isWallTime(this.value()) ? this.value().slice(10) : '';
    this.set(`${value.toPlainDate().toString()}${this.kind() === 'time' ? time : ''}`);
    this.settle();
  }
  /** A day chosen without a time is asked for one at once; a time that stands there is kept. */
  protected askTime(): void {
    if (this.kind() === 'time' && isDay(this.value())) this.hours()?.open();
  }
  protected pickTime({ value }: MatTimepickerSelected<Temporal.PlainDateTime>): void {
    const day = this.value().slice(0, 10);
    if (!isDay(day)) return;
    this.set(`${day}T${value.toPlainTime().toString({ smallestUnit: 'minute' })}`);
    this.settle();
    this.field().nativeElement.focus();
  }

  /** What stood there before one began to type, from which `+3d` counts. */
  private before: string | null = null;

  private read(text: string, before: string): string | null {
    const now = wallTimeAt(this.clock.nowMs(), this.zone());
    const base = isWallTime(before) || isDay(before) ? before : '';
    const found = readTypedTime(text, { now, order: this.habits.dayOrder(), base });
    if (!found) return null;
    const day = found.day ?? (base ? base.slice(0, 10) : null);
    if (day === null) return null;
    if (this.kind() === 'day') return day;
    const time = found.time ?? (isWallTime(before) ? before.slice(11) : null);
    return time === null ? day : `${day}T${time}`;
  }
  private sayValue(value: string): string {
    if (isDay(value)) return sayDay(value);
    return isWallTime(value) ? `${sayDay(value.slice(0, 10))} ${sayClock(value.slice(11))}` : value;
  }
}
