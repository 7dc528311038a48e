/** Web or mail addresses, and what mail programs would make a link of. */
const addressLike = /:\/\/|\bwww\.|@|[\p{L}\p{N}-]{4,}\.\p{L}{2,}|\.\p{L}{2,}\//iu;
// eslint-disable-next-line no-control-regex
const controls = /[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;

/** Does a name or a word to us hold an address? Then it is no name: it would become a link in somebody's mail. */
export const holdsAddress = (text: string): boolean => addressLike.test(text);

/** What a stranger typed into one line: control characters, and marks that turn the direction of text, are dropped. */
export const plainLine = (text: string): string => text.replace(controls, ' ').replace(/\s+/g, ' ').trim();

/** What may be quoted of it: words that hold an address are left out. */
export const withoutAddresses = (text: string): string =>
  plainLine(text)
    .split(' ')
    .filter((word) => !holdsAddress(word))
    .join(' ');
