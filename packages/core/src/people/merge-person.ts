import type { ColumnTarget, MergeRule } from './column';
import type { BroughtPerson } from './read-person';

/** What is known of somebody whom a file brings again. */
export interface KnownPerson {
  readonly name: string;
  readonly mobile: string;
  readonly phone: string;
  readonly zone: string;
  /** Where the zone was guessed, whoever says it is right. */
  readonly zoneFrom: string;
  readonly language: string;
  readonly lists: readonly string[];
  readonly topics: readonly string[];
  /** By the fields' names in small letters. */
  readonly fields: Readonly<Record<string, string>>;
}

export const changedParts = ['name', 'mobile', 'phone', 'zone', 'language', 'list', 'topic', 'field'] as const;
/** One thing that a file changes about somebody. */
export interface PersonChange {
  readonly part: (typeof changedParts)[number];
  /** Of the list, topic or field. Empty for others. */
  readonly name: string;
  readonly before: string;
  readonly after: string;
}

/** What a row changes about somebody who is known, by the rule that was chosen for each column. An empty cell changes nothing. */
export function changesBy(
  columns: readonly ColumnTarget[],
  brought: BroughtPerson,
  known: KnownPerson,
): PersonChange[] {
  const changes: PersonChange[] = [];
  const differ = (part: PersonChange['part'], name: string, before: string, after: string, rule: MergeRule): void => {
    if (after && after !== before && (rule === 'take' || (rule === 'fill' && !before)))
      changes.push({ part, name, before, after });
  };
  const ruleOf = (...facts: readonly string[]): MergeRule => {
    const column = columns.find(({ to }) => facts.includes(to));
    return column && 'rule' in column ? column.rule : 'fill';
  };
  differ('name', '', known.name, brought.name, ruleOf('name', 'first-name', 'last-name'));
  differ('mobile', '', known.mobile, brought.mobile, ruleOf('mobile'));
  differ('phone', '', known.phone, brought.phone, ruleOf('mobile'));
  // A guess never goes over what is known; what is said goes over a guess.
  if (brought.zoneFrom) differ('zone', '', known.zone, brought.zone, 'fill');
  else differ('zone', '', known.zoneFrom && ruleOf('zone') === 'fill' ? '' : known.zone, brought.zone, ruleOf('zone'));
  differ('language', '', known.language, brought.language, ruleOf('language'));
  for (const column of columns)
    if (column.to === 'field')
      differ(
        'field',
        column.name,
        known.fields[column.name.toLowerCase()] ?? '',
        brought.fields[column.name] ?? '',
        column.rule,
      );
  const isAmong = (some: readonly string[], one: string): boolean =>
    some.some((other) => other.toLowerCase() === one.toLowerCase());
  for (const list of brought.lists)
    if (!isAmong(known.lists, list)) changes.push({ part: 'list', name: list, before: '', after: list });
  for (const topic of brought.topics)
    if (!isAmong(known.topics, topic)) changes.push({ part: 'topic', name: topic, before: '', after: topic });
  return changes;
}
