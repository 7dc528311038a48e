import { of } from 'rxjs';
import type { ApplyPlan, KeepPlan, PlanFit, PlanFollowers, PlanRow } from '@convite/contract';
import { EventsApi } from '../api/events';
import { PlansApi } from '../api/plans';
import { openScreen } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { PlanKeep } from './plan-keep';
import { PlanUse } from './plan-use';

const saved = { savedAt: '2026-11-28T09:00:00.000Z', savedBy: 'Ana' };
const plans: PlanRow[] = [
  { source: { kind: 'plan', id: 3 }, name: 'Our evening', says: 'As we always do it.', cues: 2, ...saved },
  { source: { kind: 'house', name: 'bare' }, name: 'Bare', says: 'One reminder.', cues: 1, savedAt: null, savedBy: '' },
];
const moment = {
  kind: 'relative',
  amount: 1,
  unit: 'days',
  direction: 'before',
  anchor: 'start',
  at: '10:00',
} as const;
const cue = {
  channel: 'email',
  hasText: false,
  moment,
  dueAt: '2031-06-17T09:00:00.000Z',
  problems: [],
  canBeKept: true,
} as const;
const fit: PlanFit = {
  name: 'Our evening',
  cues: [
    { ...cue, problems: [], key: 1, name: 'Tomorrow', hasText: true },
    { ...cue, key: 2, name: 'Register', problems: [{ code: 'no-registration', path: 'moment', facts: {} }] },
    { ...cue, key: 3, name: 'Long ago', canBeKept: false, problems: [{ code: 'too-soon', path: 'moment', facts: {} }] },
  ],
};
const followers: PlanFollowers = {
  rows: [
    { eventId: 1, title: 'This one', startAt: '2031-06-18T18:30:00.000Z', zone: 'Europe/Lisbon', cues: 2, changed: 0 },
    {
      eventId: 5,
      title: 'Next month',
      startAt: '2031-07-18T18:30:00.000Z',
      zone: 'Europe/Lisbon',
      cues: 2,
      changed: 1,
    },
    { eventId: 6, title: 'In autumn', startAt: '2031-10-18T18:30:00.000Z', zone: 'Europe/Lisbon', cues: 2, changed: 0 },
  ],
  hasMore: false,
};

describe('Plans', () => {
  const done: unknown[] = [];
  const api = {
    list: () => of(plans),
    fit: (_: number, source: unknown) => {
      done.push(['fit', source]);
      return of(fit);
    },
    apply: (_: number, asked: ApplyPlan) => {
      done.push(['apply', asked]);
      return of({ set: 1, drafts: 1 });
    },
    keep: (asked: KeepPlan) => {
      done.push(['keep', asked]);
      return of({ id: asked.id ?? 9 });
    },
    remove: (id: number) => {
      done.push(['remove', id]);
      return of(null);
    },
    followers: () => of(followers),
    follow: (id: number, events: number[]) => {
      done.push(['follow', id, events]);
      return of({ changed: 2, added: 1, removed: 0, drafts: 0 });
    },
  };
  const providers = [
    { provide: PlansApi, useValue: api },
    { provide: EventsApi, useValue: { withCues: () => of([]) } },
    { provide: Confirm, useValue: { ask: () => of(true) } },
  ];
  beforeEach(() => done.splice(0));

  it('shows when each cue would go and what does not fit, and takes over what is ticked', async () => {
    const { press, tick, text, said } = await openScreen(PlanUse, { eventId: 1, zone: 'Europe/Lisbon' }, providers);
    expect(text()).toContain('As we always do it.');
    await press('Our evening');
    expect(text()).toContain('1 day before the start, at 10:00 · Tue 17 Jun 2031 10:00 Lisbon');
    expect(text()).toContain('Nobody registers for this event');
    expect(text()).toContain('Set 2 cues');
    await tick('Tomorrow');
    await press('Set 1 cue');
    const source = { kind: 'plan', id: 3 } as const;
    expect(done).toEqual([
      ['fit', source],
      ['apply', { source, keys: [2], isDraft: false }],
    ]);
    expect(said.at(-1)).toBe('1 cue set. 1 draft to finish.');
    await press('Remove');
    expect(done.at(-1)).toEqual(['remove', 3]);
  });

  it('are kept under a name; in place of one it is asked which other events follow', async () => {
    const { press, tick, type, text, said } = await openScreen(PlanKeep, { eventId: 1 }, providers);
    await type('select', '3', 'change');
    await press('Keep it');
    expect(done).toEqual([['keep', { eventId: 1, id: 3, name: 'Our evening', says: 'As we always do it.' }]]);
    expect(text()).not.toContain('This one');
    expect(text()).toContain('1 changed by hand');
    await tick('In autumn');
    await press('Let 1 event follow');
    expect(done.at(-1)).toEqual(['follow', 3, [5]]);
    expect(said.at(-1)).toBe('Cues: 2 changed, 1 added.');
  });
});
