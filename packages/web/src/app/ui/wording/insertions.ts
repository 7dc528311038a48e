import { isOfEvent, mergeFields, type EventBlock } from '@convite/core';

/** What blocks about the event are called where they are put in. */
export const aboutWords: Readonly<Record<EventBlock, string>> = {
  event: 'When and where it is',
  calendar: 'Add it to a calendar',
  reply: 'Yes, perhaps or no',
};

/** Something that can be put into a message. */
export type Insertion =
  | { readonly kind: 'field'; readonly field: string }
  | { readonly kind: 'about'; readonly about: EventBlock }
  | { readonly kind: 'shape'; readonly shape: Shape };

/** What a part of the message is. */
export type Shape = 'heading' | 'list' | 'numbers' | 'quote' | 'divider' | 'button' | 'picture';

export interface Offered {
  readonly insertion: Insertion;
  readonly name: string;
  readonly says: string;
}

const shapes: readonly Offered[] = [
  { insertion: { kind: 'shape', shape: 'heading' }, name: 'Heading', says: '' },
  { insertion: { kind: 'shape', shape: 'list' }, name: 'List', says: '' },
  { insertion: { kind: 'shape', shape: 'numbers' }, name: 'Numbered list', says: '' },
  { insertion: { kind: 'shape', shape: 'quote' }, name: 'Quote', says: 'words that stand apart' },
  { insertion: { kind: 'shape', shape: 'button' }, name: 'Button', says: 'words to press, and where they lead' },
  { insertion: { kind: 'shape', shape: 'picture' }, name: 'Picture', says: 'one of the house’s, or from a file' },
  { insertion: { kind: 'shape', shape: 'divider' }, name: 'Divider', says: 'a line across' },
];
const abouts: readonly Offered[] = [
  { insertion: { kind: 'about', about: 'event' }, name: aboutWords.event, says: 'in the reader’s own time' },
  {
    insertion: { kind: 'about', about: 'calendar' },
    name: aboutWords.calendar,
    says: 'the file and the web calendars',
  },
  { insertion: { kind: 'about', about: 'reply' }, name: aboutWords.reply, says: 'buttons to the reader’s own page' },
];
const fields: readonly Offered[] = Object.entries(mergeFields).map(([field, says]) => ({
  insertion: { kind: 'field', field },
  name: field,
  says,
}));

/** What may be put in, narrowed by what was typed of its name or of what it says. @param ofEvent is the message about an event? */
export function offeredFor(typed: string, ofEvent: boolean): readonly Offered[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return [...abouts, ...shapes, ...fields].filter(({ insertion, name, says }) => {
    if (!ofEvent && (insertion.kind === 'about' || (insertion.kind === 'field' && isOfEvent(insertion.field))))
      return false;
    const text = `${name} ${says}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
