import { bad, good, type Read } from '../problem';
import { isDay } from '../time/wall-time';
import type { Duration } from '../time/shift';
import type { EpochMs } from '../time/zone';

/** TEXT (RFC 5545 §3.3.11): backslash, semicolon, comma and newline escaped, other control characters dropped. */
export function writeText(text: string): string {
  return (
    text
      .replace(/\r\n?/g, '\n')
      .replace(/[\\;,]/g, (mark) => `\\${mark}`)
      .replaceAll('\n', '\\n')
      // eslint-disable-next-line no-control-regex -- the section forbids exactly these
      .replace(/[\u0000-\u0008\u000a-\u001f\u007f]/g, '')
  );
}

/** The reverse; an unknown escape keeps its character, as readers in the field do. */
export const readText = (value: string): string =>
  value.replace(/\\(.)/g, (_, mark: string) => (mark === 'n' || mark === 'N' ? '\n' : mark));

/** UTC-OFFSET (§3.3.14), seconds only when there are some. @example writeOffset(-570) //=> '-0930' */
export function writeOffset(minutes: number): string {
  const seconds = Math.round(Math.abs(minutes) * 60);
  const two = (value: number): string => String(value).padStart(2, '0');
  const rest = seconds % 60 === 0 ? '' : two(seconds % 60);
  return `${minutes < 0 ? '-' : '+'}${two(Math.floor(seconds / 3600))}${two(Math.floor(seconds / 60) % 60)}${rest}`;
}

/** Reads a UTC date-time. Problem code: calendar-bad-value. */
export function readUtc(value: string, path: string): Read<EpochMs> {
  const parts = /^(\d{4})(\d{2})(\d{2})T(\d{2})(\d{2})(\d{2})Z$/.exec(value);
  if (parts) {
    const [year, month, day, hour, minute, second] = parts.slice(1) as [string, string, string, string, string, string];
    // A leap second (:60) is read as :59, since the instants here have none.
    const atMs = Date.parse(`${year}-${month}-${day}T${hour}:${minute}:${second === '60' ? '59' : second}Z`);
    if (!Number.isNaN(atMs) && isDay(`${year}-${month}-${day}`)) return good(atMs);
  }
  return bad({ code: 'calendar-bad-value', path, facts: { value: value.slice(0, 80) } });
}

/** Reads a DURATION; seconds are rounded to minutes. Problem code: calendar-bad-value. */
export function readDuration(value: string, path: string): Read<Duration> {
  const [, sign, weeks, days, hours, minutes, seconds] =
    /^([+-])?P(?=.)(?:(\d{1,4})W)?(?:(\d{1,5})D)?(?:T(?=.)(?:(\d{1,5})H)?(?:(\d{1,6})M)?(?:(\d{1,8})S)?)?$/.exec(
      value.trim(),
    ) ?? [];
  if ([weeks, days, hours, minutes, seconds].every((part) => part === undefined))
    return bad({ code: 'calendar-bad-value', path, facts: { value: value.slice(0, 80) } });
  const number = (part: string | undefined): number => Number(part ?? 0);
  const by = sign === '-' ? -1 : 1;
  return good({
    days: by * (number(weeks) * 7 + number(days)) || 0,
    minutes: by * (number(hours) * 60 + number(minutes) + Math.round(number(seconds) / 60)) || 0,
  });
}

/** A comma-separated list of TEXT (§3.3.11): a comma behind an escape belongs to its item, whatever stands before that. */
export function readTexts(value: string): string[] {
  const items = value.match(/(?:\\.|[^\\,])+/gs) ?? [];
  return items.map((item) => readText(item).trim()).filter(Boolean);
}

/** INTEGER (§3.3.8), not negative. Problem code: calendar-bad-value; never a silent 0. */
export function readCount(value: string, path: string): Read<number> {
  return /^\+?\d{1,9}$/.test(value)
    ? good(Number(value))
    : bad({ code: 'calendar-bad-value', path, facts: { value: value.slice(0, 80) } });
}

/** An address as a CAL-ADDRESS; what has a meaning of its own in a mailto is percent-encoded (RFC 6068 §2). */
export const writeMailto = (address: string): string =>
  `mailto:${address.replace(/[%/?#[\]&;=\s"<>\\^`{|}]/g, (mark) => encodeURIComponent(mark))}`;

/** The address in a CAL-ADDRESS (§3.3.3), lower case; null when it is not a mailto. */
export function readMailto(value: string): string | null {
  const address = /^mailto:([^?\s]+)/i.exec(value.trim())?.[1];
  if (!address) return null;
  try {
    return decodeURIComponent(address).toLowerCase();
  } catch {
    return address.toLowerCase();
  }
}
