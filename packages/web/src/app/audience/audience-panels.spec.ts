import { of, throwError } from 'rxjs';
import type { MessageRow, PeopleImport, PersonDetail, SentMessage } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { SettingsApi } from '../api/settings';
import { openScreen, refusal } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { PersonPanel } from './person-panel';
import { RecentImports } from './recent-imports';

const lists = [
  { id: 1, name: 'Members', count: 5 },
  { id: 2, name: 'Press', count: 2 },
];

const message: MessageRow = {
  deliveryId: 70,
  kind: 'invitation',
  channel: 'email',
  name: 'Invitation',
  eventTitle: 'Dome night',
  state: 'sent',
  sentAt: '2031-06-17T12:00:00.000Z',
  answer: '',
  isKept: true,
};
const asSent: SentMessage = {
  channel: 'email',
  sentAt: message.sentAt,
  to: 'ana@people.example',
  subject: 'You are invited',
  text: 'Dear Ana',
  html: '<p>Dear Ana</p>',
  calendar: 'BEGIN:VCALENDAR',
};

const doing = { at: '2031-06-17T12:00:00.000Z', eventId: 1, eventTitle: 'Dome night', channel: 'email', message: null };

describe('PersonPanel', () => {
  const person: PersonDetail = {
    id: 7,
    name: 'Ana',
    email: 'ana@x.example',
    mobile: '+447700900007',
    zone: 'Europe/Lisbon',
    language: '',
    textConsent: false,
    phone: '',
    zoneFrom: '',
    emailConsent: true,
    optedOut: false,
    pausedUntil: null,
    mostPerWeek: null,
    mindsNoting: false,
    bounced: true,
    bounceText: '550 5.1.1 nobody',
    lists: [1],
    topics: ['moon'],
    fields: [{ id: 4, name: 'Seat', type: 'text', typed: 'A1' }],
    consents: [{ channel: 'text', isGiven: false, how: 'on the phone', by: 'Marta', at: '2031-06-17T12:00:00.000Z' }],
  };
  const open = async (answer: unknown = of({ leftOut: [] })) => {
    const sent: unknown[][] = [];
    const noted: unknown[][] = [];
    const reset: number[] = [];
    const mailed: number[] = [];
    const api = {
      person: () => of(person),
      heldUrl: (id: number) => `/api/subscribers/${id}/held.json`,
      timeline: () =>
        of({
          rows: [
            { ...doing, key: 'message 70', kind: 'message', text: 'Invitation', message },
            { ...doing, key: 'a', kind: 'answered', text: 'accepted' },
            { ...doing, key: 'b', kind: 'said-no', text: 'on the phone', eventTitle: '' },
          ],
          next: null,
        }),
      coming: () =>
        of({
          rows: [{ ...doing, firingId: 5, dueAt: doing.at, name: 'Two days to go' }],
          lastWeek: 2,
          nextWeek: 1,
          days: [{ day: '2031-06-18', value: 1 }],
          counted: 2,
          most: 3,
          hasMore: false,
        }),
      notes: () => of([{ id: 1, text: 'Prefers the front row', by: 'Marta', at: doing.at }]),
      addNote: (...what: unknown[]) => (noted.push(what), of(null)),
      resetAddress: () => (reset.push(7), of(null)),
      sendOwnLink: () => (mailed.push(7), of(null)),
      message: () => of(asSent),
      editPerson: (...what: unknown[]) => {
        sent.push(what);
        return answer;
      },
    };
    const erased: number[] = [];

    const screen = await openScreen(PersonPanel, { personId: 7, lists }, [
      { provide: AudienceApi, useValue: { ...api, erasePerson: (id: number) => (erased.push(id), of(null)) } },
      { provide: SettingsApi, useValue: { get: () => of({ topics: ['moon', 'camps'] }) } },
      { provide: Confirm, useValue: { ask: () => of(true) } },
    ]);
    let closings = 0;
    screen.fixture.componentInstance.closed.subscribe(() => (closings += 1));
    return { ...screen, sent, noted, reset, mailed, erased, closed: () => closings };
  };

  it('tells everything that was, and is planned, and shows a message as it went out', async () => {
    const { text, press, settle } = await open();
    expect(text()).toContain('Invitation, by email: sent · Dome night');
    expect(text()).toContain('Answered yes · Dome night');
    expect(text()).toContain('Said no to email: “on the phone”');
    expect(text()).toContain('2 messages in the last seven days, 1 message in the next seven.');
    await press('Show it');
    await settle();
    expect(text()).toContain('You are invited');
    await press('plain');
    expect(text()).toContain('Dear Ana');
    await press('calendar');
    expect(text()).toContain('BEGIN:VCALENDAR');
    await press('Close it');
    expect(text()).not.toContain('BEGIN:VCALENDAR');
  });

  it('asks how a person said so only when a consent or a suppression changes, and sends it along', async () => {
    const { text, tick, type, find, sent } = await open();
    expect(text()).toContain('550 5.1.1 nobody');
    expect(text()).toContain('“on the phone”');
    expect(text()).not.toContain('How did they say so?');
    await tick('by text');
    await tick('write to it again');
    await tick('Press');
    expect(text()).toContain('How did they say so?');
    await type('input[placeholder^="on the phone"]', 'at the door');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    expect(sent[0]).toEqual([
      7,
      jasmine.objectContaining({ textConsent: true, liftBounce: true, lists: [1, 2], how: 'at the door', name: 'Ana' }),
    ]);
  });

  it('says what somebody does not get any more, once they are off a list', async () => {
    const { tick, find, said, settle } = await open(
      of({ leftOut: [{ name: 'Two days to go', eventTitle: 'Dome night' }] }),
    );
    await tick('Members');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    expect(said).toEqual(['Saved. They do not get any more: Two days to go · Dome night.']);
  });

  it('changes topics and fields with the rest, keeps notes, and has their links sent or replaced', async () => {
    const { tick, type, find, sent, noted, mailed, reset, press, text } = await open();
    await tick('camps');
    await type('fieldset input[maxlength="1000"]', 'B2');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    expect(sent[0]).toEqual([7, jasmine.objectContaining({ topics: ['moon', 'camps'], fields: { 4: 'B2' } })]);
    expect(text()).toContain('Prefers the front row');
    await type('cv-person-notes textarea', ' Has a dog ');
    await press('Note it');
    await press('Send link');
    await press('Replace links');
    expect([noted, mailed, reset]).toEqual([[[7, 'Has a dog']], [7], [7]]);
  });

  it('erases for good once it is asked whether that is wanted, and offers before what is held', async () => {
    const { press, erased, said, find, closed } = await open();
    expect(find<HTMLAnchorElement>('a[download]').getAttribute('href')).toBe('/api/subscribers/7/held.json');
    await press('Erase …');
    expect([erased, said, closed()]).toEqual([[7], ['Erased. Nothing of them is left but the counts.'], 1]);
  });

  it('says beside its field what cannot be used, and keeps what was typed', async () => {
    const problems = [{ code: 'bad-address', path: 'email', facts: { text: 'ana@' } }];
    const { type, find, settle, text } = await open(throwError(() => refusal({ status: 422, problems })));
    await type('form input', 'Ana Lopes');
    find<HTMLFormElement>('form').dispatchEvent(new Event('submit', { cancelable: true }));
    await settle();
    expect(text()).toContain('“ana@” is not an email address.');
    expect(find<HTMLInputElement>('form input').value).toBe('Ana Lopes');
  });
});

describe('RecentImports', () => {
  const row: PeopleImport = {
    id: 3,
    name: 'members.csv',
    listId: 1,
    listName: 'Members',
    by: 'Marta',
    state: 'running',
    startedAt: '2031-06-17T12:00:00.000Z',
    total: 40_000,
    position: 12_000,
    counts: { new: 30_000, changed: 9000, same: 1000, spelled: 0, refused: 2, twice: 1 },
    optedOut: 0,
    bounced: 0,
    landlines: 0,
    guessedZones: 0,
    withoutConsent: 0,
    joined: 11_000,
    undoUntil: null,
  };
  for (const [state, offered] of [
    ['running', ['Stop']],
    ['stopped', ['Go on', 'Undo']],
    ['done', ['Undo']],
    ['undone', []],
  ] as const)
    it(`offers for an import that is ${state}: ${offered.join(', ') || 'nothing'}`, async () => {
      const changes: unknown[][] = [];
      const api = {
        imports: () =>
          of([
            { ...row, state, undoUntil: state === 'stopped' || state === 'done' ? '2031-07-17T12:00:00.000Z' : null },
          ]),
        changeImport: (...what: unknown[]) => (changes.push(what), of(null)),
      };
      const { element, text } = await openScreen(RecentImports, {}, [{ provide: AudienceApi, useValue: api }]);
      const buttons = [...element.querySelectorAll('button')];
      expect(buttons.map((one) => one.textContent?.trim())).toEqual([...offered]);
      if (state === 'running') expect(text()).toContain('12,000 of 40,000');
      buttons[0]?.click();
      expect(changes.length).toBe(offered.length ? 1 : 0);
    });
});
