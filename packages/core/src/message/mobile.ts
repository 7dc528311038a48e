import { parsePhoneNumberFromString, isSupportedCountry } from 'libphonenumber-js/min';
import { bad, good, type Read } from '../problem';

/**
 * Reads a telephone number as typed into E.164, `+447700900123`. A national number needs no country code because the
 * region (ISO 3166, `PT`) is known. Problem code: bad-mobile, with what was typed.
 */
export function readMobile(text: string, region: string, path: string): Read<string> {
  const number = parsePhoneNumberFromString(text, isSupportedCountry(region) ? region : undefined);
  return number?.isPossible() ? good(number.number) : bad({ code: 'bad-mobile', path, facts: { text } });
}
