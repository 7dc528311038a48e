import type { LocatedProblem } from '@convite/contract';
import { blankFacts, readWebCalendarPattern, writeWebCalendarLink, type EventFacts } from '@convite/core';

/** An event with everything in it that breaks badly made links. */
const sampleEvent: EventFacts = {
  ...blankFacts,
  title: 'Moon & stars #1',
  description: 'Bring a coat.',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2027-06-18T19:30', end: '2027-06-18T22:00' },
  venue: 'Dome 2, Serra da Bruma',
};

/** Somebody for patterns that say something of the person. */
const samplePerson = {
  name: 'Zoë Ação',
  email: 'zoe@people.example',
  replyUrl: 'https://convite.example/r/sample',
};

/** What a pattern makes of a sample event, or what is wrong with it. */
export function samplePattern(pattern: string): { link: string; problems: readonly LocatedProblem[] } {
  if (!pattern) return { link: '', problems: [] };
  const read = readWebCalendarPattern(pattern);
  if (read.ok)
    return {
      link: writeWebCalendarLink(
        read.value,
        sampleEvent,
        'sample@convite.example',
        'https://convite.example/e/sample',
        samplePerson,
      ),
      problems: [],
    };
  return {
    link: '',
    problems: read.problems.map(({ code, facts }) => ({
      code,
      path: 'pattern',
      ...(facts && { facts: { ...facts } }),
    })),
  };
}
