import type { Block, Inline, LeafBlock, WordingDocument } from './document';
import { escapeHtml, mayBePressed } from './html';
import { mapBlocks } from './versions';

/** Stands for an address until it is known for whom it is; nobody has it (RFC 2606 §2). */
const markOf = (index: number): string => `https://typed.invalid/${index}/`;
const mark = /https:\/\/typed\.invalid\/(\d{1,5})\//g;

/** A wording whose typed links are told apart by their number. */
export interface MarkedWording {
  readonly document: WordingDocument;
  /** Where they lead, each once, by its number. */
  readonly addresses: readonly string[];
}

/**
 * Marks every web address that was typed as a link, a button, behind a picture or in markup of the house's own, in all languages.
 * What fields say, and what stands in text as it is, are none of them.
 * @param document its markup made harmless, so that an address stands in double quotes
 */
export function markLinks(document: WordingDocument): MarkedWording {
  const addresses: string[] = [];
  const marked = (address: string): string => {
    // What leads nowhere stays what it is: words.
    if (!/^https?:\/\//i.test(address) || !mayBePressed(address)) return address;
    const known = addresses.indexOf(address);
    return markOf(known >= 0 ? known : addresses.push(address) - 1);
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
      case 'html':
        return { ...block, ...markMarkup(block.html, block.text ?? '', marked) };
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

/** Links of markup, and what they are in its plain text. */
function markMarkup(html: string, text: string, marked: (address: string) => string): { html: string; text: string } {
  const marks = new Map<string, string>();
  const inHtml = html.replace(/(<a\b[^>]*?\shref=")(https?:[^"]+)"/gi, (_, before: string, escaped: string) => {
    const address = escaped.replace(/&(amp|lt|gt|quot|#39);/g, (entity) => unescaped[entity] ?? entity);
    marks.set(address, marked(address));
    return `${before}${escapeHtml(marks.get(address) ?? '')}"`;
  });
  return { html: inHtml, text: text.replace(addresses, (address) => marks.get(address) ?? address) };
}
const unescaped: Readonly<Record<string, string>> = {
  '&amp;': '&',
  '&lt;': '<',
  '&gt;': '>',
  '&quot;': '"',
  '&#39;': "'",
};

/**
 * By what an address is known whichever others stand beside it, and however they change: FNV-1a of its UTF-8 bytes, 32 bits.
 * Two of one message are the same once in a hundred million messages.
 */
export function linkNumber(address: string): number {
  let hash = 0x811c9dc5;
  for (const byte of new TextEncoder().encode(address)) hash = Math.imul(hash ^ byte, 0x01000193) >>> 0;
  return hash;
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
