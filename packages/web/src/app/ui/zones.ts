/** Every IANA time zone that this browser knows, for the field's suggestions. */
export const zoneNames: readonly string[] = Intl.supportedValuesOf('timeZone');
