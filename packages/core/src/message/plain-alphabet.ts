import { measureText } from './text-parts';

/** What says the same in the alphabet that texts travel cheapest in (3GPP TS 23.038 §6.2.1). */
const instead: Readonly<Record<string, string>> = {
  ...{ '‘': "'", '’': "'", '‚': "'", '“': '"', '”': '"', '„': '"', '«': '"', '»': '"', '`': "'", '´': "'" },
  ...{
    '–': '-',
    '—': '-',
    '−': '-',
    '…': '...',
    '·': '-',
    '•': '-',
    '×': 'x',
    '→': '->',
    '\u00a0': ' ',
    '\u202f': ' ',
  },
  ...{ ç: 'c', Œ: 'OE', œ: 'oe', '™': 'TM', '©': '(c)', '№': 'No' },
};

/**
 * The same text with every character that forces the costly encoding replaced by one that does not, as far as there is one:
 * quotes and dashes by straight ones, letters with accents by those without. Signs and other scripts stay as they are.
 * @example inPlainAlphabet('Já começa às 19h — não falte!') //=> 'Ja comeca às 19h - nao falte!'
 */
export function inPlainAlphabet(text: string): string {
  const { costly } = measureText(text);
  return costly.reduce((said, character) => said.replaceAll(character, plainOf(character)), text);
}

function plainOf(character: string): string {
  const known = instead[character] ?? character.normalize('NFD').replace(/\p{M}/gu, '');
  return measureText(known).costly.length ? character : known;
}
