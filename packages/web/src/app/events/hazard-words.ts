import type { HazardRow } from '@convite/contract';
import type { HazardCode } from '@convite/core';
import { sayCount, sayInstant } from '../ui/say';

const sayPeople = (count: number | null): string => sayCount(count ?? 0, 'person', 'people');

const words: Readonly<Record<HazardCode, (hazard: HazardRow, zone: string) => string>> = {
  past: () => 'its moment is past',
  'too-near': () => 'too near to stand by first',
  'after-start': () => 'after the start',
  'not-done-by-start': () => 'at the sender’s pace the last leaves after the start',
  'close-to-another': ({ other }) => `close to ${other ? `“${other}”` : 'another message'} for the same people`,
  'quiet-hours': ({ people }) => (people ? `in quiet hours for ${sayPeople(people)}` : 'in quiet hours there'),
  'clock-change': ({ change }, zone) =>
    change
      ? `clocks go ${change.minutes > 0 ? 'on' : 'back'} in between, ${sayInstant(Date.parse(change.at), zone)}: days keep the clock time, hours are exact`
      : 'clocks change in between',
  'registration-closed': () => 'registration is closed by then',
  'over-limit': ({ people }) => `${sayPeople(people)} had as many messages this week as they may get, and do without`,
  nobody: () => 'nobody gets it',
  'no-join-link': ({ people }) =>
    `not sent to ${sayPeople(people)}: it depends on the join link, which only guests see`,
  'field-empty': ({ other }) => `says nothing where it names ${other}`,
  nameless: ({ people }) => `it says a name, and of ${sayPeople(people)} none is known`,
  draft: () => 'a draft: it does not go',
  'never-tested': () => 'not tested as it stands',
  'sender-unproven': () => 'its sender is not proven: the house writes instead',
  'no-opt-out': () => 'says nothing of how to end such texts',
  'no-postal-address': () => 'the house has no postal address: no mail goes',
};

/** What is worth a second look, in words. @param zone where the event is */
export const sayHazard = (hazard: HazardRow, zone: string): string => words[hazard.code](hazard, zone);

/** Worth knowing, but nothing that keeps it from going well. */
export const isMild = ({ code }: HazardRow): boolean =>
  code === 'clock-change' || code === 'never-tested' || code === 'no-opt-out';
