import { blankFacts } from '@convite/core';
import type { CueRow } from '@convite/contract';
import { someEvent } from '../testing/screen';
import { findUnfinished } from './readiness';

const now = Date.UTC(2031, 0, 1);
const hazard = (code: CueRow['hazards'][number]['code']) => ({
  code,
  toAt: null,
  other: '',
  people: null,
  change: null,
});
const cue = (name: string, hazards: CueRow['hazards'], state: CueRow['firing']['state'] = 'set'): CueRow => ({
  textOf: null,
  does: '',
  id: 7,
  name,
  channel: 'email',
  moment: { kind: 'fixed', wall: '2031-06-01T10:00' },
  audience: { invitees: ['accepted'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: { subject: '', blocks: [] },
  isDraft: false,
  ahead: [],
  hazards,
  firing: {
    id: 1,
    state,
    dueAt: '2031-06-01T09:00:00.000Z',
    note: '',
    tally: { gets: 1, countedAt: null, sent: 0, failed: 0, waiting: 0, finishAt: null },
    occurrence: null,
    zone: '',
    ownDay: null,
    step: null,
    otherZones: null,
  },
});

describe('Readiness', () => {
  it('names what is unfinished in the order of the work, what is of the house once, and leaves out what is only worth knowing', () => {
    const bare = someEvent({ ...blankFacts, title: 'Bare', zone: 'UTC' }, { invited: 0 });
    const cues = [
      cue('One', [hazard('draft'), hazard('no-postal-address'), hazard('never-tested')]),
      cue('Two', [hazard('no-postal-address')], 'missed'),
    ];
    expect(findUnfinished(bare, cues, now).map(({ words, at, cue: of }) => `${at} ${of ?? '–'}: ${words}`)).toEqual([
      'details –: It says neither a place nor where to join',
      'details –: Nothing says what happens there',
      'guests –: Nobody is invited, and nobody can register',
      'countdown 7: “One”: a draft: it does not go',
      'countdown 7: “Two” was missed: send it by hand, or leave it',
      'settings –: The house has no postal address: no mail goes',
    ]);
    expect(findUnfinished(bare, [], now).at(-1)?.words).toBe('Nobody is reminded: there is no cue');
  });

  it('says nothing of an event that is whole, over or called off', () => {
    const whole = someEvent({ description: 'Stars.' });
    expect(findUnfinished(whole, [cue('One', [hazard('clock-change')])], now)).toEqual([]);
    const bare = someEvent({ ...blankFacts, zone: 'UTC' }, { invited: 0 });
    expect(findUnfinished({ ...bare, status: 'called-off' }, [], now)).toEqual([]);
    expect(findUnfinished(bare, [], Date.UTC(2032, 0, 1))).toEqual([]);
  });
});
