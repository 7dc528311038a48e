import { cut } from '../cut';
import { isEmail } from '../message/addresses';
import { plainLine } from '../message/plain-words';
import { bad, good, type Problem, type Read } from '../problem';
import { readLanguage } from '../time/language';
import { isYes, type ColumnFact, type ColumnTarget } from './column';
import { readTimeBehind, readWrittenDay } from './written-day';
import { readCountry, readZone, zonesIn, type ZoneSource } from './zone-of';

/** A person as a row of a file says them. Empty where it says nothing. */
export interface BroughtPerson {
  readonly email: string | null;
  readonly name: string;
  /** In E.164; so is `phone`, a number that no text reaches. */
  readonly mobile: string;
  readonly phone: string;
  readonly zone: string;
  readonly zoneFrom: ZoneSource;
  readonly language: string;
  /** Null where no column says anything of it. */
  readonly emailConsent: boolean | null;
  readonly textConsent: boolean | null;
  readonly lists: readonly string[];
  readonly topics: readonly string[];
  /** By the fields' names; days as `2026-11-27`, days with a time as `2026-11-27T20:30`. */
  readonly fields: Readonly<Record<string, string>>;
}

/** What a telephone number is; null for what is none. */
export type ReadPhone = (
  text: string,
) => { readonly number: string; readonly isLandline: boolean; readonly countries: readonly string[] } | null;

const longest = { name: 200, value: 1000, list: 120, topic: 60 };

/**
 * Reads a row of a file, column by column. Problem codes: bad-address, bad-mobile, unknown-zone, bad-value, no-way for who has
 * neither an address nor a number for texts.
 */
export function readPerson(
  columns: readonly ColumnTarget[],
  cells: readonly string[],
  readPhone: ReadPhone,
): Read<BroughtPerson> {
  const cellOf = (fact: ColumnFact): string => {
    const place = columns.findIndex(({ to }) => to === fact);
    return place < 0 ? '' : (cells[place] ?? '').trim();
  };
  const problems: Problem[] = [];
  const refuse = (problem: Problem): void => void problems.push(problem);
  const email = cellOf('email')
    .normalize('NFC')
    .replace(/^mailto:/i, '')
    .toLowerCase();
  if (email && !isEmail(email)) refuse({ code: 'bad-address', path: 'email', facts: { text: cut(email, 120) } });
  const typed = cellOf('mobile');
  const phone = typed ? readPhone(typed) : null;
  if (typed && !phone) refuse({ code: 'bad-mobile', path: 'mobile', facts: { text: cut(typed, 60) } });
  const mobile = phone && !phone.isLandline ? phone.number : '';
  if (!email && !mobile && problems.length === 0) refuse({ code: 'no-way', path: '' });
  const zoneTyped = cellOf('zone');
  const said = zoneTyped ? readZone(zoneTyped) : '';
  if (said === null) refuse({ code: 'unknown-zone', path: 'zone', facts: { zone: cut(zoneTyped, 64) } });
  const { fields, country } = readFields(columns, cells, refuse);
  if (problems.length) return bad(...problems);
  const guessed = said ? { zone: said, zoneFrom: '' as const } : guessZone(country, phone?.countries ?? []);
  return good({
    email: email || null,
    name: cut(plainLine(nameOf(cellOf)), longest.name),
    mobile,
    phone: phone?.isLandline ? phone.number : '',
    ...guessed,
    language: readLanguage(cellOf('language')) ?? '',
    emailConsent: consentOf(columns, 'email-consent', cellOf('email-consent')),
    textConsent: consentOf(columns, 'text-consent', cellOf('text-consent')),
    lists: wordsOf(columns, cells, 'lists', longest.list),
    topics: wordsOf(columns, cells, 'topics', longest.topic),
    fields,
  });
}

/** In one column, or in two. */
function nameOf(cellOf: (fact: ColumnFact) => string): string {
  const whole = cellOf('name');
  return (whole || [cellOf('first-name'), cellOf('last-name')].filter(Boolean).join(' ')).replace(/\s+/g, ' ');
}

const consentOf = (columns: readonly ColumnTarget[], fact: ColumnFact, cell: string): boolean | null =>
  columns.some(({ to }) => to === fact) ? isYes(cell) : null;

function guessZone(country: string, ofPhone: readonly string[]): { zone: string; zoneFrom: ZoneSource } {
  const [byCountry] = country ? zonesIn([country]) : [];
  if (byCountry) return { zone: byCountry, zoneFrom: 'country' };
  const [byPhone] = zonesIn(ofPhone);
  return byPhone ? { zone: byPhone, zoneFrom: 'phone' } : { zone: '', zoneFrom: '' };
}

function readFields(
  columns: readonly ColumnTarget[],
  cells: readonly string[],
  refuse: (problem: Problem) => void,
): { fields: Record<string, string>; country: string } {
  const fields: Record<string, string> = {};
  let country = '';
  columns.forEach((column, index) => {
    const value = (cells[index] ?? '').trim();
    if (column.to !== 'field' || !value) return;
    const day = column.order && readWrittenDay(value, column.order);
    const time = column.type === 'date-time' && column.order ? readTimeBehind(value, column.order) : '';
    const isDay = column.type === 'date' || column.type === 'date-time';
    if (isDay && (!day || time === null))
      refuse({ code: 'bad-value', path: column.name, facts: { text: cut(value, 60), type: column.type } });
    else fields[column.name] = cut(day ? `${day}${time ? `T${time}` : ''}` : value, longest.value);
    if (column.isCountry) country = readCountry(value) ?? '';
  });
  return { fields, country };
}

/** Several in one cell stand between commas, semicolons, bars or line breaks. Only those that somebody said yes to are taken. */
function wordsOf(
  columns: readonly ColumnTarget[],
  cells: readonly string[],
  to: 'lists' | 'topics',
  most: number,
): string[] {
  const words = columns.flatMap((column, index) => {
    if (column.to !== to) return [];
    const known = new Map(column.known.map((one) => [one.toLowerCase(), one]));
    const cell = (cells[index] ?? '').trim();
    // A name may have a comma in it.
    const whole = known.get(cell.toLowerCase());
    if (whole !== undefined) return [whole];
    return splitWords(cell).flatMap((word) => known.get(cut(word, most).toLowerCase()) ?? []);
  });
  return [...new Set(words)];
}

export const splitWords = (cell: string): string[] =>
  cell
    .split(/[,;|\n]+/)
    .map((word) => word.trim())
    .filter(Boolean);
