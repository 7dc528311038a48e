import { blankFacts, type EventFacts } from '../event/event';
import { changeOccurrence } from '../event/edit-series';
import { heldBack, type AboutToGo } from './still-goes';

const facts: EventFacts = {
  ...blankFacts,
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
};
const startMs = Date.UTC(2031, 5, 18, 18, 30);
const version = (number: number, over: Partial<EventFacts> = {}, calledOff = false) => ({
  number,
  sequence: number - 1,
  facts: { ...facts, ...over },
  calledOff,
});
const person = {
  isErased: false,
  isAbsorbed: false,
  isInvented: false,
  optedOut: false,
  bounced: false,
  textConsent: true,
  holdsVersion: 1,
};
const cue: AboutToGo = {
  kind: 'cue',
  channel: 'email',
  mayHaveLeft: false,
  person,
  event: { isAlive: true, version: version(2) },
  occurrence: '',
  countsDown: true,
  plannedStartMs: startMs,
  answersWriter: false,
  isOfGoneDate: false,
  ending: null,
};
const weekly = version(2, { series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } });
const [first, second] = ['20310618T193000', '20310625T193000'];
const off = {
  ...weekly,
  facts: changeOccurrence(weekly.facts, second ?? '', { facts: weekly.facts, calledOff: true }),
};
const calledOff = { isAlive: false, version: version(2, {}, true) };
const notice: Partial<AboutToGo> = { kind: 'notice', countsDown: false, plannedStartMs: null };

describe('asking once more before a message goes', () => {
  const rows: [string, Partial<AboutToGo>, string | null][] = [
    ['a cue as planned', {}, null],
    ['to who is invented', { person: { ...person, isInvented: true } }, 'invented'],
    ['to who was erased', { person: { ...person, isErased: true } }, 'erased'],
    ['to who opted out', { person: { ...person, optedOut: true } }, 'opted-out'],
    ['to an address that bounced', { person: { ...person, bounced: true } }, 'bounced'],
    ['a text to somebody whose address bounced', { channel: 'text', person: { ...person, bounced: true } }, null],
    ['a text to who said no', { channel: 'text', person: { ...person, textConsent: false } }, 'no-text-consent'],
    ['a cue of what was called off', { event: calledOff }, 'called-off'],
    ['a cue of what is no longer published', { event: { isAlive: false, version: version(2) } }, 'called-off'],
    ['a cue of a start that moved', { plannedStartMs: startMs - 3_600_000 }, 'moved'],
    ['a cue after the start', { kind: 'cue', countsDown: false }, null],
    ['a cue of one date', { event: { isAlive: true, version: weekly }, occurrence: first ?? '' }, null],
    [
      'a cue of a date that is off',
      { event: { isAlive: true, version: off }, occurrence: second ?? '', plannedStartMs: null },
      'date-gone',
    ],
    ['a cue of another date of it', { event: { isAlive: true, version: off }, occurrence: first ?? '' }, null],
    [
      'a cue of a date the series lost',
      { event: { isAlive: true, version: weekly }, occurrence: '20310619T193000' },
      'date-gone',
    ],
    ['a cue of a fixed moment in a series', { event: { isAlive: true, version: weekly }, plannedStartMs: null }, null],
    ['what may have left already, whatever changed', { mayHaveLeft: true, event: calledOff }, null],
    ['what may have left, to who opted out', { mayHaveLeft: true, person: { ...person, optedOut: true } }, 'opted-out'],
    ['an invitation to what was called off', { kind: 'invitation', event: calledOff }, 'called-off'],
    ['an answer to who opted out: they asked', { kind: 'answer', person: { ...person, optedOut: true } }, null],
    ['a notice to who opted out: they hold the old time', { ...notice, person: { ...person, optedOut: true } }, null],
    ['a notice to who holds the newest', { ...notice, person: { ...person, holdsVersion: 2 } }, 'holds-it'],
    ['a notice of the end', { ...notice, event: calledOff }, null],
    [
      'a notice of the end to who has heard',
      { ...notice, event: calledOff, person: { ...person, holdsVersion: 2 } },
      'holds-it',
    ],
    [
      'a notice of a date that is off, to who holds the newest',
      { ...notice, isOfGoneDate: true, person: { ...person, holdsVersion: 2 } },
      null,
    ],
    ['an answer about what was called off after it', { kind: 'answer', event: calledOff }, 'called-off'],
    ['an answer that says it is called off', { kind: 'answer', event: calledOff, ending: 'event' }, null],
    ['the same once it is taken up again', { kind: 'answer', ending: 'event' }, 'taken-up'],
    ['the end of a part in it, although all of it is off', { kind: 'answer', event: calledOff, ending: 'part' }, null],
    ['a digest', { kind: 'digest', event: null }, null],
  ];
  for (const [title, over, expected] of rows)
    it(`${title}: ${expected ?? 'goes'}`, () => {
      expect(heldBack({ ...cue, ...over }, startMs - 86_400_000)).toBe(expected as ReturnType<typeof heldBack>);
    });

  it('drops what counts down once the date has begun, and not what thanks', () => {
    expect([heldBack(cue, startMs), heldBack({ ...cue, countsDown: false }, startMs + 1)]).toEqual(['over', null]);
  });
});
