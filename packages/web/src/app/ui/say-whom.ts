import { sayZone } from '@convite/core';
import { sayDay, sayInstant } from './say';

/** For whom of its audience a firing is, where it is not for all of it at once. @param zone in which times are said */
export function sayWhom(
  {
    zone,
    ownDay,
    otherZones,
  }: {
    readonly zone: string;
    readonly ownDay: string | null;
    readonly otherZones: { readonly count: number; readonly lastAt: string } | null;
  },
  saidIn: string,
): string {
  const others = otherZones
    ? `and ${otherZones.count} other ${otherZones.count === 1 ? 'zone' : 'zones'} until ${sayInstant(Date.parse(otherZones.lastAt), saidIn)}`
    : '';
  const parts = [
    ...(zone ? [[`on the clock of ${sayZone(zone)}`, others].filter(Boolean).join(' ')] : []),
    ...(ownDay ? [`whose date is ${sayDay(ownDay)}`] : []),
  ];
  return parts.join(', ');
}
