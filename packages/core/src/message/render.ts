import type { Problem } from '../problem';
import { aboutNothing, type AboutEvent } from './about-event';
import { eventBlocks, type EventBlock, type WordingDocument } from './document';
import type { FieldName, FieldValues } from './fields';
import { plainPalette, type Design, type Palette } from './look';
import { isFor, type Only } from './only';
import { prepareBlock, saysSomething } from './render-block';
import { fieldsOf, neededOf } from './render-line';
import { stylesOf } from './styles';
import { tidyText } from './tidy-text';
import { allBlocks } from './versions';
import { fillWording, readWording } from './wording';

/** A message filled for one person: the same said in HTML, and in plain text, which is also what a text message says. */
export interface Rendered {
  readonly subject: string;
  /** Empty where none was written. */
  readonly preheader: string;
  readonly html: string;
  readonly text: string;
  /** Null for the house's own. */
  readonly design: Design | null;
  /** Of the event, for designs that show it by themselves; empty where the message says it in a block. */
  readonly when: string;
  readonly place: string;
}

/** A document made ready to be filled for one person after another: what it says of fields is read once. */
export interface PreparedDocument {
  readonly problems: readonly Problem[];
  /** Those that it asks for: what costs something to make is made only then. */
  readonly fields: ReadonlySet<FieldName>;
  /** Blocks about the event that stand in it. */
  readonly about: ReadonlySet<EventBlock>;
  /** For whom some of its blocks stand alone. */
  readonly onlys: readonly Only[];
  fill(values: FieldValues, about?: AboutEvent): Rendered;
  /** Fields that say nothing with these values, and have nothing to stand in for them. */
  emptyWith(values: FieldValues, about?: AboutEvent): FieldName[];
}

/**
 * The one renderer: everything that reaches people by mail or text comes through here.
 * @param document in the language of whoever it is filled for
 */
export function prepareDocument(document: WordingDocument, palette: Palette = plainPalette): PreparedDocument {
  const { subject, preheader = '', blocks, plain, design = null } = document;
  const styles = stylesOf(palette);
  const title = readWording(subject, 'subject');
  const lead = readWording(preheader, 'preheader');
  const apart = plain ? readWording(plain.text, 'plain') : null;
  const parts = blocks.map((block) => ({ ...prepareBlock(block, styles), only: block.only }));
  const partsFor = ({ reader }: AboutEvent): typeof parts => parts.filter(({ only }) => !only || isFor(only, reader));
  const inside = allBlocks({ subject, blocks });
  const about = new Set(inside.flatMap(({ kind }) => eventBlocks.find((one) => one === kind) ?? []));
  return {
    problems: [
      ...title.problems,
      ...lead.problems,
      ...parts.flatMap(({ problems }) => problems),
      ...(apart?.problems ?? []),
    ],
    fields: new Set([
      ...fieldsOf(title.nodes),
      ...fieldsOf(lead.nodes),
      ...parts.flatMap(({ fields }) => fields),
      ...fieldsOf(apart?.nodes ?? []),
    ]),
    onlys: blocks.flatMap(({ only }) => only ?? []),
    about,
    fill(values, given = aboutNothing) {
      const filled = partsFor(given)
        .map((part) => part.fill(values, given))
        .filter(saysSomething);
      const ofBlocks = (): string =>
        filled
          .map(({ text }) => text)
          .filter(Boolean)
          .join('\n\n');
      return {
        // One line whatever a title holds: no CR or LF from data ever reaches a header.
        subject: inOneLine(fillWording(title, values)),
        preheader: inOneLine(fillWording(lead, values)),
        html: filled.map(({ html }) => html).join(''),
        text: apart ? tidyText(fillWording(apart, values)) : ofBlocks(),
        design,
        when: about.has('event') ? '' : (values['event.when'] ?? ''),
        place: about.has('event') ? '' : (values['event.place'] ?? ''),
      };
    },
    emptyWith(values, given = aboutNothing) {
      const needed = [
        ...neededOf(title.nodes),
        ...neededOf(lead.nodes),
        ...partsFor(given).flatMap((part) => part.needed ?? []),
      ];
      return [...new Set(needed)].filter((field) => !values[field]);
    },
  };
}

const inOneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
