import { foldLine } from '../calendar/content-line';

/** What of a person goes into an address book. */
export interface CardFacts {
  readonly id: number;
  readonly name: string;
  /** Empty where there is none; so is a number in E.164, and a zone's name. */
  readonly email: string;
  readonly mobile: string;
  readonly zone: string;
  readonly lists: readonly string[];
}

/**
 * A person as a vCard 4.0 (RFC 6350), with the lists as categories (§6.7.1). Whoever has no name goes by their address.
 * @param house names the card within the world, as `house.example`
 */
export function writeVcard({ id, name, email, mobile, zone, lists }: CardFacts, house: string): string {
  const words = name.trim().split(/\s+/);
  const [family, given] = words.length > 1 ? [words.at(-1) ?? '', words.slice(0, -1).join(' ')] : ['', name.trim()];
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    `UID:${text(`person-${id}@${house}`)}`,
    // §6.2.1: a card has a name, whatever it is.
    `FN:${text(name || email || mobile || String(id))}`,
    ...(name ? [`N:${part(family)};${part(given)};;;`] : []),
    ...(email ? [`EMAIL:${text(email)}`] : []),
    ...(mobile ? [`TEL;VALUE=uri;TYPE="cell,text":tel:${mobile}`] : []),
    ...(zone ? [`TZ:${text(zone)}`] : []),
    ...(lists.length ? [`CATEGORIES:${lists.map(text).join(',')}`] : []),
    'END:VCARD',
  ];
  return lines.map(foldLine).join('');
}

/** §3.4: of a value of several parts the semicolon is escaped too; of others it may be, and not every reader takes that back. */
const part = (value: string): string => text(value).replaceAll(';', '\\;');

/** §3.4: backslash, comma and line break are escaped; control characters are none of a text. */
const text = (value: string): string =>
  value
    // eslint-disable-next-line no-control-regex -- they are what is taken out
    .replace(/[\u0000-\u0009\u000B-\u001F\u007F]/g, '')
    .replace(/[\\,]/g, (mark) => `\\${mark}`)
    .replaceAll('\n', '\\n');
