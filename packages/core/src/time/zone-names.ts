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

let names: readonly string[] | null = null;

/** Every zone that the runtime knows, the likeliest first. */
export function zonesByLikelihood(): readonly string[] {
  names ??= [...new Set([...common, ...Intl.supportedValuesOf('timeZone')])];
  return names;
}
