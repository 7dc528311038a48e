/**
 * The beginning of a text, so many characters and no more: never half of one, which no database takes. Halves that stood in
 * it before go.
 */
export function cut(text: string, most: number): string {
  const whole = /\p{Surrogate}/u.test(text) ? text.replace(/\p{Surrogate}/gu, '') : text;
  return whole.length <= most ? whole : [...whole].slice(0, most).join('');
}
