import type { Block, Inline, LeafBlock, WordingDocument } from './document';
import { mayBePressed } from './html';
import { mapBlocks } from './versions';

/** Stands for an address until it is known for whom it is; nobody has it (RFC 2606 §2). */
const markOf = (index: number): string => `https://typed.invalid/${index}/`;
const mark = /https:\/\/typed\.invalid\/(\d{1,5})\//g;

/** A wording whose typed links are told apart by their number. */
export interface MarkedWording {
  readonly document: WordingDocument;
  /** Where each of them leads, by its number. */
  readonly addresses: readonly string[];
}

/**
 * Marks every web address that was typed as a link, a button or behind a picture, in all languages. What fields say, what stands in
 * text as it is, and markup of the house's own are none of them.
 */
export function markLinks(document: WordingDocument): MarkedWording {
  const addresses: string[] = [];
  const marked = (address: string): string => {
    // What leads nowhere stays what it is: words.
    if (!/^https?:\/\//i.test(address) || !mayBePressed(address)) return address;
    addresses.push(address);
    return markOf(addresses.length - 1);
  };
  const line = (pieces: readonly Inline[]): Inline[] =>
    pieces.map((piece) => (piece.kind === 'text' && piece.link ? { ...piece, link: marked(piece.link) } : piece));
  const leaf = <B extends Block | LeafBlock>(block: B): B => {
    switch (block.kind) {
      case 'heading':
      case 'paragraph':
      case 'quote':
        return { ...block, line: line(block.line) };
      case 'list':
        return { ...block, items: block.items.map(line) };
      case 'table':
        return { ...block, rows: block.rows.map((row) => row.map(line)) };
      case 'button':
        return block.address.kind === 'text'
          ? { ...block, address: { kind: 'text', text: marked(block.address.text) } }
          : block;
      case 'picture':
        return block.link ? { ...block, link: marked(block.link) } : block;
      default:
        return block;
    }
  };
  return {
    document: mapBlocks(document, (block) => [
      block.kind === 'columns' ? { ...block, columns: block.columns.map((column) => column.map(leaf)) } : leaf(block),
    ]),
    addresses,
  };
}

/**
 * What was filled, with an address in each mark's place.
 * @param addressOf by the number of a link
 */
export const unmarkLinks = (filled: string, addressOf: (index: number) => string): string =>
  filled.replace(mark, (_, index: string) => addressOf(Number(index)));

/** Addresses that stand in a text, longer than a short link is, each with another in its place. @param most as long as that may be */
export function shortenLinks(text: string, shortOf: (index: number) => string): string {
  let index = -1;
  return text.replace(addresses, (address) => {
    index += 1;
    const short = shortOf(index);
    return short.length < address.length ? short : address;
  });
}
const addresses = /https?:\/\/[^\s<>"]+[^\s<>".,;:!?)\]]/g;

/** Addresses in a text, in their order, as `shortenLinks` numbers them. */
export const linksIn = (text: string): string[] => text.match(addresses) ?? [];
