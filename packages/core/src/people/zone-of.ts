import { sayZone } from '../time/say';
import { canonicalZone, zoneNames, zonesByLikelihood } from '../time/zone-names';

/** How the zone of a person is known; empty where they or somebody else said it. */
export const zoneSources = ['', 'phone', 'country'] as const;
export type ZoneSource = (typeof zoneSources)[number];

const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ')
    .trim();

let byCity: ReadonlyMap<string, string> | null = null;

/**
 * A zone by any of its names in the IANA tz database, or by the city that it is named after, without regard to case and
 * accents. @returns null for none
 * @example readZone('são paulo') //=> 'America/Sao_Paulo'
 */
export function readZone(text: string): string | null {
  const written = text.trim();
  const named = canonicalZone(written.replace(/\s+/g, '_'));
  if (named) return named;
  byCity ??= new Map([...zoneNames()].reverse().map((zone) => [plain(sayZone(zone)), zone]));
  return byCity.get(plain(written)) ?? null;
}

/** The runtime says which zones are in a country; the language's types do not know that yet. */
function zonesOfCountry(country: string): string[] {
  const locale: object = new Intl.Locale(`und-${country}`);
  const ask: unknown = Reflect.get(locale, 'getTimeZones');
  const zones: unknown = typeof ask === 'function' ? Reflect.apply(ask, locale, []) : Reflect.get(locale, 'timeZones');
  return Array.isArray(zones) ? zones.filter((zone) => typeof zone === 'string') : [];
}

const likelyIn = new Map<string, readonly string[]>();

/** The zones in some countries (ISO 3166, `PT`), as the runtime's data (CLDR) has them, the likeliest first. */
export function zonesIn(countries: readonly string[]): readonly string[] {
  const key = countries.join();
  const kept = likelyIn.get(key);
  if (kept) return kept;
  const codes = countries.filter((country) => /^[A-Z]{2}$/.test(country));
  const there = new Set(codes.flatMap(zonesOfCountry).map((zone) => canonicalZone(zone) ?? zone));
  const zones = zonesByLikelihood().filter((zone) => there.has(zone));
  // Every country, alone and beside those it shares a calling code with: what else is asked is not kept.
  if (likelyIn.size < 1000) likelyIn.set(key, zones);
  return zones;
}

let byName: ReadonlyMap<string, string> | null = null;
const inLanguages = ['en', 'pt', 'es', 'fr', 'de', 'it'];

/** A country by its code or its name in one of our languages (CLDR). @example readCountry('Brasil') //=> 'BR' */
export function readCountry(text: string): string | null {
  const written = plain(text);
  if (!byName) {
    const codes = letters.flatMap((one) => letters.map((two) => one + two));
    byName = new Map(
      inLanguages.flatMap((language) => {
        const names = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' });
        return codes.flatMap((code): [string, string][] => {
          const name = names.of(code);
          return name && zonesIn([code]).length
            ? [
                [plain(name), code],
                [code.toLowerCase(), code],
              ]
            : [];
        });
      }),
    );
  }
  return byName.get(written) ?? null;
}

const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
