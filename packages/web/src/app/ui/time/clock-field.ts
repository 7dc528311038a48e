import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  forwardRef,
  linkedSignal,
  viewChild,
} from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatTimepickerModule, type MatTimepickerSelected } from '@angular/material/timepicker';
import type { Temporal } from 'temporal-polyfill';
import { readTypedTime } from '@convite/core';
import { sayClock } from '../say';
import { typed } from '../typed';
import { TypedControl } from '../typed-control';
import { clockReadingOf, isClock, temporalPickers } from './temporal-adapter';

/** Any day will do: only the time is read. */
const someDay = '2026-01-01T00:00';

/**
 * A clock time alone, typed as people type it (`9`, `20:30`, `8:30pm`, `noon`) or chosen by half hours, and said again as
 * Settings say. Its value is `20:30`.
 */
@Component({
  selector: 'cv-clock-field',
  imports: [MatFormFieldModule, MatInputModule, MatTimepickerModule],
  providers: [
    { provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => ClockField), multi: true },
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
        placeholder="9, 20:30, 8:30pm"
        [value]="shown()"
        [disabled]="isDisabled()"
        (input)="type(typed($event))"
        (change)="settle()"
        (keydown.enter)="settle()"
        (blur)="settle(); touched()"
      />
      <input hidden [matTimepicker]="hours" [value]="reading()" [matTimepickerOpenOnClick]="false" />
      <mat-timepicker-toggle matIconSuffix [for]="hours" [disabled]="isDisabled()" aria-label="Choose a time" />
      <mat-timepicker #hours aria-label="Half hours" (selected)="pick($event)" />
    </mat-form-field>
    @if (isUnread()) {
      <p class="small alarm" role="status">“{{ value().slice(0, 20) }}” is no time of day. Try 20:30 or 8:30pm.</p>
    }
  `,
  styles: `
    :host {
      display: block;
      min-width: 120px;
    }
    p {
      margin: 2px 0 0;
    }
  `,
})
export class ClockField extends TypedControl {
  protected readonly typed = typed;
  protected readonly shown = linkedSignal(() => this.say(this.value()));
  protected readonly reading = computed(() => clockReadingOf(this.value()));
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  protected readonly isUnread = computed(() => this.value() !== '' && !isClock(this.value()));

  protected type(text: string): void {
    const found = readTypedTime(text, { now: someDay, order: 'day-first' });
    this.set(found?.time && found.day === null ? found.time : text);
    // The value would say itself over what is being typed.
    this.shown.set(text);
  }
  protected pick({ value }: MatTimepickerSelected<Temporal.PlainDateTime>): void {
    this.set(value.toPlainTime().toString({ smallestUnit: 'minute' }));
    this.settle();
    this.field().nativeElement.focus();
  }
  protected settle(): void {
    this.shown.set(this.say(this.value()));
  }
  private say = (value: string): string => (isClock(value) ? sayClock(value) : value);
}
