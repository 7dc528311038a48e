import type { Language } from '../time/language';
import type { Version, WordingDocument } from './document';
import { plainStopWords } from './text-answer';
import { versionsOf } from './versions';
import { plainTextOf } from './written';

/** How a text says that it can be ended (common practice; translations from memory). */
const sayings: Readonly<Record<Language, string>> = {
  en: 'STOP ends these texts.',
  pt: 'PARAR termina.',
  es: 'BAJA los termina.',
  fr: 'STOP y met fin.',
  de: 'STOPP beendet sie.',
  it: 'STOP li termina.',
};

/** In capitals, as such a word is said; in the running text it means something else. */
const stopWord = new RegExp(
  `(^|[^\\p{L}-])(${plainStopWords.map((word) => word.toUpperCase()).join('|')})(?![\\p{L}-])`,
  'u',
);

const says = (version: Version): boolean => {
  const text = plainTextOf(version);
  return stopWord.test(text) || text.includes('link.optOut');
};

/** Does a text say, in each of its languages, how to end such texts? A mail says it by itself, below. */
export const saysHowToStop = (document: WordingDocument): boolean =>
  versionsOf(document).every(({ said }) => says(said));

/** The same, saying it at its end, wherever it does not yet. @param first the language that it is written in */
export function withHowToStop(document: WordingDocument, first: Language): WordingDocument {
  const ended = <V extends Version>(version: V, language: Language): V =>
    says(version) ? version : { ...version, blocks: [...version.blocks, { kind: 'plain', text: sayings[language] }] };
  const { languages: others, ...said } = document;
  if (!others) return ended(said, first);
  const translated = versionsOf(document).flatMap(({ language, said: version }) =>
    language === null ? [] : [[language, ended(version, language)] as const],
  );
  return { ...ended(said, first), languages: Object.fromEntries(translated) };
}
