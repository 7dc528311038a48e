import type { Problem } from '../problem';
import { mergeFields, type FieldName } from './fields';

/** A piece of a wording: plain text, or a merge field with what to write when it is empty. */
export type WordingNode = { readonly text: string } | { readonly field: FieldName; readonly fallback: string };

/** A wording that was read: its pieces, and everything wrong with it. */
export interface Wording {
  readonly nodes: readonly WordingNode[];
  readonly problems: readonly Problem[];
}

/**
 * Reads a wording with merge fields, `{{person.firstName|friend}}`; the fallback stands in for an empty value.
 * Problem codes: unknown-field (facts: name), field-not-closed. A field that cannot be read stays as it was typed.
 */
export function readWording(text: string, path: string): Wording {
  const nodes: WordingNode[] = [];
  const problems: Problem[] = [];
  let at = 0;
  for (let open = text.indexOf('{{'); open >= 0; open = text.indexOf('{{', at)) {
    if (open > at) nodes.push({ text: text.slice(at, open) });
    const close = text.indexOf('}}', open);
    if (close < 0) {
      problems.push({ code: 'field-not-closed', path, facts: { text: text.slice(open, open + 30) } });
      at = open;
      break;
    }
    const [name = '', ...fallback] = text.slice(open + 2, close).split('|');
    const field = name.trim();
    if (isField(field)) nodes.push({ field, fallback: fallback.join('|').trim() });
    else {
      nodes.push({ text: text.slice(open, close + 2) });
      problems.push({ code: 'unknown-field', path, facts: { name: field } });
    }
    at = close + 2;
  }
  if (at < text.length) nodes.push({ text: text.slice(at) });
  return { nodes, problems };
}

/** Only an event gives it: a message about none has nothing to stand for it. */
export const isOfEvent = (field: string): boolean => field.startsWith('event.') || eventLinks.includes(field);

/** Fields of an event that stand in a wording. */
export const eventFieldsIn = (text: string): FieldName[] =>
  readWording(text, '').nodes.flatMap((node) => ('field' in node && isOfEvent(node.field) ? [node.field] : []));
const eventLinks: readonly string[] = [
  'link.event',
  'link.ics',
  'link.calendar',
  'link.myCalendar',
  'link.myIcs',
  'link.reply',
];

/** The wording filled for one person. @param escape makes what fields say safe where they stand */
export function fillWording(
  { nodes }: Wording,
  values: Readonly<Partial<Record<FieldName, string>>>,
  escape: (value: string) => string = (value) => value,
): string {
  let text = '';
  for (const node of nodes) text += 'text' in node ? node.text : escape(values[node.field] || node.fallback);
  return text;
}

/** Fields that say something of the reader, or in the reader's own time. */
const personalFields: readonly FieldName[] = [
  'event.when',
  'event.notes',
  'link.myCalendar',
  'link.myIcs',
  'link.reply',
  'link.feed',
  'link.optOut',
];

/** Does the wording read the same for everybody? */
export const isSameForAll = ({ nodes }: Wording): boolean =>
  nodes.every((node) => 'text' in node || !(node.field.startsWith('person.') || personalFields.includes(node.field)));

const isField = (name: string): name is FieldName => Object.hasOwn(mergeFields, name);
