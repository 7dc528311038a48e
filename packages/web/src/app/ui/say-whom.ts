import type { CueFiring } from '@convite/contract';
import { sayZone, type Step } from '@convite/core';
import { sayDay, sayInstant } from './say';

/** For whom of its audience a firing is, where it is not for all of it at once. @param zone in which times are said */
export function sayWhom(
  {
    zone,
    ownDay,
    step,
    otherZones,
  }: {
    readonly zone: string;
    readonly ownDay: string | null;
    readonly step: CueFiring['step'];
    readonly otherZones: { readonly count: number; readonly lastAt: string } | null;
  },
  saidIn: string,
): string {
  const others = otherZones
    ? `and ${otherZones.count} ${othersOf(step, otherZones.count)} until ${sayInstant(Date.parse(otherZones.lastAt), saidIn)}`
    : '';
  const parts = [
    ...(step ? [[sayStep(step, saidIn), zone ? '' : others].filter(Boolean).join(' ')] : []),
    ...(zone ? [[`on the clock of ${sayZone(zone)}`, others].filter(Boolean).join(' ')] : []),
    ...(ownDay ? [`whose date is ${sayDay(ownDay)}`] : []),
  ];
  return parts.join(', ');
}

const othersOf = (step: CueFiring['step'], count: number): string =>
  step?.at ? (count === 1 ? 'other' : 'others') : count === 1 ? 'other zone' : 'other zones';

const did: Readonly<Record<Step, string>> = {
  invitation: 'who were invited',
  registration: 'who registered',
  approval: 'who were given their place',
};
const sayStep = ({ step, day, at }: NonNullable<CueFiring['step']>, saidIn: string): string =>
  `${did[step]} ${day ? `on ${sayDay(day)}` : sayInstant(Date.parse(at ?? ''), saidIn)}`;
