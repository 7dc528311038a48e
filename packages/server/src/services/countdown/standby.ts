import type { Settings } from '@convite/contract';

/** So long before its moment a firing announces itself; nothing is set closer, in milliseconds. */
export const standbyMsOf = ({ standby }: Pick<Settings, 'standby'>): number => standby.minutes * 60_000;
