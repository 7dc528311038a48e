import { languages, type Language } from '../time/language';
import type { Block, Version, WordingDocument } from './document';

/** Everything that a wording says, in each of its languages: the first, then the others with their names. */
export const versionsOf = (
  document: WordingDocument,
): { readonly language: Language | null; readonly said: Version }[] => [
  { language: null, said: document },
  ...languages.flatMap((language) => {
    const said = document.languages?.[language];
    return said ? [{ language, said }] : [];
  }),
];

/** The wording as who reads a language gets it: theirs where there is one, else the first. */
export function inLanguage(document: WordingDocument, language: Language): WordingDocument {
  const { languages: others, ...first } = document;
  const said = others?.[language];
  return said ? { ...first, preheader: undefined, plain: undefined, ...said } : first;
}

/** Blocks of all of its languages. */
export const allBlocks = (document: WordingDocument): Block[] =>
  versionsOf(document).flatMap(({ said }) => said.blocks.flatMap(withInner));

const withInner = (block: Block): Block[] => (block.kind === 'columns' ? [block, ...block.columns.flat()] : [block]);

/** Each block of it changed, in all of its languages. */
export const mapBlocks = (document: WordingDocument, change: (block: Block) => readonly Block[]): WordingDocument => ({
  ...document,
  blocks: document.blocks.flatMap(change),
  ...(document.languages && {
    languages: Object.fromEntries(
      versionsOf(document).flatMap(({ language, said }) =>
        language ? [[language, { ...said, blocks: said.blocks.flatMap(change) }]] : [],
      ),
    ),
  }),
});

/** The blocks that a house's block stands for take its place; for whom it stands, they stand. One that is gone says nothing. */
export const withHouseBlocks = (
  document: WordingDocument,
  blocksOf: (key: string) => readonly Block[],
): WordingDocument =>
  mapBlocks(document, (block) => {
    if (block.kind !== 'house') return [block];
    const { only } = block;
    return blocksOf(block.key)
      .filter(({ kind }) => kind !== 'house')
      .map((one) => (only && !one.only ? { ...one, only } : one));
  });

/** Keys of the house's blocks that it says. */
export const houseBlocksIn = (document: WordingDocument): string[] => [
  ...new Set(allBlocks(document).flatMap((block) => (block.kind === 'house' ? [block.key] : []))),
];
