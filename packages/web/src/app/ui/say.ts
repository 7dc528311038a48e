import { signal } from '@angular/core';
import * as core from '@convite/core';

/** How the team writes days and times, by Settings; whatever says one follows when it changes. */
const manner = signal<core.Manner>(core.plainManner);
export const setManner = (wanted: core.Manner): void => manner.set(wanted);

/** Every day, time and number that the team reads is said here. */
export const sayDay = (day: core.Day): string => core.sayDay(day, manner());
export const sayShortDay = (day: core.Day): string => core.sayShortDay(day, manner());
export const sayClock = (time: string): string => core.sayClock(time, manner());
export const sayTime = (atMs: number, zone: string): string => core.sayTime(atMs, zone, manner());
export const sayInstant = (atMs: number, zone: string): string => core.sayInstant(atMs, zone, manner());
export const sayShortInstant = (atMs: number, zone: string): string => core.sayShortInstant(atMs, zone, manner());

const number = new Intl.NumberFormat('en');
export const sayNumber = (n: number): string => number.format(n);
/** A number with what it counts. @example sayCount(2, 'person', 'people') //=> '2 people' */
export const sayCount = (n: number, one: string, many: string): string => `${sayNumber(n)} ${n === 1 ? one : many}`;

/** A month, as `2026-11`. @example sayMonth('2026-11') //=> 'Nov 2026' */
export const sayMonth = (month: string): string => {
  const [, name = '', year = ''] = /(\p{L}+)\s+(\d{4})$/u.exec(core.sayDay(`${month}-01`)) ?? [];
  return `${name} ${year}`;
};
