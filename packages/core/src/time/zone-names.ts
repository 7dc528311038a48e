import { zoneLinks } from './zone-links';

/** Zones most people live in, so that the likelier of two that fit is found first. */
const common = [
  'Europe/London',
  'Europe/Lisbon',
  'Europe/Berlin',
  'Europe/Athens',
  'Europe/Moscow',
  'America/New_York',
  'America/Chicago',
  'America/Denver',
  'America/Phoenix',
  'America/Los_Angeles',
  'America/Anchorage',
  'America/Halifax',
  'America/Sao_Paulo',
  'America/Argentina/Buenos_Aires',
  'America/Bogota',
  'America/Mexico_City',
  'Africa/Johannesburg',
  'Africa/Lagos',
  'Africa/Nairobi',
  'Africa/Cairo',
  'Asia/Dubai',
  'Asia/Karachi',
  'Asia/Kolkata',
  'Asia/Bangkok',
  'Asia/Shanghai',
  'Asia/Tokyo',
  'Australia/Sydney',
  'Australia/Brisbane',
  'Australia/Adelaide',
  'Australia/Perth',
  'Pacific/Auckland',
  'Pacific/Honolulu',
  'UTC',
];

const links: ReadonlyMap<string, string> = new Map(
  Object.entries(zoneLinks).flatMap(([zone, old]) => old.split(' ').map((name) => [name.toLowerCase(), zone])),
);

let zones: ReadonlyMap<string, string> | null = null;

/**
 * Every zone of the runtime by its name in lower case. Runtimes still list some under old names (Asia/Calcutta), and leave
 * out UTC and the plain offsets of Etc.
 */
function zonesByLowerName(): ReadonlyMap<string, string> {
  if (!zones) {
    // West is positive in these names: from fourteen hours east to twelve hours west.
    const offsets = Array.from({ length: 27 }, (_, n) => n - 14).filter((hours) => hours !== 0);
    const listed = Intl.supportedValuesOf('timeZone').map((name) => links.get(name.toLowerCase()) ?? name);
    const all = ['UTC', ...listed, ...offsets.map((hours) => `Etc/GMT${hours > 0 ? '+' : ''}${hours}`)];
    zones = new Map(all.map((name) => [name.toLowerCase(), name]));
  }
  return zones;
}

/**
 * The zone's name in the IANA tz database as it is written there, for any of its names, old ones and in any case; null for
 * what is none. Offsets (\`+01:00\`) and letters (\`PST\`) are no zones.
 * @example canonicalZone('asia/calcutta') //=> 'Asia/Kolkata'
 */
export function canonicalZone(name: string): string | null {
  const lower = name.toLowerCase();
  const meant = links.get(lower) ?? name;
  return zonesByLowerName().get(meant.toLowerCase()) ?? null;
}

/** Is this a zone's own name, as it is kept and written? */
export const isZone = (name: string): boolean => zonesByLowerName().get(name.toLowerCase()) === name;

/** All zones for choosing one, in the order of their names; plain offsets are not among them. */
export const zoneNames = (): string[] =>
  [...zonesByLowerName().values()].filter((name) => !name.startsWith('Etc/')).sort();

let likely: readonly string[] | null = null;

/** Every zone, the likeliest first. */
export function zonesByLikelihood(): readonly string[] {
  likely ??= [...new Set([...common, ...zoneNames()])];
  return likely;
}
