import { inject, Injectable } from '@angular/core';
import { sayDay } from '../say';
import { DateAdapter, type MatDateFormats } from '@angular/material/core';
import { Temporal } from 'temporal-polyfill';
import { isDay, readTypedTime, sayWeekday } from '@convite/core';
import { SharedClock } from '../shared-clock';
import { Habits } from './habits';

/** What is no day; Temporal has no such thing of its own. */
const noDay = Temporal.PlainDate.from('0001-01-01');

const monthsOf = (style: 'long' | 'short' | 'narrow'): string[] =>
  Array.from({ length: 12 }, (_, index) =>
    new Intl.DateTimeFormat('en-GB', { month: style, timeZone: 'UTC' }).format(Date.UTC(2001, index)),
  );

/** Material's date picker over days without a zone. */
@Injectable()
export class PlainDateAdapter extends DateAdapter<Temporal.PlainDate> {
  private readonly habits = inject(Habits);
  private readonly clock = inject(SharedClock);

  getYear = (date: Temporal.PlainDate): number => date.year;
  getMonth = (date: Temporal.PlainDate): number => date.month - 1;
  getDate = (date: Temporal.PlainDate): number => date.day;
  getDayOfWeek = (date: Temporal.PlainDate): number => date.dayOfWeek % 7;
  getMonthNames = (style: 'long' | 'short' | 'narrow'): string[] => monthsOf(style);
  getDateNames = (): string[] => Array.from({ length: 31 }, (_, index) => String(index + 1));
  getDayOfWeekNames = (style: 'long' | 'short' | 'narrow'): string[] =>
    [7, 1, 2, 3, 4, 5, 6].map((day) => sayWeekday(day).slice(0, { long: 9, short: 3, narrow: 2 }[style]));
  getYearName = (date: Temporal.PlainDate): string => String(date.year);
  getFirstDayOfWeek = (): number => this.habits.firstWeekday() % 7;
  getNumDaysInMonth = (date: Temporal.PlainDate): number => date.daysInMonth;
  clone = (date: Temporal.PlainDate): Temporal.PlainDate => date;
  createDate = (year: number, month: number, day: number): Temporal.PlainDate =>
    Temporal.PlainDate.from({ year, month: month + 1, day }, { overflow: 'reject' });
  today = (): Temporal.PlainDate => Temporal.PlainDate.from(new Date(this.clock.nowMs()).toISOString().slice(0, 10));
  parse(value: unknown): Temporal.PlainDate | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const now = new Date(this.clock.nowMs()).toISOString().slice(0, 16);
    const day = readTypedTime(value, { now, order: this.habits.dayOrder() })?.day;
    return day ? Temporal.PlainDate.from(day) : noDay;
  }
  format = (date: Temporal.PlainDate, wanted: unknown): string => {
    if (wanted === 'month') return `${monthsOf('short')[date.month - 1] ?? ''} ${date.year}`;
    return sayDay(date.toString());
  };
  addCalendarYears = (date: Temporal.PlainDate, years: number): Temporal.PlainDate => date.add({ years });
  addCalendarMonths = (date: Temporal.PlainDate, months: number): Temporal.PlainDate => date.add({ months });
  addCalendarDays = (date: Temporal.PlainDate, days: number): Temporal.PlainDate => date.add({ days });
  toIso8601 = (date: Temporal.PlainDate): string => date.toString();
  isDateInstance = (value: unknown): boolean => value instanceof Temporal.PlainDate;
  isValid = (date: Temporal.PlainDate): boolean => !date.equals(noDay);
  invalid = (): Temporal.PlainDate => noDay;
}

export const plainDateFormats: MatDateFormats = {
  parse: { dateInput: 'day' },
  display: {
    dateInput: 'day',
    monthLabel: 'month',
    monthYearLabel: 'month',
    dateA11yLabel: 'day',
    monthYearA11yLabel: 'month',
  },
};

/** @returns null for what is no day */
export const plainDateOf = (day: string): Temporal.PlainDate | null =>
  isDay(day) ? Temporal.PlainDate.from(day) : null;
