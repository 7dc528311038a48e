import type { Settings } from '@convite/contract';
import { mannerFor, type Language, type Manner } from '@convite/core';

/** How the house says days and times, by Settings. */
export const houseManner = ({
  dayOrder,
  clock,
  language,
}: Pick<Settings, 'dayOrder' | 'clock' | 'language'>): Manner => ({
  order: dayOrder,
  clock,
  language,
});

/** How somebody reads them: in their own language where it is known, else as the house says them. */
export const mannerOf = (
  settings: Pick<Settings, 'dayOrder' | 'clock' | 'language'>,
  { language }: { readonly language: string },
): Manner => mannerFor(houseManner(settings), language);

/** The language in which somebody is written to. */
export const languageOf = (
  settings: Pick<Settings, 'dayOrder' | 'clock' | 'language'>,
  person: { readonly language: string },
): Language => mannerOf(settings, person).language ?? 'en';
