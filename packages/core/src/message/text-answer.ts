import type { ReplyState } from '../reply-state';
import type { Language } from '../time/language';

/** What a text from a person asks for, where it is said in a word that means nothing else. */
export type TextMeaning = 'stop' | 'start' | 'help' | Exclude<ReplyState, 'needs-action'>;

type Words = Readonly<Record<'stop' | 'ends' | 'start' | 'help' | 'yes' | 'no' | 'perhaps', string>>;

/**
 * STOP and its relatives in English end texts, HELP tells who we are, START takes them up again: common practice. The words of the
 * other languages, and those of the answers, are from memory. What is under `ends` means other things too.
 */
const words: Readonly<Record<Language, Words>> = {
  en: {
    ...{ stop: 'stop stopall stop-all unsubscribe optout opt-out', ends: 'cancel end quit revoke' },
    ...{ start: 'start unstop', help: 'help info' },
    ...{ yes: 'yes y yep yeah', no: 'no n nope', perhaps: 'maybe perhaps' },
  },
  pt: {
    ...{ stop: 'parar sair', ends: 'cancelar remover' },
    ...{ start: 'comecar retomar', help: 'ajuda' },
    ...{ yes: 'sim s', no: 'nao', perhaps: 'talvez' },
  },
  es: {
    ...{ stop: 'parar baja', ends: 'cancelar salir' },
    ...{ start: 'empezar alta reanudar', help: 'ayuda' },
    ...{ yes: 'si', no: 'no', perhaps: 'quizas quiza tal-vez' },
  },
  fr: {
    ...{ stop: 'arret arreter desabonner desinscrire', ends: 'annuler' },
    ...{ start: 'commencer reprendre', help: 'aide' },
    ...{ yes: 'oui', no: 'non', perhaps: 'peut-etre' },
  },
  de: {
    ...{ stop: 'stopp abmelden abbestellen', ends: 'beenden abbrechen' },
    ...{ start: 'starten', help: 'hilfe' },
    ...{ yes: 'ja', no: 'nein', perhaps: 'vielleicht' },
  },
  it: {
    ...{ stop: 'ferma basta disiscrivi', ends: 'annulla cancella' },
    ...{ start: 'inizia riprendi', help: 'aiuto' },
    ...{ yes: 'si', no: 'no', perhaps: 'forse' },
  },
};

const meant: readonly (readonly [keyof Words, TextMeaning])[] = [
  ['stop', 'stop'],
  ['ends', 'stop'],
  ['start', 'start'],
  ['help', 'help'],
  ['yes', 'accepted'],
  ['no', 'declined'],
  ['perhaps', 'tentative'],
];
const meanings = new Map<string, TextMeaning>();
for (const ofLanguage of Object.values(words))
  for (const [key, meaning] of meant) for (const word of ofLanguage[key].split(' ')) meanings.set(word, meaning);

/** Words that ask for no more texts and mean nothing else, by language. */
export const plainStopWords: readonly string[] = Object.values(words).flatMap(({ stop }) => stop.split(' '));

/** What stands beside an answer and says nothing more. */
const courtesy = new Set(
  `please thanks thank-you thx por-favor obrigado obrigada gracias merci s-il-vous-plait svp danke bitte grazie per-favore`.split(
    ' ',
  ),
);

/**
 * Reads what a person texted. STOP and HELP are taken from the first word, whatever stands behind it; an answer, and consent, only
 * from the word alone: "no idea what this is" is no answer, and "start time?" no consent.
 * @returns what it means, null for words that a person must read; and whether there is more in it than that
 */
export function readTextAnswer(text: string): { readonly meaning: TextMeaning | null; readonly saysMore: boolean } {
  const said = withoutCourtesy(wordsIn(text));
  const pair = meanings.get(said.slice(0, 2).join('-'));
  const meaning = (said.length > 1 ? pair : undefined) ?? meanings.get(said[0] ?? '') ?? null;
  const rest = withoutCourtesy(said.slice(said.length > 1 && pair ? 2 : 1));
  const saysMore = rest.length > 0;
  if (meaning === null) return { meaning, saysMore: said.length > 0 };
  return saysMore && meaning !== 'stop' && meaning !== 'help' ? { meaning: null, saysMore } : { meaning, saysMore };
}

/** Its words in plain letters: without accents, points, and pictures. */
const wordsIn = (text: string): string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** From the first word on that says something. */
function withoutCourtesy(said: readonly string[]): readonly string[] {
  const length = [4, 2, 1].find((count) => courtesy.has(said.slice(0, count).join('-')));
  return length === undefined || said.length === 0 ? said : withoutCourtesy(said.slice(length));
}
