/** A further field of people, typed: what a house keeps beside name and address. */
export const fieldTypes = ['text', 'number', 'date', 'date-time', 'choice', 'yes-no'] as const;
export type FieldType = (typeof fieldTypes)[number];

/**
 * A value as it is compared: a number for numbers and for yes (1) and no (0), else text; a date as `2026-11-27`. A date and time is compared
 * by its day.
 */
export type FieldValue = string | number;

export type FieldTest =
  | { readonly is: 'any-of'; readonly values: readonly string[] }
  | { readonly is: 'begins-with'; readonly text: string }
  | { readonly is: 'number'; readonly from: number | null; readonly to: number | null }
  /** Days of the calendar, both included; null for no bound. */
  | { readonly is: 'date'; readonly from: string | null; readonly to: string | null }
  /** The same day of any year, as `11-27`: birthdays and the like. */
  | { readonly is: 'day-of-year'; readonly days: readonly string[] }
  | { readonly is: 'filled' };

/** Does a value pass? Text is compared without regard to case; a value of another type does not pass. */
export function passes(value: FieldValue | undefined, test: FieldTest): boolean {
  if (value === undefined) return false;
  switch (test.is) {
    case 'filled':
      return true;
    case 'number':
      return typeof value === 'number' && value >= (test.from ?? -Infinity) && value <= (test.to ?? Infinity);
    case 'any-of':
      return typeof value === 'string' && test.values.some((one) => one.toLowerCase() === value.toLowerCase());
    case 'begins-with':
      return typeof value === 'string' && value.toLowerCase().startsWith(test.text.toLowerCase());
    case 'date':
      return isDay(value) && value >= (test.from ?? '') && value <= (test.to ?? '9999-12-31');
    case 'day-of-year':
      return isDay(value) && test.days.includes(value.slice('2026-'.length));
  }
}

const isDay = (value: FieldValue): value is string => typeof value === 'string' && /^\d{4}-\d\d-\d\d$/.test(value);

/** What a typed value is as its type; null when it is none of that type. Dates, and clock readings without a zone, as in ISO 8601. */
export function readFieldValue(type: FieldType, typed: string): FieldValue | null {
  const text = typed.trim();
  if (text === '') return null;
  if (type === 'number') return Number.isFinite(Number(text)) ? Number(text) : null;
  if (type === 'date') return isRealDay(text) ? text : null;
  if (type === 'date-time') {
    const [, day = ''] = /^(\d{4}-\d\d-\d\d)(?:[T ](?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d)?)?$/.exec(text) ?? [];
    return isRealDay(day) ? day : null;
  }
  if (type === 'yes-no') return yes.includes(text.toLowerCase()) ? 1 : no.includes(text.toLowerCase()) ? 0 : null;
  return text;
}

const isRealDay = (text: string): boolean => isDay(text) && new Date(`${text}T00:00Z`).toISOString().startsWith(text);

/** What a column of a file seems to hold: dates, dates with a time, numbers or yes and no where all that is filled in is such; else text. */
export function guessFieldType(values: readonly string[]): FieldType {
  const filled = values.filter((value) => value.trim() !== '');
  const areAll = (isOne: (text: string) => boolean): boolean =>
    filled.length > 0 && filled.every((value) => isOne(value.trim()));
  if (areAll((text) => readFieldValue('date', text) !== null)) return 'date';
  if (areAll((text) => readFieldValue('date-time', text) !== null)) return 'date-time';
  // A number that begins with 0 or + is a name: a postal code, a telephone.
  if (areAll((text) => /^-?(0|[1-9]\d*)(\.\d+)?$/.test(text))) return 'number';
  return areAll((text) => ['yes', 'no'].includes(text.toLowerCase())) ? 'yes-no' : 'text';
}

const yes: readonly string[] = ['yes', 'y', 'true', '1', 'x'];
const no: readonly string[] = ['no', 'n', 'false', '0'];
