import type { Problem } from '../problem';

/** One address as pasted: `Name <address>` or the address alone. */
export interface PastedAddress {
  readonly name: string;
  /** Lower case. */
  readonly email: string;
}

// What mail servers in the field accept, not all of RFC 5322: no quoted local parts, no comments, a dotted domain.
const addressShape =
  /^[^\s@<>()[\],;:"\\]{1,64}@(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?\.)+[\p{L}\p{N}][\p{L}\p{N}-]{0,61}[\p{L}\p{N}]$/u;

/** Is this an address that mail can be sent to? */
export const isEmail = (text: string): boolean =>
  text.length <= 254 && addressShape.test(text) && !/^\.|\.\.|\.@/.test(text);

/** Is this an address at a domain that is set aside for documents (RFC 2606 §3)? Nobody reads mail there, and none comes from there. */
export const isPlaceholderAddress = (address: string): boolean =>
  /@(?:[^@]*\.)?example\.(?:com|net|org)$/i.test(address);

/**
 * Reads pasted addresses, one per line or separated by commas, semicolons or spaces; from a spreadsheet also with the name in
 * cells of its own. Good ones come back lower case, each once; everything else is a problem at its line: bad-address,
 * duplicate-address (facts: text).
 */
export function readAddresses(text: string): { addresses: PastedAddress[]; problems: Problem[] } {
  const addresses = new Map<string, PastedAddress>();
  const problems: Problem[] = [];
  text.split(/\r\n|\n|\r/).forEach((line, index) => {
    for (const piece of splitOutsideQuotes(line).flatMap(splitAddresses)) {
      const read = readOne(piece);
      const path = `line ${index + 1}`;
      if (!read) problems.push({ code: 'bad-address', path, facts: { text: piece.slice(0, 120) } });
      else if (addresses.has(read.email))
        problems.push({ code: 'duplicate-address', path, facts: { text: read.email } });
      else addresses.set(read.email, read);
    }
  });
  return { addresses: [...addresses.values()], problems };
}

/** Addresses with nothing but spaces between them. */
function splitAddresses(piece: string): string[] {
  const words = piece.split(/\s+/);
  return words.every(isEmail) ? words : [piece];
}

/** Cells of a spreadsheet's row: one is the address, the others before and behind it are the name. */
function readCells(piece: string): PastedAddress | null {
  const cells = piece.split('\t').map((cell) => cell.trim());
  const [email, ...others] = cells.filter(isEmail);
  if (!email || others.length) return null;
  const name = cells.filter((cell) => cell && cell !== email).join(' ');
  return /[<>@]/.test(name) ? null : { name: name.slice(0, 200), email: email.toLowerCase() };
}

function readOne(piece: string): PastedAddress | null {
  if (piece.includes('\t')) return readCells(piece);
  const named = /^(.*)<([^<>]*)>$/.exec(piece);
  const email = (named?.[2] ?? piece).trim().toLowerCase();
  const name = (named?.[1] ?? '')
    .trim()
    .replace(/^"(.*)"$/, '$1')
    .replaceAll('\\"', '"');
  return isEmail(email) ? { name: name.slice(0, 200), email } : null;
}

/** A comma inside "Lopes, Ana" <ana@…> does not separate. */
function splitOutsideQuotes(line: string): string[] {
  const pieces: string[] = [];
  let quoted = false;
  let from = 0;
  for (let at = 0; at <= line.length; at += 1) {
    const mark = line[at];
    if (mark === '"') quoted = !quoted;
    if (at === line.length || (!quoted && (mark === ',' || mark === ';'))) {
      pieces.push(line.slice(from, at));
      from = at + 1;
    }
  }
  return pieces.map((piece) => piece.trim()).filter(Boolean);
}

/** Every email address found in a text, lower case, each once. */
export function findAddresses(text: string): string[] {
  const found = text.slice(0, 20_000).match(/[^\s@<>()[\],;:"\\]{1,64}@[\p{L}\p{N}.-]{3,190}/gu) ?? [];
  return [...new Set(found.map((address) => address.toLowerCase().replace(/^mailto:|\.+$/g, '')).filter(isEmail))];
}
