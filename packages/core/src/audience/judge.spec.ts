import { whoOf, type Audience } from './audience';
import { guessFieldType, passes, readFieldValue, type FieldTest, type FieldType, type FieldValue } from './field';
import { isSo, judge, type GuestFacts, type PersonFacts } from './judge';
import { all, any, none, type Tree } from './tree';

const guest: GuestFacts = {
  isGuest: true,
  isInvited: true,
  isByDate: false,
  reply: 'accepted',
  repliedAtMs: 500,
  dates: new Map([
    ['d1', { reply: 'declined', repliedAtMs: 2000, attended: null }],
    ['d2', { reply: null, repliedAtMs: null, attended: true }],
    ['d3', { reply: 'accepted', repliedAtMs: 1000, attended: false }],
  ]),
  online: [],
  places: new Map([
    ['', 'confirmed'],
    ['d1', 'cancelled'],
    ['d2', 'waitlisted'],
  ]),
  steps: [
    { step: 'invitation', date: '', atMs: 500 },
    { step: 'registration', date: 'd3', atMs: 900 },
  ],
  holds: 'older',
  isBeingInvited: false,
  ownStart: '2026-11-27T10:00',
};
const person: PersonFacts = {
  id: 7,
  hasEmail: true,
  hasMobile: true,
  isPaused: false,
  isSameAsOther: false,
  sharesNumberWith: [],
  emailConsent: true,
  mostPerWeek: null,
  counted: [],
  textConsent: true,
  optedOut: false,
  bounced: false,
  zone: 'Asia/Tokyo',
  lists: [1],
  topics: [],
  fields: new Map<number, FieldValue>([[3, '2000-02-29']]),
  guestOf: new Map([[1, guest]]),
  got: [{ kind: 'cue', event: 1, atMs: 1000 }],
  had: [{ cue: 5, slot: 'd1', zone: 'Asia/Tokyo' }],
};

describe('an audience', () => {
  const audience: Audience = {
    invitees: ['accepted'],
    lists: [2],
    exceptLists: [9],
    exceptReplies: ['tentative'],
    topics: ['moon'],
  };
  const target = { eventId: 1, occurrence: '', ownStart: null };
  const invited = (over: Partial<GuestFacts>) => ({ guestOf: new Map([[1, { ...guest, ...over }]]) });
  const cases: [Partial<PersonFacts>, 'email' | 'text', string | null][] = [
    [{}, 'email', null],
    [invited({ reply: 'declined' }), 'email', 'not-chosen'],
    [invited({ isInvited: false }), 'email', 'not-chosen'],
    [invited({ isByDate: true }), 'email', 'not-chosen'],
    [{ ...invited({ reply: 'tentative' }), lists: [2] }, 'email', 'answered'],
    [{ guestOf: new Map(), lists: [2] }, 'email', null],
    [{ lists: [1, 9] }, 'email', 'left-out'],
    [{ optedOut: true, lists: [9] }, 'email', 'left-out'],
    [{ optedOut: true, bounced: true }, 'email', 'opted-out'],
    [{ emailConsent: false, guestOf: new Map(), lists: [2] }, 'email', 'no-consent'],
    [{ emailConsent: false, optedOut: true }, 'email', 'opted-out'],
    [{ isPaused: true, guestOf: new Map(), lists: [2] }, 'text', 'paused'],
    [{ isPaused: true }, 'email', null],
    // Guests of the very event that it is about hear of it.
    [{ emailConsent: false }, 'email', null],
    [
      { ...invited({ isGuest: false, isInvited: false, places: new Map() }), emailConsent: false, lists: [2] },
      'email',
      'no-consent',
    ],
    // Put down for an invitation that is still on its way: it goes only with consent.
    [{ ...invited({ isInvited: false, places: new Map() }), emailConsent: false, lists: [2] }, 'email', 'no-consent'],
    [{ emailConsent: false, guestOf: new Map(), lists: [2] }, 'text', null],
    [{ bounced: true }, 'email', 'bounced'],
    [{ bounced: true }, 'text', null],
    [{ hasEmail: false }, 'email', 'no-email'],
    [{ hasMobile: false, textConsent: false }, 'text', 'no-mobile'],
    [{ textConsent: false }, 'text', 'no-text-consent'],
    [{ topics: ['pulsars'] }, 'email', 'other-topics'],
    [{ topics: ['pulsars', 'moon'] }, 'email', null],
  ];
  for (const [index, [over, channel, expected]] of cases.entries())
    it(`in its usual shape gives the first reason in the fixed order (${index + 1}: ${expected ?? 'gets it'})`, () =>
      expect(judge({ ...person, ...over }, whoOf(audience, target), channel)).toBe(expected as null));

  it('takes who waits for a place for neither silent nor somebody who could still register', () => {
    const waits = { ...person, ...invited({ reply: 'needs-action', places: new Map([['', 'waitlisted']]) }) };
    const only = { ...audience, invitees: [], lists: [], exceptReplies: [], topics: null };
    const of = (over: Partial<Audience>, who: PersonFacts = waits) =>
      judge(who, whoOf({ ...only, ...over }, target), 'email');
    expect(of({ invitees: ['needs-action'] })).toBe('not-chosen');
    expect(of({ lists: [1], exceptReplies: ['accepted'] })).toBe('answered');
    expect(of({ places: ['waitlisted'] })).toBeNull();
    // Being no guest yet, they hear of what they wait for, whatever else they agreed to.
    const stranger = invited({ isGuest: false, isInvited: false, places: new Map([['d2', 'waitlisted']]) });
    const unasked = { ...person, ...stranger, emailConsent: false };
    expect(of({ places: ['waitlisted'] }, unasked)).toBeNull();
    const atDate = (occurrence: string) =>
      judge(unasked, whoOf({ ...only, places: ['waitlisted'] }, { ...target, occurrence }), 'email');
    expect(['d2', 'd3'].map(atDate)).toEqual([null, 'not-chosen']);
  });

  it('goes by the topics that the event has as it goes', () => {
    const only = { ...audience, invitees: [], lists: [1], exceptReplies: [], topics: null, ofTopics: true };
    const ofEvent = (topics: readonly string[], asked: readonly string[]) =>
      judge({ ...person, topics: asked }, whoOf(only, { ...target, topics }), 'email');
    expect(ofEvent(['moon'], ['pulsars'])).toBe('other-topics');
    expect(ofEvent(['moon'], ['pulsars', 'moon'])).toBeNull();
    // Who asked for nothing in particular hears of all; an event of no topic is for everybody.
    expect([ofEvent(['moon'], []), ofEvent([], ['pulsars'])]).toEqual([null, null]);
  });

  it('tells apart who comes in person and who comes online, date by date', () => {
    const places = new Map([
      ['d1', 'confirmed'],
      ['d2', 'confirmed'],
      ['d3', 'waitlisted'],
    ] as const);
    const comes = { ...person, ...invited({ places, online: ['d2', 'd3'] }) };
    const only = { ...audience, invitees: [], lists: [], exceptReplies: [], topics: null };
    const at = (places: Audience['places']) =>
      ['', 'd1', 'd2', 'd3'].map(
        (occurrence) => judge(comes, whoOf({ ...only, places }, { ...target, occurrence }), 'email') === null,
      );
    expect(at(['in-person'])).toEqual([true, true, false, false]);
    expect(at(['online'])).toEqual([true, false, true, false]);
  });

  it('leaves an email to whoever can be texted to the text in its place', () => {
    const who = whoOf({ ...audience, exceptTextable: true }, target);
    const of = (over: Partial<PersonFacts>) => judge({ ...person, ...over }, who, 'email');
    expect(of({})).toBe('by-text');
    expect(of({ hasMobile: false })).toBeNull();
    expect(of({ textConsent: false })).toBeNull();
    expect(of({ lists: [1, 9] })).toBe('left-out');
    expect(of({ optedOut: true })).toBe('opted-out');
  });

  it('goes by the answer for its date, and by the time that people have of their own', () => {
    const of = (occurrence: string) => judge(person, whoOf(audience, { ...target, occurrence }), 'email');
    expect(['d1', 'd2', 'd3', 'd4'].map(of)).toEqual(['not-chosen', null, null, null]);
    const at = (ownStart: string) => judge(person, whoOf(audience, { ...target, ownStart }), 'email');
    expect(['2026-11-27T10:00', '2026-11-27T11:00', ''].map(at)).toEqual([null, 'not-chosen', 'not-chosen']);
  });

  const about = (date = '') => ({ event: 1, date });
  const rows: [Tree, boolean][] = [
    [all(), true],
    [any(), false],
    [none(), true],
    [none({ kind: 'list', lists: [1] }, { kind: 'list', lists: [2] }), false],
    [all({ kind: 'list', lists: [1, 5] }, none({ kind: 'zone', zones: ['Europe/Lisbon'] })), true],
    [{ kind: 'registered', about: about() }, true],
    [{ kind: 'registered', about: about('d1') }, false],
    [{ kind: 'registered', about: about('d2') }, false],
    [{ kind: 'registered', about: about('d3') }, true],
    [{ kind: 'registered', about: { event: 2, date: '' } }, false],
    [{ kind: 'waitlisted', about: about() }, true],
    [{ kind: 'waitlisted', about: about('d3') }, false],
    [{ kind: 'in-person', about: about() }, true],
    [{ kind: 'online', about: about() }, false],
    [{ kind: 'attended', about: about() }, true],
    [{ kind: 'attended', about: about('d3') }, false],
    [{ kind: 'no-show', about: about('d3') }, true],
    [{ kind: 'no-show', about: about('d1') }, false],
    [{ kind: 'invited', event: 1 }, true],
    [{ kind: 'invited', event: 2 }, false],
    [{ kind: 'holds', event: 1, version: 'older' }, true],
    [{ kind: 'holds', event: 1, version: 'newest' }, false],
    [{ kind: 'own-time', event: 2, start: '' }, true],
    [{ kind: 'had-it', cue: 5, slot: 'd1', zone: 'Europe/Lisbon' }, true],
    [{ kind: 'had-it', cue: 5, slot: 'd1', zone: 'Asia/Tokyo' }, false],
    [{ kind: 'had-it', cue: 5, slot: 'd2', zone: 'Europe/Lisbon' }, false],
    [{ kind: 'got', message: 'cue', event: null, sinceMs: 1000 }, true],
    [{ kind: 'got', message: 'cue', event: 1, sinceMs: 1001 }, false],
    [{ kind: 'got', message: 'cue', event: 2, sinceMs: 0 }, false],
    [{ kind: 'got', message: 'digest', event: null, sinceMs: 0 }, false],
    [{ kind: 'answered-any', event: 1, replies: ['accepted'], sinceMs: null }, true],
    [{ kind: 'answered-any', event: 1, replies: ['accepted'], sinceMs: 1000 }, true],
    [{ kind: 'answered-any', event: 1, replies: ['accepted'], sinceMs: 1001 }, false],
    [{ kind: 'answered-any', event: 1, replies: ['declined'], sinceMs: 2000 }, true],
    [{ kind: 'answered-any', event: 1, replies: ['tentative'], sinceMs: null }, false],
    [{ kind: 'answered-any', event: 2, replies: ['accepted'], sinceMs: null }, false],
    [{ kind: 'step', step: 'invitation', about: about(), fromMs: 500, toMs: 501 }, true],
    [{ kind: 'step', step: 'invitation', about: about(), fromMs: 0, toMs: 500 }, false],
    [{ kind: 'step', step: 'registration', about: about(), fromMs: 0, toMs: 1000 }, false],
    [{ kind: 'step', step: 'registration', about: about('d3'), fromMs: 0, toMs: 1000 }, true],
    [{ kind: 'step', step: 'registration', about: { event: 1, date: null }, fromMs: 0, toMs: 1000 }, true],
    [{ kind: 'step', step: 'approval', about: { event: 1, date: null }, fromMs: 0, toMs: 1000 }, false],
    [{ kind: 'step', step: 'invitation', about: { event: 2, date: '' }, fromMs: 0, toMs: 1000 }, false],
    [{ kind: 'person', ids: [7] }, true],
    [{ kind: 'consent', channel: 'text' }, true],
    [{ kind: 'field', field: 3, test: { is: 'day-of-year', days: ['02-29'] } }, true],
    [{ kind: 'field', field: 4, test: { is: 'filled' } }, false],
  ];
  for (const [tree, expected] of rows)
    it(`${JSON.stringify(tree)} is ${expected ? 'so' : 'not so'}`, () => expect(isSo(tree, person)).toBe(expected));
});

describe('a field', () => {
  const read: [FieldType, string, FieldValue | null][] = [
    ['number', ' 12.5 ', 12.5],
    ['number', 'twelve', null],
    ['number', '1e999', null],
    ['date', '2026-02-28', '2026-02-28'],
    ['date', '2026-02-30', null],
    ['date', '28.2.2026', null],
    ['yes-no', 'Yes', 1],
    ['yes-no', 'n', 0],
    ['yes-no', 'perhaps', null],
    ['text', '  ', null],
    ['choice', 'Gold', 'Gold'],
  ];
  for (const [type, typed, value] of read)
    it(`of type ${type} reads ${JSON.stringify(typed)} as ${value}`, () =>
      expect(readFieldValue(type, typed)).toBe(value));

  const guessed: [string[], FieldType][] = [
    [['1990-02-28', '', ' 2000-02-29 '], 'date'],
    [['1990-02-28', 'unknown'], 'text'],
    [['12', '-3.5', '0'], 'number'],
    [['0123', '12'], 'text'],
    [['+351912345678'], 'text'],
    [['yes', 'No', ''], 'yes-no'],
    [['', ' '], 'text'],
  ];
  for (const [values, type] of guessed)
    it(`with ${JSON.stringify(values)} seems to be ${type}`, () => expect(guessFieldType(values)).toBe(type));

  const tested: [FieldValue, FieldTest, boolean][] = [
    ['Gold', { is: 'any-of', values: ['silver', 'gOLD'] }, true],
    ['Gold', { is: 'begins-with', text: 'go' }, true],
    ['Gold', { is: 'number', from: null, to: null }, false],
    [5, { is: 'number', from: 5, to: 5 }, true],
    [5, { is: 'number', from: 6, to: null }, false],
    ['2026-11-27', { is: 'date', from: '2026-11-27', to: null }, true],
    ['2026-11-27', { is: 'date', from: null, to: '2026-11-26' }, false],
    ['Gold', { is: 'date', from: null, to: null }, false],
    ['2026-11-27', { is: 'day-of-year', days: ['11-27'] }, true],
  ];
  for (const [value, test, expected] of tested)
    it(`${value} ${expected ? 'passes' : 'fails'} ${JSON.stringify(test)}`, () =>
      expect(passes(value, test)).toBe(expected));
});
