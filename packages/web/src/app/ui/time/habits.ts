import { Injectable, signal } from '@angular/core';
import type { DayOrder } from '@convite/core';

/** How the house writes days, by Settings. The shell says so once it knows. */
@Injectable({ providedIn: 'root' })
export class Habits {
  /** In which order numbers are read that stand for a day. */
  readonly dayOrder = signal<DayOrder>('day-first');
  /** On which day a week begins: 1 is Monday, 7 is Sunday. */
  readonly firstWeekday = signal(1);
}
