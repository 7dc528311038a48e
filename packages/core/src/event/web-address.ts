/** Is this an absolute http(s) address, without spaces? */
export function isWebAddress(text: string): boolean {
  return /^https?:\/\/[^\s/]+\S*$/i.test(text) && URL.canParse(text);
}
