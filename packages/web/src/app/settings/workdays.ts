import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDatepickerModule, type MatDatepickerInputEvent } from '@angular/material/datepicker';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { Temporal } from 'temporal-polyfill';
import { sayWeekday } from '@convite/core';
import { SettingsApi } from '../api/settings';
import { sayCount, sayDay } from '../ui/say';
import { Toast } from '../ui/toast';
import { temporalPickers } from '../ui/time/temporal-adapter';

export interface WorkdaysChange {
  readonly workdays: number[];
  readonly holidays: string[];
}

/** On which days the house works: its weekdays, and the free days, one by one or from a calendar file. */
@Component({
  selector: 'cv-workdays',
  imports: [MatCheckboxModule, MatDatepickerModule, MatFormFieldModule, MatInputModule],
  providers: temporalPickers,
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      @for (day of weekdays; track day) {
        <mat-checkbox
          [checked]="workdays().includes(day)"
          [disabled]="disabled()"
          (change)="toggle(day, $event.checked)"
          >{{ sayWeekday(day) }}</mat-checkbox
        >
      }
    </div>
    <p class="small quiet">
      {{ holidays().length ? sayCount(holidays().length, 'free day', 'free days') : 'No free day is named yet' }}
    </p>
    @if (holidays().length) {
      <ul class="plain small">
        @for (day of holidays(); track day) {
          <li>
            {{ sayDay(day) }}
            @if (!disabled()) {
              <button class="link" type="button" [attr.aria-label]="'Remove ' + sayDay(day)" (click)="remove(day)">
                remove
              </button>
            }
          </li>
        }
      </ul>
    }
    @if (!disabled()) {
      <div class="add">
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Another free day</mat-label
          ><input
            matInput
            [matDatepicker]="calendar"
            [value]="null"
            (dateChange)="pick($event)" /><mat-datepicker-toggle matIconSuffix [for]="calendar" /><mat-datepicker
            #calendar
        /></mat-form-field>
        <label tabindex="0" (keydown.enter)="file.click()"
          >Take them from a calendar file<input
            #file
            hidden
            type="file"
            accept=".ics,text/calendar"
            (change)="take($event)"
        /></label>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    .add {
      display: flex;
      flex-wrap: wrap;
      gap: 10px 14px;
      align-items: center;
    }
    label {
      color: var(--lead);
      text-decoration: underline;
      cursor: pointer;
    }
    ul {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 18px;
      max-height: 160px;
      overflow: auto;
    }
    p {
      margin: 0;
    }
  `,
})
export class WorkdayChoice {
  private readonly api = inject(SettingsApi);
  private readonly toast = inject(Toast);
  protected readonly sayWeekday = sayWeekday;
  protected readonly sayCount = sayCount;
  protected readonly sayDay = sayDay;
  protected readonly weekdays = [1, 2, 3, 4, 5, 6, 7];
  readonly workdays = input.required<readonly number[]>();
  readonly holidays = input.required<readonly string[]>();
  readonly disabled = input(false);
  readonly changed = output<WorkdaysChange>();

  protected toggle(day: number, isOn: boolean): void {
    const others = this.workdays().filter((one) => one !== day);
    this.changed.emit({ workdays: (isOn ? [...others, day] : others).sort(), holidays: [...this.holidays()] });
  }
  protected add(days: readonly string[]): void {
    this.put([...new Set([...this.holidays(), ...days])].sort());
  }
  protected pick({ value, targetElement }: MatDatepickerInputEvent<Temporal.PlainDateTime>): void {
    if (!value) return;
    this.add([value.toPlainDate().toString()]);
    // For the next one.
    if (targetElement instanceof HTMLInputElement) targetElement.value = '';
  }
  protected remove(day: string): void {
    this.put(this.holidays().filter((one) => one !== day));
  }
  protected take(event: Event): void {
    const input = event.target instanceof HTMLInputElement ? event.target : null;
    const file = input?.files?.[0];
    if (!input || !file) return;
    this.api.readHolidays(file).subscribe({
      next: ({ days }) => {
        this.add(days);
        this.toast.say(`${sayCount(days.length, 'free day was', 'free days were')} found. Save to keep them.`);
      },
      error: (error: unknown) => this.toast.fail(error),
    });
    // The same file may be chosen again.
    input.value = '';
  }
  private put(holidays: string[]): void {
    this.changed.emit({ workdays: [...this.workdays()], holidays });
  }
}
