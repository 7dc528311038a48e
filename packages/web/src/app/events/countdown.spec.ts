import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject, of, throwError } from 'rxjs';
import type { CueFields, CuePreview, CueRow, LiveCount, RailAround } from '@convite/contract';
import { letter, plainDocument, withHowToStop, type Moment } from '@convite/core';
import { AudienceApi } from '../api/audience';
import { BoardApi } from '../api/board';
import { ByHandSender } from '../by-hand-sender';
import { EventsApi } from '../api/events';
import { SettingsApi } from '../api/settings';
import { noAudienceSource, openScreen, refusal, shown, someEvent } from '../testing/screen';
import { AudienceSource } from '../ui/audience/audience-source';
import { Countdown } from './countdown';
import { CueEditor } from './cue-editor';
import { CueMoment } from './cue-moment';
import { Confirm } from '../ui/confirm';
import { CurrentEvent } from './current-event';

const fields: CueFields = {
  name: 'Tomorrow',
  channel: 'email',
  moment: { kind: 'relative', amount: 24, unit: 'hours', direction: 'before', anchor: 'start', at: null },
  audience: { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: letter('Tomorrow: {{event.title}}', 'See you.'),
  isDraft: false,
};
const said = (words: string): CueFields['wording'] => ({ ...letter('', words), subject: fields.wording.subject });
const firing: CueRow['firing'] = {
  id: 11,
  state: 'set',
  dueAt: '2031-06-17T18:30:00.000Z',
  note: '',
  tally: { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 0, failed: 0, waiting: 0 },
  occurrence: null,
  zone: '',
  ownDay: null,
  step: null,
  otherZones: null,
};
const cue = (over: Partial<CueRow> = {}, fired: Partial<CueRow['firing']> = {}): CueRow => ({
  ...fields,
  id: 7,
  textOf: null,
  ahead: [],
  hazards: [],
  does: '',
  ...over,
  firing: { ...firing, ...fired },
});
const quietHours: CueRow['hazards'][number] = {
  code: 'quiet-hours',
  toAt: '2031-06-17T07:00:00.000Z',
  other: '',
  change: null,
  people: null,
};
const around: RailAround = {
  standbyMinutes: 10,
  publishedAt: null,
  workdays: [1, 2, 3, 4, 5],
  holidays: [],
  quiet: { from: '22:00', until: '08:00' },
  language: 'en',
  farZones: [],
  others: [],
  hasMoreOthers: false,
  toTell: { email: 3, text: 0 },
};
const saved =
  (done: unknown[][]) =>
  (...what: unknown[]) => {
    done.push(['save', ...what]);
    return of(null);
  };
const preview: CuePreview = {
  dueAt: '2031-06-17T18:30:00.000Z',
  person: { id: 4, name: 'Ana', whyNot: 'opted-out', leftOutBy: '', waitsUntil: null, zone: 'Europe/Lisbon' },
  message: shown(),
  problems: [{ code: 'too-soon', path: 'moment', facts: {} }],
};
const counted: LiveCount = {
  share: 1,
  audience: { gets: 40, waiting: 0, nameless: 0, without: [{ reason: 'bounced', count: 2 }] },
};
const audience = {
  provide: AudienceApi,
  useValue: { lists: () => of([{ id: 3, name: 'Members', count: 9 }]), fields: () => of([]) },
};
const providers = [
  audience,
  { provide: SettingsApi, useValue: { get: () => of({ topics: ['stars'] }) } },
  { provide: AudienceSource, useValue: { ...noAudienceSource, count: () => of(counted) } },
];

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
        ...providers,
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
            previewCue: () => of(preview),
            rail: () => of(around),
            saveCue: saved(done),
            setGrace: act('grace'),
            hold: act('hold'),
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
        { hazards: [quietHours], audience: { ...fields.audience, lists: [3] } },
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
    const dayBefore = { ...fields.moment, amount: 1, unit: 'days', at: '08:00' };
    expect(done.map(([, id, cueId, what]) => [id, cueId, what])).toEqual(
      [dayBefore, fields.moment, dayBefore].map((moment) => [1, 7, { ...fields, moment, was: fields }]),
    );
  });

  it('lets a text say by one press how to end such texts', async () => {
    const hazard = { code: 'no-opt-out', toAt: null, other: '', people: null, change: null } as const;
    const { press, done } = await open([cue({ channel: 'text', hazards: [hazard] })]);
    await press('add it');
    const [, , , saved] = done[0] ?? [];
    expect(saved).toEqual(
      jasmine.objectContaining({ wording: withHowToStop(fields.wording, 'en'), was: { ...fields, channel: 'text' } }),
    );
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
      ['save', 7, { ...fields.moment, amount: 0 }],
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
    expect(done).toEqual([['save', 1, null, { ...fields, name: 'Tomorrow, again', isDraft: true }]]);
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

describe('CueEditor', () => {
  const open = (
    api: Partial<Record<keyof EventsApi, unknown>> = {},
    over: Partial<CueFields> = {},
    source: AudienceSource | null = null,
  ) => {
    const saved: unknown[][] = [];
    const saveCue = (...what: unknown[]) => {
      saved.push(what);
      return of({ id: 7 });
    };
    return openScreen(CueEditor, { eventId: 1, cueId: 7, fields: { ...fields, ...over }, zone: 'Europe/Lisbon' }, [
      ...providers,
      { provide: EventsApi, useValue: { previewCue: () => of(preview), saveCue, ...api } },
      ...(source ? [{ provide: AudienceSource, useValue: source }] : []),
    ]).then((screen) => ({ ...screen, saved }));
  };
  /** The preview waits for a pause in typing. */
  const pause = () => new Promise((done) => setTimeout(done, 300));

  it('counts while one looks, with how far it is; words may change without counting anew, and a newer count ends the older', async () => {
    const counts: Subject<LiveCount>[] = [];
    const countCue = () => {
      const count = new Subject<LiveCount>();
      counts.push(count);
      return count;
    };
    const { text, settle, type } = await open({}, {}, { ...noAudienceSource, count: countCue });
    await pause();
    counts[0]?.next({ share: 0.5, audience: { gets: 20, waiting: 0, nameless: 0, without: [] } });
    await settle();
    expect(text()).toContain('20 people get this so far');
    await type('input[matinput]', 'Another name');
    await pause();
    expect(counts.length).toBe(1);
    await type('input[type=number]', '3');
    await pause();
    expect([counts.length, counts[0]?.observed]).toEqual([2, false]);
    counts[1]?.next({ share: 1, audience: { gets: 40, waiting: 0, nameless: 0, without: [] } });
    await settle();
    expect(text()).toContain('40 people get this.');
  });

  it('shows what a person would get and who does not get it, because, and what is wrong with the moment', async () => {
    const { text, settle } = await open();
    await pause();
    await settle();
    expect(text()).toContain('Tomorrow: Dome night');
    expect(text()).toContain('40');
    expect(text()).toMatch(/2 .*bounce/);
    expect(text()).toContain('at least 10 minutes ahead');
  });

  it('counts a text as it is typed, with the characters that cost most', async () => {
    const { press, text, type } = await open({}, { wording: plainDocument('', 'a'.repeat(155)) });
    await press('text');
    expect(text()).toContain('155 of 160 septets, GSM 7-bit, 1 part as typed');
    await type('textarea', `${'a'.repeat(155)}ł`);
    expect(text()).toContain('UCS-2, 3 parts');
    expect(text()).toContain('Without ł more would fit');
  });

  it('goes as a text to who can be texted and else by email: both are worded, and what is wrong behind the other words is said', async () => {
    const tooMuch = () => throwError(() => refusal({ problems: [{ code: 'required', path: 'text.body', facts: {} }] }));
    const typedWords = plainDocument(fields.wording.subject, 'Tomorrow!');
    const previewed: CueFields[] = [];
    const previewCue = (_: number, asked: CueFields) => {
      previewed.push(asked);
      return of(preview);
    };
    const { press, text, type, saved, settle } = await open({ previewCue });
    await press('text, else email');
    await press('Words of the text');
    await type('textarea', 'Tomorrow!');
    await pause();
    await settle();
    expect([previewed.at(-1)?.channel, previewed.at(-1)?.wording]).toEqual(['text', typedWords]);
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({
      ...fields,
      audience: { ...fields.audience, exceptTextable: true },
      textWording: typedWords,
      was: fields,
    });
    await press('email');
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...fields, was: fields });
    TestBed.resetTestingModule();
    const refused = await open({ saveCue: tooMuch }, { textWording: plainDocument('', '') });
    await refused.press('Set the cue');
    expect(refused.text()).toContain('Look at the words of the text too.');
    expect(text()).not.toContain('Look at the words');
  });

  it('does something instead of writing: no words, for nobody in particular where it is done once; its words come back', async () => {
    const { press, type, saved, text, element } = await open({
      actChoices: () =>
        of({ lists: [{ id: 3, name: 'Friends' }], fields: [], members: [{ id: 2, name: 'Ana' }], webhooks: [] }),
    });
    await press('a task');
    expect(element.querySelectorAll('cv-wording-editor, cv-cue-preview').length).toBe(0);
    await type('select[aria-label="List"]', '3', 'change');
    expect(element.querySelector('cv-cue-audience')).not.toBeNull();
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...fields, act: { kind: 'join', list: 3 }, was: fields });
    await type('select[aria-label="What it does"]', 'task', 'change');
    expect(element.querySelector('cv-cue-audience')).toBeNull();
    expect(text()).toContain('What is to be done');
    await press('email');
    await press('Set the cue');
    expect(saved.at(-1)?.[2]).toEqual({ ...fields, was: fields });
  });

  it('names a field that does not exist as one types', async () => {
    const { write, text } = await open();
    await write('Dear {{person.fristName}}');
    expect(text()).toContain('person.fristName');
  });

  it('sets it or keeps it as a draft, with what was typed', async () => {
    const { press, type, saved, said } = await open();
    await type('input[matinput]', 'Day before');
    await press('Keep as a draft');
    await press('Set the cue');
    expect(saved).toEqual([
      [1, 7, { ...fields, name: 'Day before', isDraft: true, was: fields }],
      [1, 7, { ...fields, name: 'Day before', isDraft: false, was: fields }],
    ]);
    expect(said.at(-1)).toBe('The cue is set.');
  });

  it('reminds of registration: counted from its close, leaving out whoever said yes', async () => {
    const { press, type, find, settle, saved } = await open();
    await type('select[aria-label="Of what"]', 'deadline', 'change');
    find('[aria-label="Leaving out whoever said yes"]').click();
    await settle();
    await press('Set the cue');
    const [[, , set] = []] = saved;
    expect(set).toEqual({
      ...fields,
      moment: { ...fields.moment, anchor: 'deadline' },
      audience: { ...fields.audience, exceptReplies: ['accepted'] },
      isDraft: false,
      was: fields,
    });
  });

  it('shows what somebody else saved meanwhile beside what is typed, loses neither, and puts them together', async () => {
    const { fixture, press, write, words, settle, text, saved } = await open();
    await write('Words of an hour');
    const theirs = { ...fields, name: 'The day before', wording: said('Theirs.') };
    fixture.componentRef.setInput('fields', theirs);
    await settle();
    expect(words()).toBe('Words of an hour');
    expect(text()).toContain('Somebody saved this cue meanwhile');
    expect(text()).toContain('Both changed: words.');
    await press('Put mine on top of it');
    expect(text()).not.toContain('meanwhile');
    await press('Set the cue');
    expect(saved).toEqual([
      [1, 7, { ...fields, name: 'The day before', wording: said('Words of an hour'), was: theirs }],
    ]);
  });

  it('follows what others save for as long as nothing is typed', async () => {
    const { fixture, words, settle, text } = await open();
    fixture.componentRef.setInput('fields', { ...fields, wording: said('Theirs.') });
    await settle();
    expect(words()).toBe('Theirs.');
    expect(text()).not.toContain('meanwhile');
  });

  it('keeps what was typed when it is refused, and says where', async () => {
    const { press, write, words, find, text } = await open({
      saveCue: () => throwError(() => refusal({ problems: [{ code: 'required', path: 'name', facts: {} }] })),
    });
    await write('Words of an hour');
    await press('Set the cue');
    expect(text()).toContain('Some of this cannot be used.');
    expect(find('cv-field-problem').textContent).toContain('This must be filled in.');
    expect(words()).toBe('Words of an hour');
  });
});

describe('CueMoment', () => {
  it('is a sentence with boxes: counted, at a clock time, or fixed', async () => {
    const moments: Moment[] = [];
    const { fixture, find, type, settle, text } = await openScreen(CueMoment, {
      moment: fields.moment,
      zone: 'Europe/Lisbon',
    });
    fixture.componentInstance.momentChange.subscribe((moment) => {
      moments.push(moment);
      fixture.componentRef.setInput('moment', moment);
    });
    await type('input[type=number]', '1200');
    await type('select[aria-label=Unit]', 'weeks', 'change');
    find('input[type=checkbox]').click();
    await settle();
    expect(moments.at(-1)).toEqual({
      kind: 'relative',
      amount: 1000,
      unit: 'weeks',
      direction: 'before',
      anchor: 'start',
      at: '10:00',
    });
    expect(text()).toContain('Lisbon time');
    await type('select[aria-label="Kind of moment"]', 'fixed', 'change');
    await type('cv-time-field input', '2031-06-17T09:00');
    expect(moments.at(-1)).toEqual({ kind: 'fixed', wall: '2031-06-17T09:00' });
  });
});
