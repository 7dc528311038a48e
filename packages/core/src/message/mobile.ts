import { findPhoneNumbersInText, isSupportedCountry, parsePhoneNumberFromString } from 'libphonenumber-js/min';
import { bad, good, type Read } from '../problem';

/**
 * Reads a telephone number as typed into E.164, `+447700900123`. A national number needs no country code because the
 * region (ISO 3166, `PT`) is known. Problem code: bad-mobile, with what was typed.
 */
export function readMobile(text: string, region: string, path: string): Read<string> {
  const number = parsePhoneNumberFromString(text, isSupportedCountry(region) ? region : undefined);
  return number?.isPossible() ? good(number.number) : bad({ code: 'bad-mobile', path, facts: { text } });
}

/** Every telephone number found in a text, in E.164, each once. National numbers are read in the region. */
export function findNumbers(text: string, region: string): string[] {
  const options = isSupportedCountry(region) ? { defaultCountry: region, v2: true as const } : { v2: true as const };
  return [...new Set(findPhoneNumbersInText(text.slice(0, mostSearched), options).map(({ number }) => number.number))];
}

/** Longer descriptions are not searched to their end: the search costs more than the text is worth. */
const mostSearched = 20_000;
