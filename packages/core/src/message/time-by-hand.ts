/** A time of day that somebody typed. */
export interface HandTime {
  readonly written: string;
  /** `hh:mm` */
  readonly time: string;
}

/**
 * Times of day in a text, as people type them in the house's languages: `19:00`, `19h00`, `19h`, `19.00 Uhr`, `19 Uhr`, `7 pm`,
 * `7:30 p.m.`. What is a price, a score, a length (`3h`) or a part of an address is none.
 */
export function timesIn(text: string): HandTime[] {
  const said = text.replace(/(?:https?:|www\.)\S+|[^\s@]{1,64}@\S+/gi, ' ');
  return [...said.matchAll(pattern)].flatMap((match): HandTime[] => {
    const [written, hour = '', mark = '', minute = '', half = '', oclock = ''] = match;
    const isColon = mark === ':' && minute !== '';
    const isHours = /h/i.test(mark) && (minute !== '' || hour.length === 2);
    const isWhole = mark === '' || minute !== '' || isHours;
    if (!isColon && !isHours && !(isWhole && (half || oclock))) return [];
    const time = timeOf(Number(hour), Number(minute || 0), half.toLowerCase());
    return time ? [{ written: written.trim(), time }] : [];
  });
}

/** Hour, mark, minutes, half of the day, o'clock; never inside a longer number or word, nor beside a currency or a percent sign. */
const pattern =
  /(?<![\p{L}\p{N}€$£]|[\p{N}][.,:/-])(\d{1,2})(?:([:.]|\s?h)\s?([0-5]\d)?h?)?(?:\s?([ap])\.?m\b\.?|\s?(uhr|o[’']clock)\b)?(?![\p{L}\p{N}%€$£]|[.,:/-]\d)/giu;

function timeOf(hour: number, minute: number, half: string): string | null {
  if (half ? hour < 1 || hour > 12 : hour > 23) return null;
  const hours = half ? (hour % 12) + (half === 'p' ? 12 : 0) : hour;
  return `${String(hours).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}
