import { inject, Injectable } from '@angular/core';
import { DateAdapter, MAT_DATE_FORMATS, type MatDateFormats } from '@angular/material/core';
import { Temporal } from 'temporal-polyfill';
import { isDay, readTypedTime, sayWeekday } from '@convite/core';
import { sayClock, sayDay } from '../say';
import { SharedClock } from '../shared-clock';
import { Habits } from './habits';

/** What is no time; Temporal has no such thing of its own. */
const noTime = Temporal.PlainDateTime.from('0001-01-01T00:00');

const monthsOf = (style: 'long' | 'short' | 'narrow'): string[] =>
  Array.from({ length: 12 }, (_, index) =>
    new Intl.DateTimeFormat('en-GB', { month: style, timeZone: 'UTC' }).format(Date.UTC(2001, index)),
  );

/** Material's pickers of days and of clock times, over readings of a calendar and a clock without a zone. */
@Injectable()
export class TemporalAdapter extends DateAdapter<Temporal.PlainDateTime> {
  private readonly habits = inject(Habits);
  private readonly clock = inject(SharedClock);

  getYear = (date: Temporal.PlainDateTime): number => date.year;
  getMonth = (date: Temporal.PlainDateTime): number => date.month - 1;
  getDate = (date: Temporal.PlainDateTime): number => date.day;
  getDayOfWeek = (date: Temporal.PlainDateTime): number => date.dayOfWeek % 7;
  getMonthNames = (style: 'long' | 'short' | 'narrow'): string[] => monthsOf(style);
  getDateNames = (): string[] => Array.from({ length: 31 }, (_, index) => String(index + 1));
  getDayOfWeekNames = (style: 'long' | 'short' | 'narrow'): string[] =>
    [7, 1, 2, 3, 4, 5, 6].map((day) => sayWeekday(day).slice(0, { long: 9, short: 3, narrow: 2 }[style]));
  getYearName = (date: Temporal.PlainDateTime): string => String(date.year);
  getFirstDayOfWeek = (): number => this.habits.firstWeekday() % 7;
  getNumDaysInMonth = (date: Temporal.PlainDateTime): number => date.daysInMonth;
  clone = (date: Temporal.PlainDateTime): Temporal.PlainDateTime => date;
  createDate = (year: number, month: number, day: number): Temporal.PlainDateTime =>
    Temporal.PlainDateTime.from({ year, month: month + 1, day }, { overflow: 'reject' });
  today = (): Temporal.PlainDateTime => Temporal.PlainDateTime.from(this.nowWall().slice(0, 10));
  override setTime = (target: Temporal.PlainDateTime, hour: number, minute: number): Temporal.PlainDateTime =>
    target.with({ hour, minute, second: 0 });
  override getHours = (date: Temporal.PlainDateTime): number => date.hour;
  override getMinutes = (date: Temporal.PlainDateTime): number => date.minute;
  override getSeconds = (): number => 0;
  override addSeconds = (date: Temporal.PlainDateTime, seconds: number): Temporal.PlainDateTime =>
    date.add({ seconds });
  parse(value: unknown): Temporal.PlainDateTime | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const found = readTypedTime(value, { now: this.nowWall(), order: this.habits.dayOrder() });
    return found?.day ? Temporal.PlainDateTime.from(`${found.day}T${found.time ?? '00:00'}`) : noTime;
  }
  override parseTime(value: unknown): Temporal.PlainDateTime | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const time = readTypedTime(value, { now: this.nowWall(), order: this.habits.dayOrder() })?.time;
    return (time ? clockReadingOf(time) : null) ?? noTime;
  }
  format = (date: Temporal.PlainDateTime, wanted: unknown): string => {
    if (wanted === 'month') return `${monthsOf('short')[date.month - 1] ?? ''} ${date.year}`;
    const [day = '', time = ''] = date.toString().split('T');
    return wanted === 'clock' ? sayClock(time.slice(0, 5)) : sayDay(day);
  };
  addCalendarYears = (date: Temporal.PlainDateTime, years: number): Temporal.PlainDateTime => date.add({ years });
  addCalendarMonths = (date: Temporal.PlainDateTime, months: number): Temporal.PlainDateTime => date.add({ months });
  addCalendarDays = (date: Temporal.PlainDateTime, days: number): Temporal.PlainDateTime => date.add({ days });
  toIso8601 = (date: Temporal.PlainDateTime): string => date.toString().slice(0, 10);
  isDateInstance = (value: unknown): boolean => value instanceof Temporal.PlainDateTime;
  isValid = (date: Temporal.PlainDateTime): boolean => !date.equals(noTime);
  invalid = (): Temporal.PlainDateTime => noTime;

  private nowWall = (): string => new Date(this.clock.nowMs()).toISOString().slice(0, 16);
}

export const temporalFormats: MatDateFormats = {
  parse: { dateInput: 'day', timeInput: 'clock' },
  display: {
    dateInput: 'day',
    monthLabel: 'month',
    monthYearLabel: 'month',
    dateA11yLabel: 'day',
    monthYearA11yLabel: 'month',
    timeInput: 'clock',
    timeOptionLabel: 'clock',
  },
};

/** Midnight of a day, for the picker of days. @returns null for what is no day */
export const dayReadingOf = (day: string): Temporal.PlainDateTime | null =>
  isDay(day) ? Temporal.PlainDateTime.from(`${day}T00:00`) : null;

/** A clock time on any day, for the picker of times. @returns null for what is no clock time */
export const clockReadingOf = (time: string): Temporal.PlainDateTime | null =>
  isClock(time) ? Temporal.PlainDateTime.from(`2001-01-01T${time}`) : null;

/** Whether it is a clock time as fields keep it, `20:30`. */
export const isClock = (text: string): boolean => /^([01]\d|2[0-3]):[0-5]\d$/.test(text);

/** What the pickers need, for a field that has one. */
export const temporalPickers = [
  { provide: DateAdapter, useClass: TemporalAdapter },
  { provide: MAT_DATE_FORMATS, useValue: temporalFormats },
];
