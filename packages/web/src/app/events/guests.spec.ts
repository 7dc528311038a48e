import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { of, throwError } from 'rxjs';
import type { EventDetail, Guest, GuestPage, OwnRequest, Proposal, SetAsideReply, WaitingRow } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { EventsApi } from '../api/events';
import { datesOf, openScreen, refusal, rest, someEvent } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { SharedClock } from '../ui/shared-clock';
import { CurrentEvent } from './current-event';
import { Guests } from './guests';
import { OwnTimes } from './own-times';
import { Proposals } from './proposals';

const ana: Guest = {
  person: { id: 4, name: 'Ana', email: 'ana@people.example', mobile: '+351910000004' },
  channel: 'email',
  reply: 'accepted',
  repliedAt: '2031-06-01T09:00:00.000Z',
  comment: 'with a friend',
  delegatedTo: 'rui@people.example',
  invitedAt: '2031-05-01T09:00:00.000Z',
  holdsVersion: 1,
  attended: null,
  own: null,
  isByDate: false,
  place: null,
};
const page: GuestPage = {
  rows: [ana],
  next: '4',
  version: 2,
  taken: null,
  counts: { accepted: 1, tentative: 0, declined: 2, 'needs-action': 3 },
};
const aside: SetAsideReply = {
  id: 9,
  from: 'other@people.example',
  attendee: 'ana@people.example',
  state: 'declined',
  reason: 'from-somebody-else',
  receivedAt: '2031-06-02T09:00:00.000Z',
};
const waits: WaitingRow[] = [
  { id: 5, person: { ...ana.person, id: 6, name: 'Eva' }, occurrence: '', since: aside.receivedAt, keptUntil: null },
];
const weekly = someEvent({
  series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] },
});
const proposal: Proposal = {
  id: 3,
  person: ana.person,
  occurrence: '',
  startAt: '2031-06-19T19:00:00.000Z',
  endAt: '2031-06-19T21:00:00.000Z',
  comment: 'Thursday suits me',
  at: '2031-06-02T09:00:00.000Z',
};

describe('Guests', () => {
  const open = (event: EventDetail, over: Partial<GuestPage> = {}, nowAt = '2031-06-18T18:00:00.000Z') => {
    const asked: unknown[][] = [];
    const marked: unknown[] = [];
    const acts: unknown[] = [];
    const api = {
      guests: (...what: unknown[]) => {
        asked.push(what);
        return of({ ...page, ...over });
      },
      dates: () => of(datesOf(event)),
      setAside: () => of([aside]),
      waitlist: () => of({ rows: waits, next: null }),
      givePlace: (...what: unknown[]) => {
        acts.push(what);
        return of(null);
      },
      proposals: () => of([]),
      markAttendance: (_: number, mark: unknown) => {
        marked.push(mark);
        return of(null);
      },
      removeGuests: (...what: unknown[]) => {
        acts.push(what);
        return of({ id: 8, removed: 1, told: 1 });
      },
      putGuestsBack: (...what: unknown[]) => {
        acts.push(what);
        return of(null);
      },
      prepareReminder: (...what: unknown[]) => {
        acts.push(what);
        return of({ cueId: 12 });
      },
    };
    return openScreen(Guests, {}, [
      { provide: CurrentEvent, useValue: { detail: signal(event), id: () => 1, topic: () => 'event:1' } },
      { provide: EventsApi, useValue: api },
      { provide: SharedClock, useValue: { nowMs: () => Date.parse(nowAt) } },
      { provide: Confirm, useValue: { ask: () => of(true) } },
    ]).then((screen) => ({ ...screen, asked, marked, acts }));
  };

  it('says who answered what, who holds an old version, and why a reply does not count', async () => {
    const { text, element } = await open(someEvent());
    expect(text()).toContain('1 yes · 0 perhaps · 2 no · 3 no answer yet');
    expect(text()).toContain('“with a friend”, passed on to rui@people.example');
    expect(element.querySelector('td .alarm')?.textContent).toMatch(/1\s+of 2/);
    expect(text()).toContain('sent from another address than the one invited');
  });

  it('shows who waits for a place, whom a member may give one, where people register', async () => {
    const registration = { places: 1, closesMinutes: 60, confirms: true, waitlist: true };
    const { text, press, acts } = await open(someEvent({ registration }), {
      rows: [{ ...ana, place: 'online' }],
      taken: 0,
    });
    expect(text()).toContain('yes, online');
    expect(text()).toContain('0 of 1 places taken');
    expect(text()).toContain('Eva');
    await press('Give a place …');
    expect(acts).toEqual([[1, { personId: 6, occurrence: '' }]]);
  });

  it('shows no waitlist where nobody registers', async () =>
    expect((await open(someEvent())).text()).not.toContain('Waitlist'));

  it('reads on from the last one shown, and starts over when one searches', async () => {
    const { press, type, asked, settle } = await open(someEvent());
    await press('More');
    await type('input[type=search]', 'rui');
    await rest(settle);
    expect(asked).toEqual([
      [1, { search: '', occurrence: '', filter: 'all', sort: 'joined', after: '' }],
      [1, { search: '', occurrence: '', filter: 'all', sort: 'joined', after: '4' }],
      [1, { search: 'rui', occurrence: '', filter: 'all', sort: 'joined', after: '' }],
    ]);
  });

  it('is narrowed by an answer or the version held, shown as a chip that takes itself off', async () => {
    const { press, asked, settle, element } = await open(someEvent());
    await press('Filter');
    [...document.querySelectorAll<HTMLElement>('[role=menuitem]')]
      .find((one) => one.textContent?.includes('older version'))
      ?.click();
    await rest(settle);
    expect(asked.at(-1)).toEqual([
      1,
      { search: '', occurrence: '', filter: 'older-version', sort: 'joined', after: '' },
    ]);
    element.querySelector<HTMLElement>('[matChipRemove]')?.click();
    await rest(settle);
    expect(asked.at(-1)).toEqual([1, { search: '', occurrence: '', filter: 'all', sort: 'joined', after: '' }]);
  });

  it('marks who came from an hour before the start, and takes the mark back at a second press', async () => {
    const before = await open(someEvent(), {}, '2031-06-18T17:29:00.000Z');
    expect(before.text()).not.toContain('Came');
    TestBed.resetTestingModule();
    const { press, marked } = await open(someEvent(), { rows: [{ ...ana, attended: true }] });
    await press('no');
    await press('yes');
    expect(marked).toEqual([
      { personId: 4, occurrence: '', attended: false },
      { personId: 4, occurrence: '', attended: null },
    ]);
  });

  it('shows a series as a whole or one date, and marks who came on that date alone', async () => {
    const { find, settle, asked, text, press, marked } = await open(weekly);
    expect(text()).not.toContain('Came');
    const dates = find<HTMLSelectElement>('select');
    expect(dates.options.length).toBe(datesOf(weekly).length + 1);
    dates.value = '20310618T193000';
    dates.dispatchEvent(new Event('change'));
    await rest(settle);
    expect(asked.at(-1)).toEqual([
      1,
      { search: '', occurrence: '20310618T193000', filter: 'all', sort: 'joined', after: '' },
    ]);
    await press('yes');
    expect(marked).toEqual([{ personId: 4, occurrence: '20310618T193000', attended: true }]);
  });

  it('says who comes by date, and how many places of a date are taken', async () => {
    const limited = someEvent({ ...weekly.facts, registration: { places: 40, closesMinutes: 0, confirms: true } });
    const { find, settle, text } = await open(limited, { rows: [{ ...ana, isByDate: true }] });
    expect(text()).toContain('by date');
    expect(text()).not.toContain('places taken');
    const dates = find<HTMLSelectElement>('select');
    dates.value = '20310618T193000';
    dates.dispatchEvent(new Event('change'));
    await rest(settle);
    expect(text()).toContain('1 of 40 places taken');
    expect(text()).not.toContain('by date');
  });

  it('says the own time of each where everybody has theirs, or that there is none yet', async () => {
    const own = { start: '2031-06-18T21:15', end: '', place: 'West eyepiece', notes: '' };
    const rows = [
      { ...ana, own },
      { ...ana, person: { ...ana.person, id: 5 } },
      { ...ana, person: { ...ana.person, id: 6 }, own: { ...own, start: '' } },
    ];
    const { element } = await open(someEvent({ isPersonal: true }), { rows });
    const cells = [...element.querySelectorAll('tbody tr')].map((row) => row.textContent?.replace(/\s+/g, ' '));
    expect(cells[0]).toContain('Wed 18 Jun 2031 21:15 Lisbon West eyepiece');
    expect(cells[1]).toContain('none yet');
    expect(cells[2]).toContain('as the event West eyepiece');
  });

  it('removes who is picked after asking, and puts them back when that is undone', async () => {
    const { find, press, acts, said, settle, undo, text, asked } = await open(someEvent());
    find('tr[data-row] mat-checkbox input').click();
    await settle();
    expect(text()).toContain('1 picked');
    await press('Remove');
    expect(acts).toEqual([[1, { kind: 'some', ids: [ana.person.id] }]]);
    expect(said.at(-1)).toBe('1 removed. One is told in a moment.');
    expect(text()).not.toContain('1 picked');
    const before = asked.length;
    undo();
    await settle();
    expect(acts.at(-1)).toEqual([1, 8]);
    expect(said.at(-1)).toBe('They are back, as they were.');
    expect(asked.length).toBeGreaterThan(before);
  });

  it('is put in order by its heads, and taken as a file as it is shown', async () => {
    const { element, settle, asked, press } = await open(someEvent());
    const head = [...element.querySelectorAll<HTMLElement>('th')].find((one) => one.textContent?.includes('Answered'));
    head?.click();
    await rest(settle);
    expect(asked.at(-1)).toEqual([1, { search: '', occurrence: '', filter: 'all', sort: 'answered', after: '' }]);
    await press('Take as a file');
    const links = [...document.querySelectorAll<HTMLAnchorElement>('a[mat-menu-item]')].map((link) =>
      link.getAttribute('href'),
    );
    expect(links).toEqual([
      '/api/events/1/guests.csv?search=&occurrence=&filter=all&sort=answered',
      '/api/events/1/guests.xlsx?search=&occurrence=&filter=all&sort=answered',
    ]);
  });

  it('says what to do when there is nobody', async () => {
    const { text, type, settle } = await open(someEvent({}, { status: 'draft' }), { rows: [], next: null });
    expect(text()).toContain('Publish and invite');
    expect(text()).toContain('Nobody is invited yet.');
    expect(text()).not.toContain('Invite people');
    await type('input[type=search]', 'zz');
    await rest(settle);
    expect(text()).toContain('Nobody of that name is invited.');
  });
});

describe('Proposals', () => {
  const open = (event = someEvent(), canMarket = true) => {
    const answers: unknown[] = [];
    const api = {
      proposals: () => of([proposal]),
      answerProposal: (_: number, id: number, answer: unknown) => {
        answers.push([id, answer]);
        return of(null);
      },
    };
    return openScreen(Proposals, { event }, [{ provide: EventsApi, useValue: api }], canMarket).then((screen) => ({
      ...screen,
      answers,
    }));
  };

  it('says both times in the zone of the event, and declines based on the version shown', async () => {
    const { text, press, answers, said } = await open();
    expect(text()).toContain('Ana would come at Thu 19 Jun 2031 20:00');
    expect(text()).toContain('instead of Wed 18 Jun 2031 19:30');
    await press('Decline');
    expect(answers).toEqual([[3, { accept: false, comment: '', basedOn: 1 }]]);
    expect(said).toEqual(['Their calendar is told that it stays as planned.']);
  });

  it('asks before the time moves for everybody', async () => {
    const { press, answers } = await open();
    await press('Move to it');
    expect(answers).toEqual([]);
    const dialog = document.querySelector('mat-dialog-container');
    expect(dialog?.textContent).toContain('The time moves for everybody, as a new version.');
    [...(dialog?.querySelectorAll('button') ?? [])].find((one) => one.textContent?.includes('Move it'))?.click();
    await new Promise((done) => setTimeout(done, 400));
    expect(answers).toEqual([[3, { accept: true, comment: '', basedOn: 1 }]]);
  });

  it('lets a viewer see and not answer', async () => {
    const { text } = await open(someEvent(), false);
    expect(text()).toContain('Thursday suits me');
    expect(text()).not.toContain('Decline');
  });
});

describe('OwnTimes', () => {
  const open = (give: (request: OwnRequest) => ReturnType<EventsApi['giveOwn']>, fields = ['eyepiece', 'hour']) =>
    openScreen(OwnTimes, { eventId: 1, zone: 'Europe/Lisbon' }, [
      { provide: EventsApi, useValue: { giveOwn: (_: number, request: OwnRequest) => give(request) } },
      {
        provide: AudienceApi,
        useValue: {
          lists: () => of([{ id: 7, name: 'Members', count: 3 }]),
          fields: () => of(fields.map((name, index) => ({ id: index + 1, name, type: 'text' }))),
        },
      },
    ]);

  it('says how many were given, and which rows were not, by line and in words', async () => {
    const { type, press, text } = await open(() =>
      of({ saved: 2, guests: 1, problems: [{ code: 'bad-address', path: 'line 3', facts: { text: 'soon' } }] }),
    );
    await type('textarea', 'email,start\na@x.example,2031-06-18 21:00');
    await press('Give these');
    expect(text()).toContain('2 people have their own time; 1 new guest.');
    expect(text()).toMatch(/line 3: .*soon/);
  });

  it('keeps what was pasted when it is refused', async () => {
    const { type, press, text, find } = await open(() =>
      throwError(() => refusal({ detail: 'There is no column of addresses.' })),
    );
    await type('textarea', 'name\nAna');
    await press('Give these');
    expect(text()).toContain('There is no column of addresses.');
    expect(find<HTMLTextAreaElement>('textarea').value).toBe('name\nAna');
  });

  it('gives one person a time by hand', async () => {
    const requests: OwnRequest[] = [];
    const { type, press } = await open((request) => {
      requests.push(request);
      return of({ saved: 1, guests: 1, problems: [] });
    });
    await type('input[name=email]', 'ana@people.example');
    await type('input[name=start]', '2031-06-18T20:00');
    await press('Save');
    expect(requests).toEqual([
      {
        kind: 'rows',
        rows: [
          {
            email: 'ana@people.example',
            start: '2031-06-18T20:00',
            end: '',
            place: '',
            name: '',
            mobile: '',
            notes: '',
          },
        ],
      },
    ]);
  });

  it('takes columns of the lists that were chosen', async () => {
    const requests: OwnRequest[] = [];
    const { find, settle, element } = await open((request) => {
      requests.push(request);
      return of({ saved: 3, guests: 0, problems: [] });
    });
    find('fieldset input').click();
    const start = find<HTMLSelectElement>('select[aria-label=start]');
    start.value = 'hour';
    start.dispatchEvent(new Event('change'));
    await settle();
    [...element.querySelectorAll('button')]
      .filter((one) => one.textContent?.includes('Give these'))
      .at(-1)
      ?.click();
    await settle();
    expect(requests).toEqual([{ kind: 'fields', lists: [7], start: 'hour', end: '', place: '', notes: '' }]);
  });
});
