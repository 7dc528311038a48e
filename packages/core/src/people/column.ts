import { cut } from '../cut';
import { guessFieldType, type FieldType } from '../audience/field';
import { isEmail } from '../message/addresses';
import { readLanguage } from '../time/language';
import type { DayOrder } from '../time/manner';
import { readZone } from './zone-of';
import { provenOrder, readTimeBehind, readWrittenDay, type WrittenOrder } from './written-day';

/** What of ours stays where a file says something else. */
export const mergeRules = ['fill', 'take', 'keep'] as const;
export type MergeRule = (typeof mergeRules)[number];

/** Facts about a person that a column may say, each at most once in a file. */
export const columnFacts = [
  'email',
  'name',
  'first-name',
  'last-name',
  'mobile',
  'zone',
  'language',
  'email-consent',
  'text-consent',
] as const;
export type ColumnFact = (typeof columnFacts)[number];

/** Where a column of a file goes. */
export type ColumnTarget =
  | { readonly to: 'nothing' }
  | { readonly to: ColumnFact; readonly rule: MergeRule }
  /** A further field of people; `country`: it also says where somebody is, for a guess at their zone. */
  | {
      readonly to: 'field';
      readonly name: string;
      readonly type: FieldType;
      readonly rule: MergeRule;
      /** How days are written in it; null for what is no date. */
      readonly order: WrittenOrder | null;
      readonly isCountry: boolean;
    }
  /** Its values are names of lists, or topics. `known`: those that are taken; others are left out. */
  | { readonly to: 'lists' | 'topics'; readonly known: readonly string[] };

/** What may be wrong with a guess. */
export type Doubt =
  /** Nothing in the heading says so; the values do. */
  | 'by-values'
  /** The heading says so, and many values are something else. */
  | 'other-values'
  /** The numbers of the days could be read in either order. */
  | 'day-or-month'
  /** Some days can only be read one way, and some only the other. */
  | 'mixed-orders'
  /** Nothing is in it. */
  | 'empty';

export interface GuessedColumn {
  readonly target: ColumnTarget;
  readonly doubts: readonly Doubt[];
}

/** How people write the headings of their files, in small letters, without accents; from memory. */
const words: Readonly<Record<ColumnFact | 'lists' | 'topics' | 'country' | 'date', RegExp>> = {
  email: /^(e-?mail|mail|correo|courriel)\b|\be-?mail\b|^endereco de correio|^address$/,
  'first-name': /^(first|given|fore) ?name|^(primeiro )?nome proprio|^prenom|^vorname|^nombre de pila/,
  'last-name':
    /^(last|family|sur) ?name|^surname|^apelidos?$|^apellidos?$|^nachname|^nom de famille|^cognome|^sobrenome/,
  name: /^(full |display |contact )?name$|^nome( completo)?$|^nombre( completo)?$|^nom( complet)?$|^who$|^fn$/,
  mobile: /\b(mobile|cell|cellphone|phone|telephone|tel|telemovel|telefone|movil|telefono|portable|handy|telefon)\b/,
  zone: /^(time ?)?zone$|^tz$|^timezone$|^fuso|^city$|^cidade$|^ciudad$|^ville$|^stadt$|^town$/,
  language: /^(language|lang|idioma|langue|sprache|lingua|locale)$/,
  'email-consent': /^(e-?mail|mail|newsletter) ?(consent|opt-?in|ok)|^(consent|opt-?in) ?(to )?(e-?mail|mail)/,
  'text-consent':
    /^(text|sms|texts) ?(consent|opt-?in|ok)|^textconsent|^consent$|^(consent|opt-?in) ?(to )?(texts?|sms)|^texts$/,
  lists: /^(lists?|groups?|audiences?|grupos?|groupes?|gruppen?)$/,
  topics: /^(topics?|interests?|temas?|topicos?|interesses?|themen?)$/,
  country: /^(country|pais|pays|land|nation|paese|country code)$/,
  date: /\b(birth|birthday|date|dob|born|renewal|joined|since|nascimento|aniversario|geburtstag|naissance|cumpleanos)\b/,
};

const isZoneHeading = /zone|^tz$|^fuso/;

const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[_.:]+/g, ' ')
    .trim();

/** This share of what is filled in has to be so, or it is doubted. */
const mostly = 0.8;

/**
 * Guesses where each column of a file goes, from its heading and what stands in it.
 * @param columns heading and values of each; the more values, the surer
 * @param houseOrder how the house writes days, where the values prove nothing
 */
export function guessColumns(
  columns: readonly { readonly heading: string; readonly values: readonly string[] }[],
  houseOrder: DayOrder,
): GuessedColumn[] {
  const taken = new Set<string>();
  const guesses = columns.map(({ heading, values }) => {
    const filled = values.map((value) => value.trim()).filter(Boolean);
    return { heading, filled, isEmpty: filled.length === 0, named: byHeading(heading) };
  });
  // What a heading says goes before what only values say, wherever it stands.
  const facts = guesses.map(({ heading, filled, named, isEmpty }) => {
    if (named === null || isEmpty || named === 'date' || named === 'country') return null;
    // Most towns are no zone's city: those stay what they are.
    if (named === 'zone' && !isZoneHeading.test(plain(heading)) && !fits('zone', filled)) return null;
    if (taken.has(named) && named !== 'topics' && named !== 'lists') return null;
    taken.add(named);
    return named;
  });
  return guesses.map(({ heading, filled, isEmpty, named }, index) => {
    if (isEmpty) return { target: { to: 'nothing' }, doubts: ['empty'] };
    const fact = facts[index] ?? null;
    if (fact === 'lists' || fact === 'topics') return { target: { to: fact, known: [] }, doubts: [] };
    if (fact) return { target: { to: fact, rule: 'fill' }, doubts: fits(fact, filled) ? [] : ['other-values'] };
    const byValues = (['email', 'mobile'] as const).find((one) => !taken.has(one) && fits(one, filled));
    if (byValues) {
      taken.add(byValues);
      return { target: { to: byValues, rule: 'fill' }, doubts: ['by-values'] };
    }
    return fieldOf(heading || `Column ${index + 1}`, filled, named, houseOrder);
  });
}

function byHeading(heading: string): keyof typeof words | null {
  const text = plain(heading);
  const order = [
    ...([
      'email-consent',
      'text-consent',
      'email',
      'first-name',
      'last-name',
      'name',
      'mobile',
      'zone',
      'language',
    ] as const),
    ...(['lists', 'topics', 'country', 'date'] as const),
  ];
  return order.find((one) => words[one].test(text)) ?? null;
}

/** Is most of what stands there such a fact? */
function fits(fact: ColumnFact, filled: readonly string[]): boolean {
  const tests: Partial<Record<ColumnFact, (value: string) => boolean>> = {
    email: (value) => isEmail(value.toLowerCase()),
    mobile: (value) => /^\+?[\d\s().\-/]{6,20}$/.test(value) && !isWrittenDay(value),
    zone: (value) => readZone(value) !== null,
    language: (value) => readLanguage(value) !== null,
    'email-consent': isYesOrNo,
    'text-consent': isYesOrNo,
  };
  const test = tests[fact];
  return !test || filled.filter(test).length >= filled.length * mostly;
}

/** A day in whichever order. */
const isWrittenDay = (value: string): boolean =>
  (['day-first', 'month-first', 'iso'] as const).some((order) => readWrittenDay(value, order) !== null);

/** What people tick and write for yes and no. */
export const isYes = (value: string): boolean =>
  /^(yes|y|true|1|x|✓|✔|on|ok|sim|s|si|sí|oui|o|ja|j)$/i.test(value.trim());
const isYesOrNo = (value: string): boolean => isYes(value) || /^(no|n|false|0|off|nao|não|non|nein|-)$/i.test(value);

function fieldOf(
  heading: string,
  filled: readonly string[],
  named: keyof typeof words | null,
  houseOrder: DayOrder,
): GuessedColumn {
  const field = {
    to: 'field',
    name: cut(heading.trim(), longestField),
    rule: 'fill',
    isCountry: named === 'country',
  } as const;
  const { order, isProven, isMixed } = provenOrder(filled, houseOrder);
  const readable = filled.filter((value) => isWrittenDay(value) || readWrittenDay(value, order) !== null).length;
  const isSerial = order.startsWith('serial');
  const times = filled.map((value) => readTimeBehind(value, order));
  // What stands behind a day and is no time, such as a zone, would be lost: then all of it stays text.
  const isDays = readable >= filled.length * mostly && !times.includes(null);
  if (isDays && (!isSerial || named === 'date'))
    return {
      target: { ...field, type: times.some((time) => time !== '') ? 'date-time' : 'date', order },
      doubts: [
        ...(isMixed ? (['mixed-orders'] as const) : isProven ? [] : (['day-or-month'] as const)),
        ...(isSerial ? (['by-values'] as const) : []),
      ],
    };
  return { target: { ...field, type: guessFieldType(filled), order: null }, doubts: [] };
}

/** Characters of a field's name. */
export const longestField = 60;

/** Does the first row name the columns? Not where an address stands in it, or a number by itself. */
export function hasHeadings(first: readonly string[]): boolean {
  const filled = first.map((cell) => cell.trim()).filter(Boolean);
  return filled.length > 0 && !filled.some((cell) => isEmail(cell.toLowerCase()) || /^\+?[\d\s().-]{6,}$/.test(cell));
}
