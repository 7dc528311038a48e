import {
  getCountries,
  getCountryCallingCode,
  isSupportedCountry,
  parsePhoneNumberFromString,
  type CountryCode,
} from 'libphonenumber-js/max';
import type { ReadPhone } from '@convite/core';

/** Kinds of numbers that no text reaches. A number of no known kind is tried: ranges are opened faster than they are published. */
const unreachable: readonly string[] = [
  'FIXED_LINE',
  'TOLL_FREE',
  'SHARED_COST',
  'PREMIUM_RATE',
  'UAN',
  'VOICEMAIL',
  'PAGER',
];

/** Reads numbers of files into E.164, with what they are. @param region ISO 3166, of who gives national numbers */
export function phoneReader(region: string): ReadPhone {
  const home = isSupportedCountry(region) ? region : undefined;
  return (text) => {
    // `0044 …` means `+44 …` wherever somebody writes it.
    const number = parsePhoneNumberFromString(text.replace(/^\s*00(?=[1-9])/, '+'), home);
    if (!number?.isPossible()) return null;
    return {
      number: number.number,
      isLandline: unreachable.includes(number.getType() ?? ''),
      countries: number.country ? [number.country] : sharing(number.countryCallingCode),
    };
  };
}

let byCode: ReadonlyMap<string, readonly CountryCode[]> | null = null;

/** The countries behind a calling code. */
function sharing(code: string): readonly CountryCode[] {
  byCode ??= getCountries().reduce((all, country) => {
    const one = String(getCountryCallingCode(country));
    return all.set(one, [...(all.get(one) ?? []), country]);
  }, new Map<string, CountryCode[]>());
  return byCode.get(code) ?? [];
}
