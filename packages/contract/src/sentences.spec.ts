import {
  blankFacts,
  readComponents,
  readUriTemplate,
  readWebCalendarPattern,
  readWording,
  checkEvent,
  readAddresses,
  type Problem,
} from '@convite/core';
import { sayProblem } from './sentences';

/** Real problems, from the readers that find them: a sentence must use the facts that come along. */
function realProblems(): Problem[] {
  const of = (read: { ok: boolean; problems?: Problem[] }): Problem[] => read.problems ?? [];
  return [
    ...checkEvent({
      ...blankFacts,
      title: '',
      description: 'x'.repeat(10_001),
      zone: 'Mars',
      span: { kind: 'timed', start: 'x', end: '2031-06-18T10:00' },
      venue: '',
      joinLink: 'ftp://x',
      topics: [],
    }),
    ...of(readUriTemplate('a{b')),
    ...of(readWebCalendarPattern('https://x.example/{?tittle,start}')),
    ...of(readWebCalendarPattern('https://x.example/{?title}')),
    ...readWording('{{nope}} {{open', 'body').problems,
    ...readAddresses('nope, a@b.example\na@b.example').problems,
    ...of(readComponents('BEGIN:VCALENDAR\r\nX')),
    ...of(readComponents('BEGIN:VCALENDAR\r\n')),
    ...of(readComponents('BEGIN:A\r\n'.repeat(20))),
  ];
}

describe('sentences', () => {
  it('say every problem with its facts filled in', () => {
    const said = realProblems().map(sayProblem);
    expect(said.length).toBeGreaterThan(12);
    for (const sentence of said) expect(sentence).toMatch(/^[“A-Za-z][^]*[.?)]$/);
    expect(said.filter((sentence) => /undefined|NaN|\[object/.test(sentence))).toEqual([]);
  });

  it('show a code that they do not know, rather than nothing', () =>
    expect(sayProblem({ code: 'from-the-future' })).toContain('from-the-future'));
});
