import { sayDay, sayZone } from '@convite/core';

/** For whom of its audience a firing is, where it is not for all of it. @example 'people in Tokyo, whose date is Fri 27 Nov' */
export function sayWhom({ zone, ownDay }: { readonly zone: string; readonly ownDay: string | null }): string {
  const parts = [
    ...(zone ? [`people on the clock of ${sayZone(zone)}`] : []),
    ...(ownDay ? [`whose date is ${sayDay(ownDay)}`] : []),
  ];
  return parts.join(', ');
}
