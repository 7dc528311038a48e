import { bad, good, type Read } from '../problem';
import { readContentLine, unfoldLines, type ContentLine } from './content-line';

/** A BEGIN…END block of iCalendar text with what it holds. */
export interface Component {
  readonly name: string;
  readonly lineNumber: number;
  readonly properties: ContentLine[];
  readonly components: Component[];
}

/** Bounds that keep hostile text cheap; real invitations are a hundredth of this. */
const mostCharacters = 10_000_000;
const deepest = 8;

/**
 * Reads iCalendar text into components (RFC 5545 §3.4, §3.6). Whatever is unreadable is a problem with its line:
 * calendar-too-big, calendar-too-deep, calendar-bad-line, calendar-not-closed. Nothing is half read.
 */
export function readComponents(text: string): Read<Component[]> {
  if (text.length > mostCharacters) return bad({ code: 'calendar-too-big', path: '', facts: { most: mostCharacters } });
  const top: Component[] = [];
  const open: Component[] = [];
  for (const { number, text: line } of unfoldLines(text)) {
    const read = readContentLine(line, number);
    if (!read.ok) return read;
    const { name, value } = read.value;
    const current = open.at(-1);
    if (name === 'BEGIN') {
      if (open.length >= deepest)
        return bad({ code: 'calendar-too-deep', path: `line ${number}`, facts: { most: deepest } });
      const component: Component = {
        name: value.trim().toUpperCase(),
        lineNumber: number,
        properties: [],
        components: [],
      };
      (current?.components ?? top).push(component);
      open.push(component);
    } else if (!current || (name === 'END' && value.trim().toUpperCase() !== current.name)) {
      return bad({ code: 'calendar-bad-line', path: `line ${number}`, facts: { text: line.slice(0, 80) } });
    } else if (name === 'END') open.pop();
    else current.properties.push(read.value);
  }
  const unclosed = open.at(-1);
  return unclosed
    ? bad({ code: 'calendar-not-closed', path: `line ${unclosed.lineNumber}`, facts: { name: unclosed.name } })
    : good(top);
}

/** A component's only or first property of that name. */
export const propertyOf = (component: Component, name: string): Component['properties'][number] | undefined =>
  component.properties.find((property) => property.name === name);
