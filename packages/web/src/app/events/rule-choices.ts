import {
  calendarDateOf,
  dayNumberOf,
  daysInMonth,
  plainRule,
  sayRule,
  weekdayOfDay,
  type Day,
  type Frequency,
  type Rule,
} from '@convite/core';

/** One way of repeating that fits a start, as a choice in a list. */
export interface RuleChoice {
  readonly name: string;
  readonly rule: Rule;
}

/** How often, in the words of the first choice. */
export const rhythms: readonly { readonly frequency: Frequency; readonly name: string; readonly unit: string }[] = [
  { frequency: 'DAILY', name: 'by the day', unit: 'days' },
  { frequency: 'WEEKLY', name: 'by the week', unit: 'weeks' },
  { frequency: 'MONTHLY', name: 'by the month', unit: 'months' },
  { frequency: 'YEARLY', name: 'by the year', unit: 'years' },
];

/** Which day of the month or year the start could stand for; what the rule already says is among them. */
export function dayChoices(frequency: Frequency, start: Day, current: Rule | null): RuleChoice[] {
  const day = dayNumberOf(Number(start.slice(0, 4)), Number(start.slice(5, 7)), Number(start.slice(8, 10)));
  const { year, month, date } = calendarDateOf(day);
  const weekday = weekdayOfDay(day);
  const left = daysInMonth(year, month) - date;
  const base = { ...plainRule(frequency), months: frequency === 'YEARLY' ? [month] : [] };
  const workdays = [1, 2, 3, 4, 5].map((one) => ({ weekday: one, nth: 0 }));
  const rules: Rule[] = [
    { ...base, monthDays: [date] },
    { ...base, days: [{ weekday, nth: Math.min(4, Math.ceil(date / 7)) }] },
    ...(left < 7 ? [{ ...base, days: [{ weekday, nth: -1 }] }] : []),
    ...(left === 0 ? [{ ...base, monthDays: [-1] }] : []),
    { ...base, days: workdays, positions: [1] },
    { ...base, days: workdays, positions: [-1] },
  ];
  const choices = rules.map((rule) => ({ name: sayRule(rule), rule }));
  const shape = current && shapeOf(current);
  const isKnown = !shape || choices.some(({ name }) => name === sayRule(shape));
  return isKnown || !shape ? choices : [...choices, { name: sayRule(shape), rule: shape }];
}

/** The rule without its step and its end, to be compared with the choices. */
export const shapeOf = (rule: Rule): Rule => ({ ...rule, interval: 1, count: null, until: null, weekStart: 1 });
