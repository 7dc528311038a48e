import { isDay, isWallTime, type Day, type WallTime } from '../time/wall-time';
import type { EpochMs } from '../time/zone';

/** A time as a link says it. */
export type LinkTime =
  | { readonly kind: 'day'; readonly day: Day }
  /** A clock reading; whose, the link must say elsewhere. */
  | { readonly kind: 'local'; readonly wall: WallTime; readonly seconds: number }
  | { readonly kind: 'utc'; readonly atMs: EpochMs }
  | { readonly kind: 'offset'; readonly atMs: EpochMs; readonly wall: WallTime; readonly offsetMinutes: number };

export type LinkPart = 'title' | 'place' | 'description' | 'start' | 'end' | 'duration' | 'zone' | 'other';

/** One named value of a link, decoded as readers of forms do it. */
export interface LinkValue {
  readonly name: string;
  readonly part: LinkPart;
  /** As it stands in the link. */
  readonly raw: string;
  readonly text: string;
}

/** What an add-to-calendar link says, whoever made it. */
export interface ReadLink {
  readonly address: string;
  readonly values: readonly LinkValue[];
  readonly title: string;
  readonly place: string;
  readonly description: string;
  readonly zone: string;
  readonly start: LinkTime | null;
  readonly end: LinkTime | null;
  /** In minutes, where the link says how long instead of until when. */
  readonly durationMinutes: number | null;
}

/**
 * Reads an add-to-calendar link as far as its values can be told apart: by the words in their names, and times by their
 * form. Reads also what no browser would open, since that is what one wants to know. Null when it is no web address.
 */
export function readLink(text: string): ReadLink | null {
  const link = text.trim().replace(/^<|>$/g, '').replaceAll('&amp;', '&');
  // A raw `#` ends the query (WHATWG URL); a link without query may keep its values after it.
  const [, address, query, fragment = ''] = /^(https?:\/\/[^?#]+)(?:\?([^#]*))?(?:#(.*))?$/is.exec(link) ?? [];
  if (!address) return null;
  const values = (query ?? fragment)
    .split('&')
    .filter(Boolean)
    .map((pair): LinkValue => {
      const [name = '', ...rest] = pair.split('=');
      const raw = rest.join('=');
      const decoded = decode(name);
      return { name: decoded, raw, text: decode(raw), part: partOf(decoded, decode(raw)) };
    });
  const times = values.filter(({ part }) => part === 'start' || part === 'end');
  const textOf = (part: LinkPart): string => values.find((value) => value.part === part)?.text ?? '';
  const [start, end] = timesOf(times);
  return {
    address,
    values,
    title: textOf('title'),
    place: textOf('place'),
    description: textOf('description'),
    zone: textOf('zone'),
    start,
    end,
    durationMinutes: readLinkDuration(textOf('duration')),
  };
}

/** WHATWG form decoding: `+` is a space, `%xx` UTF-8; what cannot be decoded stays. */
export function decode(text: string): string {
  const spaced = text.replaceAll('+', ' ');
  try {
    return decodeURIComponent(spaced);
  } catch {
    return spaced.replace(/(?:%[0-9A-Fa-f]{2})+/g, (run) => {
      try {
        return decodeURIComponent(run);
      } catch {
        return run;
      }
    });
  }
}

/** Words by which makers of links name their values, the more telling first. */
const namesOf: readonly (readonly [LinkPart, RegExp])[] = [
  ['zone', /zone|^tz|tz$/i],
  ['description', /desc|detail|body|note|about|info/i],
  ['place', /loc|place|where|venue|address/i],
  ['title', /title|subj|summary|what|text|^name$|event/i],
  ['duration', /dur|length/i],
  ['end', /end|until|^to$|stop|finish/i],
  ['start', /start|begin|from|when|date|time/i],
];

function partOf(name: string, text: string): LinkPart {
  const named = namesOf.find(([, words]) => words.test(name))?.[0] ?? 'other';
  if (named === 'duration') return readLinkDuration(text) === null ? 'other' : named;
  if (isTimeText(text)) return named === 'end' ? 'end' : 'start';
  // A start or end that is no time says nothing of one.
  return named === 'start' || named === 'end' ? (/\d{4}/.test(text) && text.length < 40 ? named : 'other') : named;
}

/** "start/end" in one value, or one value each. */
function timesOf(values: readonly LinkValue[]): [LinkTime | null, LinkTime | null] {
  const first = values.find(({ part }) => part === 'start');
  const last =
    values.find(({ part }) => part === 'end') ?? values.find((value) => value !== first && value.part === 'start');
  const [from = '', to] = (first?.text ?? '').split('/');
  return [readLinkTime(from), readLinkTime(to ?? last?.text ?? '')];
}

const isTimeText = (text: string): boolean =>
  text.split('/').every((piece) => readLinkTime(piece) !== null) && text.length > 0;

/** A time in basic or extended form (ISO 8601), or as milliseconds or seconds since 1970. */
export function readLinkTime(text: string): LinkTime | null {
  const value = text.trim();
  if (/^\d{13}$/.test(value)) return { kind: 'utc', atMs: Number(value) };
  if (/^1\d{9}$/.test(value)) return { kind: 'utc', atMs: Number(value) * 1000 };
  const [, year, month, date, hour, minute = '00', second = '0', zulu, sign, offsetHour, offsetMinute = '00'] =
    // A `+` of an offset that was not encoded arrives as a space.
    /^(\d{4})-?(\d{2})-?(\d{2})(?:[T ](\d{2}):?(\d{2})?(?::?(\d{2}(?:\.\d+)?))?(?:(Z)|([+ -])(\d{2}):?(\d{2})?)?)?$/i.exec(
      value,
    ) ?? [];
  const day = `${year}-${month}-${date}`;
  if (!isDay(day)) return null;
  if (hour === undefined) return { kind: 'day', day };
  const wall = `${day}T${hour}:${minute}`;
  if (!isWallTime(wall)) return null;
  const seconds = Number(second);
  const asUtcMs = Date.parse(`${wall}Z`) + seconds * 1000;
  if (zulu) return { kind: 'utc', atMs: asUtcMs };
  if (!sign) return { kind: 'local', wall, seconds };
  // No zone lies further than 14 hours from UTC.
  if (Number(offsetHour) > 14 || Number(offsetMinute) > 59) return null;
  const offsetMinutes = (sign === '-' ? -1 : 1) * (Number(offsetHour) * 60 + Number(offsetMinute));
  return { kind: 'offset', atMs: asUtcMs - offsetMinutes * 60_000, wall, offsetMinutes };
}

/** A length as ISO 8601 writes it (`PT2H30M`, `P1D`) or as hours and minutes (`0230`, `02:30`); in minutes. */
export function readLinkDuration(text: string): number | null {
  const [, days, hours, minutes] =
    /^P(?=.)(?:(\d{1,3})D)?(?:T(?=.)(?:(\d{1,4})H)?(?:(\d{1,5})M)?)?$/i.exec(text.trim()) ?? [];
  const [, clockHours, clockMinutes] = /^(\d{2}):?([0-5]\d)$/.exec(text.trim()) ?? [];
  const total = Number(days ?? 0) * 1440 + Number(hours ?? clockHours ?? 0) * 60 + Number(minutes ?? clockMinutes ?? 0);
  return total > 0 ? total : null;
}
