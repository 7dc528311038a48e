import type { Problem } from '../problem';
import { isWebAddress } from './web-address';

/** How an event stands in calendars, beside its facts. */
export interface Entry {
  /** Asks each person for a reply (RSVP, RFC 5545 §3.2.17). */
  readonly asksReply: boolean;
  /** The entry's own text, with merge fields; empty to show the description. */
  readonly text: string;
  /** Also gives the text with paragraphs, lists and links, for calendars that show them (RFC 9073 §6.5). */
  readonly isStyled: boolean;
  /** Alarms, each so many minutes before the start. */
  readonly alarmsMinutes: readonly number[];
  readonly isPrivate: boolean;
  /** Shows the time as busy. */
  readonly isBusy: boolean;
  /** Everybody sees who else is invited. By default nobody sees another person's address. */
  readonly showsGuests: boolean;
  /** Categories of the entry; empty to give the topics. */
  readonly categories: readonly string[];
  /** A CSS colour name (RFC 7986 §5.9), or empty. */
  readonly colour: string;
  /** Address of a picture (RFC 7986 §5.10), or empty. */
  readonly imageUrl: string;
  readonly position: { readonly latitude: number; readonly longitude: number } | null;
}

/** Common practice: asks for a reply, reminds half an hour ahead, shows as busy, keeps addresses apart. */
export const plainEntry: Entry = {
  asksReply: true,
  text: '',
  isStyled: false,
  alarmsMinutes: [30],
  isPrivate: false,
  isBusy: true,
  showsGuests: false,
  categories: [],
  colour: '',
  imageUrl: '',
  position: null,
};

/** More guests than this cannot be shown to each other: every entry would carry every address. */
export const mostShownGuests = 100;

/** The names of the CSS Color Module that calendars know best; RFC 7986 asks for a name, never a code. */
export const entryColours = [
  'aqua',
  'black',
  'blue',
  'brown',
  'coral',
  'crimson',
  'darkgreen',
  'gold',
  'gray',
  'green',
  'indigo',
  'maroon',
  'navy',
  'olive',
  'orange',
  'orchid',
  'plum',
  'purple',
  'red',
  'rosybrown',
  'royalblue',
  'salmon',
  'sienna',
  'skyblue',
  'slateblue',
  'teal',
  'tomato',
  'turquoise',
  'violet',
  'yellow',
] as const;

const mostAlarms = 5;
const longestAlarmMinutes = 366 * 1440;

/** What is wrong with the entry's options, at their fields. */
export function checkEntry(entry: Entry): Problem[] {
  const problems: Problem[] = [];
  const { alarmsMinutes, colour, imageUrl, position, text } = entry;
  if (text.length > 10_000) problems.push({ code: 'too-long', path: 'entry.text', facts: { most: 10_000 } });
  const isAlarm = (minutes: number): boolean =>
    Number.isInteger(minutes) && minutes >= 0 && minutes <= longestAlarmMinutes;
  if (alarmsMinutes.length > mostAlarms || !alarmsMinutes.every(isAlarm))
    problems.push({ code: 'bad-time', path: 'entry.alarmsMinutes' });
  if (colour && !entryColours.some((known) => known === colour))
    problems.push({ code: 'bad-colour', path: 'entry.colour', facts: { text: colour } });
  if (imageUrl && !isWebAddress(imageUrl)) problems.push({ code: 'bad-link', path: 'entry.imageUrl' });
  if (position && !(Math.abs(position.latitude) <= 90 && Math.abs(position.longitude) <= 180))
    problems.push({ code: 'bad-position', path: 'entry.position' });
  return problems;
}

/** The options in words, one a line, so that two versions can be compared. */
export function sayEntry(entry: Entry): string[] {
  const { alarmsMinutes, categories, position } = entry;
  return [
    entry.asksReply ? 'asks for a reply' : 'asks for no reply',
    sayAlarms(alarmsMinutes),
    entry.isPrivate ? 'private' : 'public',
    entry.isBusy ? 'shows as busy' : 'shows as free',
    entry.showsGuests ? 'guests see each other' : 'nobody sees another guest',
    entry.isStyled ? 'styled text too' : 'plain text only',
    categories.length && `categories ${categories.join(', ')}`,
    entry.colour && `colour ${entry.colour}`,
    entry.imageUrl && `picture ${entry.imageUrl}`,
    position && `position ${position.latitude}, ${position.longitude}`,
    entry.text && `text “${entry.text}”`,
  ].filter((line): line is string => Boolean(line));
}

/** When the alarms of an entry ring. @example sayAlarms([0, 30]) //=> 'reminds at the start, 30 minutes before' */
export function sayAlarms(alarmsMinutes: readonly number[]): string {
  const before = alarmsMinutes.filter((minutes) => minutes > 0).map(sayMinutes);
  const parts = [
    ...(alarmsMinutes.includes(0) ? ['at the start'] : []),
    ...(before.length ? [`${before.join(' and ')} before`] : []),
  ];
  return parts.length ? `reminds ${parts.join(', ')}` : 'no alarm';
}

/** Minutes in the largest unit that holds them whole. @example sayMinutes(1440) //=> '1 day' */
export function sayMinutes(minutes: number): string {
  const [amount, unit] =
    minutes > 0 && minutes % 1440 === 0
      ? [minutes / 1440, 'day']
      : minutes > 0 && minutes % 60 === 0
        ? [minutes / 60, 'hour']
        : [minutes, 'minute'];
  return `${amount} ${unit}${amount === 1 ? '' : 's'}`;
}
