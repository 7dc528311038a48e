import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { of } from 'rxjs';
import type { CueFields, CueRow } from '@convite/contract';
import { withHowToStop } from '@convite/core';
import { BoardApi } from '../api/board';
import { ByHandSender } from '../by-hand-sender';
import { EventsApi } from '../api/events';
import { cue, cuePreview, cueProviders, firing, someAround, someFields } from '../testing/cues';
import { openScreen, someEvent } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { Countdown } from './countdown';
import { CurrentEvent } from './current-event';

const quietHours: CueRow['hazards'][number] = {
  code: 'quiet-hours',
  toAt: '2031-06-17T07:00:00.000Z',
  other: '',
  change: null,
  people: null,
};
const saved =
  (done: unknown[][]) =>
  (...what: unknown[]) => {
    done.push(['save', ...what]);
    return of(null);
  };

const pressed = {
  opened: { presses: 9, people: 7, byPrograms: 1 },
  links: [{ url: 'https://map.example', presses: 3, people: 2, byPrograms: 5 }],
};

describe('Countdown', () => {
  const open = async (rows: CueRow[], event = someEvent(), canMarket = true, inputs = {}) => {
    const done: unknown[][] = [];
    const act =
      (name: string) =>
      (...what: unknown[]) => {
        done.push([name, ...what]);
        return of(null);
      };
    const screen = await openScreen(
      Countdown,
      inputs,
      [
        ...cueProviders,
        {
          provide: CurrentEvent,
          useValue: {
            detail: signal(event),
            id: () => 1,
            topic: () => 'event:1',
            resource: { reload: () => undefined },
          },
        },
        {
          provide: EventsApi,
          useValue: {
            cues: () => of(rows),
            previewCue: () => of(cuePreview),
            rail: () => of(someAround),
            saveCue: saved(done),
            setGrace: act('grace'),
            hold: act('hold'),
            chooseToInvite: act('chooseToInvite'),
            letGoOn: act('go on'),
          },
        },
        { provide: ByHandSender, useValue: { send: act('send') } },
        { provide: BoardApi, useValue: { stop: act('stop'), setAgain: act('set'), linksOf: () => of(pressed) } },
        { provide: Confirm, useValue: { ask: () => of(true) } },
      ],
      canMarket,
    );
    return { ...screen, done, row: () => screen.find('tbody tr').textContent?.replace(/\s+/g, ' ').trim() ?? '' };
  };

  it('asks to hold the cue whose test led here, where there is something to hold', async () => {
    const set = await open([cue()], someEvent(), true, { cue: '7', hold: '1' });
    expect(set.done).toEqual([['stop', 11]]);
  });
  it('says that a cue which went cannot be held, and which of its links were pressed', async () => {
    const gone = await open([cue({}, { state: 'done' })], someEvent(), true, { cue: '7', hold: '1' });
    expect(gone.done).toEqual([]);
    expect(gone.said.join()).toContain('there is nothing to hold');
    expect(gone.text()).toContain('2 people, 3 times; 5 more by programs');
  });

  it('says of each cue when it fires, for whom, and what to look at', async () => {
    const { row } = await open([
      cue(
        { hazards: [quietHours], audience: { ...someFields.audience, lists: [3] } },
        {
          state: 'sending',
          tally: { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 12, failed: 0, waiting: 28 },
        },
      ),
    ]);
    expect(row()).toContain('24 hours before the start');
    // Farther away than half a year, the year is said.
    expect(row()).toContain('Tue 17 Jun 2031 19:30 Lisbon');
    expect(row()).toContain('yes, perhaps, 1 list');
    expect(row()).toContain('12 of 40');
    expect(row()).toContain('in quiet hours');
  });

  it('of a series says the date that is next, and how many are planned after it', async () => {
    const planned = { key: '20310625T193000', startAt: '2031-06-25T18:30:00.000Z' };
    const { row } = await open([cue({ ahead: [firing, firing] }, { occurrence: planned })]);
    expect(row()).toContain('for Wed 25 Jun, then 2 more');
  });

  for (const [state, button, what] of [
    ['set', 'Hold', 'stop'],
    ['sending', 'Hold', 'stop'],
    ['stopped', 'Set again', 'set'],
    ['missed', 'Send now', 'send'],
  ] as const)
    it(`offers what a cue that is ${state} can become`, async () => {
      const { find, settle, done } = await open([cue({}, { state })]);
      const act = find<HTMLButtonElement>('tbody td:last-child button');
      expect(act.textContent).toBe(button);
      act.click();
      await settle();
      expect(done.map(([name, id]) => [name, id])).toEqual([[what, 11]]);
    });

  it('mends a hazard by one press, takes the move back, and makes it again', async () => {
    const row = cue({ hazards: [quietHours] });
    const { press, done, undo, text, settle } = await open([row]);
    await press('move it to Tue 17 Jun 2031 08:00 Lisbon');
    expect(text()).toContain('Undo “Tomorrow”');
    undo();
    await settle();
    await press('Redo');
    const dayBefore = { ...someFields.moment, amount: 1, unit: 'days', at: '08:00' };
    expect(done.map(([, id, cueId, what]) => [id, cueId, what])).toEqual(
      [dayBefore, someFields.moment, dayBefore].map((moment) => [1, 7, { ...someFields, moment, was: someFields }]),
    );
  });

  it('lets a text say by one press how to end such texts', async () => {
    const hazard = { code: 'no-opt-out', toAt: null, other: '', people: null, change: null } as const;
    const { press, done } = await open([cue({ channel: 'text', hazards: [hazard] })]);
    await press('add it');
    const [, , , saved] = done[0] ?? [];
    expect(saved).toEqual(
      jasmine.objectContaining({
        wording: withHowToStop(someFields.wording, 'en'),
        was: { ...someFields, channel: 'text' },
      }),
    );
  });

  it('has two ways out for people who would get no join link: they are invited too, or excluded', async () => {
    const hazard = { code: 'no-join-link', toAt: null, other: '', people: 219, change: null } as const;
    const row = cue({ hazards: [hazard], audience: { ...someFields.audience, lists: [3] } });
    const { press, text, done } = await open([row]);
    expect(text()).toContain('not sent to 219 people: it depends on the join link, which only guests see');
    await press('Exclude them');
    expect(done).toContain(
      jasmine.arrayContaining([
        'save',
        1,
        row.id,
        jasmine.objectContaining({ audience: { ...row.audience, onlyGuests: true } }),
      ]),
    );
    const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    await press('Invite them too');
    expect(done).toContain(['chooseToInvite', 1, [3], []]);
    expect(navigate.calls.mostRecent().args[0]).toEqual(['/events', 1, 'guests']);
  });

  it('shows what another start would do before anything is saved: where cues go, what is late, who is to be told', async () => {
    const { find, text, settle } = await open([cue()]);
    const start = find<HTMLElement>('g.start');
    start.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', shiftKey: true }));
    start.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    await settle();
    expect(text()).toContain('If it started Wed 18 Jun 2031 20:30 Lisbon');
    expect(text()).toContain('Tue 17 Jun 2031 20:30 Lisbon');
    expect(text()).toContain('To be told: 3 people by email.');
  });

  it('holds all of an event after asking, says who holds it, and lets it go on', async () => {
    const { press, done } = await open([cue()]);
    await press('Hold all');
    expect(done).toEqual([['hold', 1]]);
    TestBed.resetTestingModule();
    const held = await open([cue()], someEvent({}, { heldBy: 'Ana' }));
    expect(held.text()).toContain('held by Ana');
    expect(held.text()).not.toContain('Hold all');
    await held.press('Let it go on');
    expect(held.done).toEqual([['go on', 1]]);
  });

  it('does one thing with several cues: each for itself, and what could not be is named', async () => {
    const rows = [
      cue(),
      cue({ id: 8, name: 'Gone' }, { id: 12, state: 'done' }),
      cue(
        { id: 9, name: 'Days', moment: { kind: 'fixed', wall: '2031-06-10T10:00' } },
        { id: 13, dueAt: '2031-06-10T09:00:00.000Z' },
      ),
    ];
    const { element, find, settle, press, done, said } = await open(rows);
    find<HTMLInputElement>('thead input[type=checkbox]').click();
    await settle();
    await press('later');
    expect(done.map(([name, , id, what]) => [name, id, (what as CueFields).moment])).toEqual([
      ['save', 7, { ...someFields.moment, amount: 0 }],
      ['save', 9, { kind: 'fixed', wall: '2031-06-11T10:00' }],
    ]);
    expect(said.at(-1)).toBe('2 cues moved. “Gone”: It has gone out.');
    expect(element.querySelector('cv-cue-bulk')).toBeNull();
  });

  it('says how late what could not go still goes, the usual hour or otherwise', async () => {
    const { type, done, find } = await open([cue()]);
    const select = 'select[aria-label="How late it may still go"]';
    expect(find<HTMLSelectElement>(select).value).toBe('60');
    await type(select, '15', 'change');
    await type(select, '60', 'change');
    expect(done).toEqual([
      ['grace', 1, 15],
      ['grace', 1, null],
    ]);
  });

  it('copies a cue as a draft, also one that has gone', async () => {
    const { press, find, done } = await open([cue({}, { state: 'done' })]);
    await press('Tomorrow');
    await press('Copy it');
    expect(find('cv-cue-editor input').value).toBe('Tomorrow, again');
    await press('Keep as a draft');
    expect(done).toEqual([['save', 1, null, { ...someFields, name: 'Tomorrow, again', isDraft: true }]]);
  });

  it('opens a new cue with the usual reminder, and shows what was sent without letting it change', async () => {
    const fresh = await open([]);
    expect(fresh.text()).toContain('No cue yet.');
    await fresh.press('Add a cue');
    expect(fresh.find('cv-cue-editor input').value).toBe('Tomorrow');
    TestBed.resetTestingModule();
    const fired = await open([
      cue(
        {},
        {
          state: 'done',
          tally: { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 39, failed: 1, waiting: 0 },
        },
      ),
    ]);
    await fired.press('Tomorrow');
    expect(fired.text()).toContain('what was sent cannot be changed');
    expect(fired.text()).not.toContain('Set the cue');
  });

  it('offers a viewer nothing to press, and nobody a new cue of an event that was called off', async () => {
    const viewed = await open([cue()], someEvent(), false);
    expect(viewed.text()).not.toContain('Hold');
    expect(viewed.text()).not.toContain('Add a cue');
    TestBed.resetTestingModule();
    const calledOff = await open([cue({}, { state: 'stopped' })], someEvent({}, { status: 'called-off' }));
    expect(calledOff.text()).not.toContain('Add a cue');
  });
});
