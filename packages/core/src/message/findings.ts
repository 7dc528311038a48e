import type { EventFacts } from '../event/event';
import type { Block, Inline, WordingDocument } from './document';
import { allBlocks, versionsOf } from './versions';
import { plainStopWords } from './text-answer';
import { timesIn } from './time-by-hand';
import { hasDrifted } from './written';

/** Mail programs cut what is larger. Common practice. */
export const mostMailOctets = 100_000;
/** So much of a subject stands in a list of mails on a desk; a phone shows half. Common practice. */
export const longSubject = 60;

/** Something that a reader would stumble over; the sentence is made elsewhere. */
export interface Finding {
  readonly code: FindingCode;
  readonly path: 'subject' | 'preheader' | 'body';
  readonly facts?: Readonly<Record<string, string | number>>;
}

export const findingCodes = [
  'long-subject',
  'no-preheader',
  'too-large',
  'empty-field',
  'open-link',
  'avoided-word',
  'other-time',
  'no-way-out',
  'unsaid-picture',
  'plain-drifted',
  'other-language',
] as const;
export type FindingCode = (typeof findingCodes)[number];

/** A message and how one person reads it. */
export interface ReadMessage {
  /** Not a text message. */
  readonly isEmail: boolean;
  readonly wording: WordingDocument;
  /** As filled. */
  readonly subject: string;
  readonly octets: number;
  /** Fields that say nothing to this person, with nothing to stand in for them. */
  readonly empty: readonly string[];
  /** What they read, where the wording says it in languages and not in theirs; empty otherwise. */
  readonly missing: string;
}

/** What the house and the event make of it. */
export interface ReadAgainst {
  /** Words that the house does not want. */
  readonly avoid: readonly string[];
  /** What it is about; null for nothing in particular. */
  readonly facts: Pick<EventFacts, 'span'> | null;
}

/**
 * What a reader would stumble over, though it can be sent. Codes: long-subject (facts: characters), no-preheader, too-large
 * (octets), empty-field (field), open-link (address), avoided-word (word), other-time (written, start, end), no-way-out,
 * unsaid-picture, plain-drifted, other-language (language).
 */
export function findInMessage(message: ReadMessage, { avoid, facts }: ReadAgainst): Finding[] {
  const { isEmail, wording, subject } = message;
  const typed = typedIn(wording);
  const found: Finding[] = [];
  if (isEmail && [...subject].length > longSubject)
    found.push({ code: 'long-subject', path: 'subject', facts: { characters: [...subject].length } });
  if (isEmail && subject.trim() !== '' && !wording.preheader?.trim())
    found.push({ code: 'no-preheader', path: 'preheader' });
  if (message.octets > mostMailOctets)
    found.push({ code: 'too-large', path: 'body', facts: { octets: message.octets } });
  for (const field of message.empty) found.push({ code: 'empty-field', path: 'body', facts: { field } });
  for (const address of addressesTyped(wording))
    if (/^http:/i.test(address)) found.push({ code: 'open-link', path: 'body', facts: { address } });
  for (const { path, text } of typed) {
    for (const word of avoid)
      if (saysWord(text, word)) found.push({ code: 'avoided-word', path, facts: { word: word.trim() } });
    found.push(...otherTimes(text, path, facts));
  }
  if (!isEmail && typed.length > 0 && !typed.some(({ text }) => plainStopWords.some((word) => saysWord(text, word))))
    found.push({ code: 'no-way-out', path: 'body' });
  if (allBlocks(wording).some((block) => block.kind === 'picture' && block.words.trim() === ''))
    found.push({ code: 'unsaid-picture', path: 'body' });
  if (isEmail && hasDrifted(wording)) found.push({ code: 'plain-drifted', path: 'body' });
  if (message.missing) found.push({ code: 'other-language', path: 'body', facts: { language: message.missing } });
  return withoutRepeats(found);
}

/** Every time of day that was typed and is neither when the event starts nor when it ends. */
function otherTimes(text: string, path: Finding['path'], facts: ReadAgainst['facts']): Finding[] {
  if (facts?.span.kind !== 'timed') return [];
  const [start, end] = [facts.span.start.slice(11), facts.span.end.slice(11)];
  return timesIn(text)
    .filter(({ time }) => time !== start && time !== end)
    .map(({ written }): Finding => ({ code: 'other-time', path, facts: { written, start, end } }));
}

/** What was typed, piece by piece, with where it stands. Fields, and what strangers wrote, are none of it. */
function typedIn(wording: WordingDocument): { path: Finding['path']; text: string }[] {
  return [
    ...versionsOf(wording).flatMap(({ said: { subject, preheader = '', plain } }) => [
      { path: 'subject' as const, text: subject },
      { path: 'preheader' as const, text: preheader },
      { path: 'body' as const, text: plain?.text ?? '' },
    ]),
    ...allBlocks(wording)
      .flatMap(textsOf)
      .map((text) => ({ path: 'body' as const, text })),
  ].filter(({ text }) => text.trim() !== '');
}

function textsOf(block: Block): string[] {
  switch (block.kind) {
    case 'plain':
      return [block.text];
    case 'heading':
    case 'paragraph':
    case 'quote':
      return [textOf(block.line)];
    case 'list':
      return block.items.map(textOf);
    case 'table':
      return block.rows.flat().map(textOf);
    case 'html':
      return [block.text ?? ''];
    case 'button':
      return [block.label];
    case 'picture':
      return [block.words];
    default:
      return [];
  }
}

const textOf = (line: readonly Inline[]): string =>
  // A field between two pieces keeps them apart: what is typed before it and behind is no one word.
  line.map((piece) => (piece.kind === 'text' ? piece.text : ' ')).join('');

/** Addresses that were typed: of links, of buttons, and as they stand in a text. */
export function addressesTyped(wording: WordingDocument): string[] {
  const found = allBlocks(wording).flatMap((block): string[] => {
    switch (block.kind) {
      case 'plain':
        return addressesInText(block.text);
      case 'heading':
      case 'paragraph':
      case 'quote':
        return block.line.flatMap(addressOf);
      case 'list':
        return block.items.flat().flatMap(addressOf);
      case 'table':
        return block.rows.flat(2).flatMap(addressOf);
      case 'button':
        return block.address.kind === 'text' ? [block.address.text] : [];
      case 'picture':
        return block.link ? [block.link] : [];
      default:
        return [];
    }
  });
  return [...new Set(found.filter((address) => /^https?:\/\//i.test(address)))];
}

const addressOf = (piece: Inline): string[] => {
  if (piece.kind !== 'text') return [];
  return piece.link ? [piece.link] : addressesInText(piece.text);
};
const addressesInText = (text: string): string[] => text.match(/https?:\/\/[^\s<>"]+/gi) ?? [];

/** Does a text say a word, or some words, whatever their case, and not as a part of another? */
export function saysWord(text: string, word: string): boolean {
  const sought = word.trim().toLocaleLowerCase();
  if (sought === '') return false;
  const said = text.toLocaleLowerCase();
  const isLetter = (character: string | undefined): boolean =>
    character !== undefined && /[\p{L}\p{N}]/u.test(character);
  for (let at = said.indexOf(sought); at >= 0; at = said.indexOf(sought, at + 1))
    if (!isLetter(said[at - 1]) && !isLetter(said[at + sought.length])) return true;
  return false;
}

function withoutRepeats(found: readonly Finding[]): Finding[] {
  const seen = new Set<string>();
  return found.filter((one) => {
    const key = JSON.stringify([one.code, one.path, one.facts]);
    return !seen.has(key) && seen.add(key);
  });
}
