import { isSupportedCountry, parsePhoneNumberFromString, type PhoneNumber } from 'libphonenumber-js/min';
import { bad, good, type Read } from '../problem';

/**
 * Reads a telephone number as typed into E.164, `+447700900123`. A national number needs no country code because the
 * region (ISO 3166, `PT`) is known; `0044 …` is `+44 …`. It must be of a length that its country uses; a table of assigned ranges is not
 * asked, since ranges are opened faster than tables are published. Problem code: bad-mobile, with what was typed.
 */
export function readMobile(text: string, region: string, path: string): Read<string> {
  const number = parse(text, region);
  return number?.isPossible() ? good(number.number) : bad({ code: 'bad-mobile', path, facts: { text } });
}

const parse = (text: string, region: string): PhoneNumber | undefined =>
  parsePhoneNumberFromString(text.replace(/^\s*00(?=[1-9])/, '+'), isSupportedCountry(region) ? region : undefined);

/** Something in a text that looks like a telephone number, and why it was not taken for one. */
export interface PassedOver {
  readonly text: string;
  readonly reason: 'length' | 'unmarked';
}

/**
 * Every telephone number found in a text, in E.164, each once, by the rule of `readMobile`; national numbers are read in the region. A
 * national number must look like one: it begins with 0, a word such as “phone” is before it, or it is written as people there write one and
 * its range is assigned. Other digits, such as an order number, would be somebody else’s telephone. Days, times and addresses are none.
 * @returns also what looked like a number and was not taken. Texts are searched up to 20,000 characters.
 */
export function findNumbers(
  text: string,
  region: string,
): { readonly numbers: readonly string[]; readonly passedOver: readonly PassedOver[] } {
  const numbers = new Set<string>();
  const passedOver: PassedOver[] = [];
  const searched = text
    .slice(0, mostSearched)
    .replace(/https?:\/\/\S{1,2000}|\S{1,64}@\S{1,255}/gi, (address) => ' '.repeat(address.length));
  for (const match of first(
    mostLookedAt,
    searched.matchAll(/(?<![\p{L}\p{N}/.,:=#+-])(?:\+|\()?\(?\d[\d\s().\-/\u00a0\u2011]{4,28}\d(?![\p{L}\p{N}:])/gu),
  )) {
    const written = match[0].trim();
    if (isDayOrTime(written) || digitsOf(written).length < leastDigits) continue;
    const number = parse(written, region);
    if (!number?.isPossible()) passedOver.push({ text: written, reason: 'length' });
    else if (isMeant(written, searched.slice(Math.max(0, match.index - wordBefore), match.index), number))
      numbers.add(number.number);
    else passedOver.push({ text: written, reason: 'unmarked' });
  }
  return { numbers: [...numbers], passedOver };
}

/** Longer descriptions are not searched to their end: the search costs more than the text is worth. */
const mostSearched = 20_000;
const leastDigits = 7;
/** So many places that look like numbers are looked at in one text. */
const mostLookedAt = 40;

function* first<T>(most: number, items: Iterable<T>): Generator<T> {
  let left = most;
  for (const item of items) {
    if (left-- <= 0) return;
    yield item;
  }
}

/** So many characters before a number may say what it is. */
const wordBefore = 24;

function isMeant(written: string, before: string, number: PhoneNumber): boolean {
  if (/^\(?\+/.test(written)) return true;
  if (
    /(?:order|booking|ref|ticket|invoice|number|no\.|nr\.?|encomenda|reserva|factura|fatura)[^\n]{0,12}$/i.test(before)
  )
    return /(?:phone|mobile|tel)/i.test(before);
  if (/^\(?0/.test(written)) return true;
  if (
    /(?:phone|tel|mobile|cell|call|text|sms|whats|telem|tlm|contact|movil|móvil|handy|portable)[^\n]{0,12}$/i.test(
      before,
    )
  )
    return true;
  // Written as people there write it: where a national number begins with 0, other digits are none.
  return number.isValid() && digitsOf(number.formatNational()) === digitsOf(written);
}
const digitsOf = (text: string): string => text.replace(/\D/g, '');

/** @example isDayOrTime('2026-12-05'), isDayOrTime('5/12/2026'), isDayOrTime('20.30 - 22.30') */
const isDayOrTime = (written: string): boolean =>
  /^(?:(?:19|20)\d{2}[-./\s]\d{1,2}[-./\s]\d{1,2}|\d{1,2}[-./\s]\d{1,2}[-./\s](?:19|20)\d{2})(?:\D|$)/.test(written) ||
  /^\d{1,2}[.h]\d{2}\s*[-\u2011]\s*\d{1,2}[.h]\d{2}$/.test(written) ||
  /^(?:19|20)\d{2}\s*[-/]\s*(?:19|20)\d{2}$/.test(written);
