import { signal } from '@angular/core';
import { of, throwError } from 'rxjs';
import type { EventDetail, InvitationPreview, TestedLink, TestRequest } from '@convite/contract';
import { letter, type EventFacts } from '@convite/core';
import { EventsApi } from '../api/events';
import { noWordingSource, openScreen, refusal, shown, someEvent } from '../testing/screen';
import { WordingSource } from '../ui/wording/wording-source';
import { PeopleSearch } from '../ui/people-search';
import { CurrentEvent } from './current-event';
import { EntryOptions } from './entry-options';
import { Invitation } from './invitation';
import { LinkTester } from './link-tester';
import { RawCalendar } from './raw-calendar';

const preview: InvitationPreview = {
  person: { id: 4, name: 'Ana', email: 'ana@people.example', zone: 'America/New_York' },
  message: shown({ subject: 'Invitation: Dome night', html: '<p>Dear Ana</p>', text: 'Dear Ana' }),
  wording: letter('Invitation: {{event.title}}', 'Dear {{person.firstName}}'),
  calendar: 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Dome\r\n  night\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
  sizeOctets: 1234,
  icsUrl: 'https://convite.example/e/x/event.ics',
  when: 'Wed 18 Jun 2031 14:30 to 17:00 New York time',
  whenThere: 'Wed 18 Jun 2031 19:30 to 22:00 Lisbon time, every Wednesday',
  entryText: 'Bring a coat.',
  links: [{ name: 'Web calendar', url: 'https://calendar.example/add?title=Dome', isPersonal: true }],
  blocks: { html: '<a href="x">Add</a>', text: 'Add: x', details: 'Dome night' },
  conformance: [
    { rule: 'line-length', source: 'RFC 5545 §3.1', isKept: true, found: 'longest 75 octets' },
    { rule: 'zones-defined', source: 'RFC 5545 §3.6.5', isKept: false, found: 'Europe/Lisbon' },
  ],
};

describe('Invitation', () => {
  const open = (canMarket = true) => {
    const asked: TestRequest[] = [];
    const source: WordingSource = {
      ...noWordingSource,
      sendTest: (request) => {
        asked.push(request);
        return of({ sent: 1, to: ['me@house.example'], refused: [] });
      },
    };
    const detail = signal<EventDetail>(someEvent());
    const people: (number | null)[] = [];
    const api = {
      previewInvitation: (_: number, personId: number | null) => {
        people.push(personId);
        return of(preview);
      },
    };
    return openScreen(
      Invitation,
      {},
      [
        { provide: CurrentEvent, useValue: { detail, id: () => 1, resource: { reload: () => undefined } } },
        { provide: EventsApi, useValue: api },
        { provide: WordingSource, useValue: source },
        { provide: PeopleSearch, useValue: { find: () => of([]), named: () => of([]) } },
      ],
      canMarket,
    ).then((screen) => ({ ...screen, detail, people, asked }));
  };

  it('shows the entry in the person’s own zone, then the text with its checks, then the links', async () => {
    const { text, press } = await open();
    expect(text()).toContain('As Ana gets it');
    expect(text()).toContain('Wed 18 Jun 2031 14:30 to 17:00 New York timeWed 18 Jun 2031 19:30 to 22:00 Lisbon time');
    expect(text()).toContain('Asks for a reply · reminds 30 minutes before');
    await press('raw and checks');
    expect(text()).toContain('1 of 2 kept');
    expect(text()).toContain('The whole message is 5678 octets');
    await press('links');
    expect(text()).toContain('made for each person');
  });

  it('keeps what is looked at, and typed into the tester, when a reply comes', async () => {
    const { press, type, find, settle, detail, people } = await open();
    await press('links');
    await type('[aria-label="Link to test"]', 'https://calendar.example/add');
    detail.set(someEvent({}, { invited: 41 }));
    await settle();
    expect(find<HTMLTextAreaElement>('[aria-label="Link to test"]').value).toBe('https://calendar.example/add');
    expect(people.length).toBe(1);
    detail.set(someEvent({}, { version: 2 }));
    await settle();
    expect(people.length).toBe(2);
  });

  it('can be tried, with its entry, as whom it is shown', async () => {
    const { press, asked } = await open();
    await press('Send the test');
    expect(asked.map(({ kind, eventId, personId, to }) => [kind, eventId, personId, to])).toEqual([
      ['invitation', 1, 4, []],
    ]);
  });

  it('offers a viewer no sending', async () => {
    const { text } = await open(false);
    expect(text()).not.toContain('Send the test');
  });
});

describe('RawCalendar', () => {
  it('unfolds lines, sets parts inside parts further in, and explains the line pointed at', async () => {
    const { element, text, settle } = await openScreen(RawCalendar, {
      text: preview.calendar,
      octets: 1234,
      messageOctets: 5678,
      checks: preview.conformance,
    });
    const lines = [...element.querySelectorAll<HTMLElement>('ol li')];
    expect(lines.map((line) => line.textContent?.trim())).toContain('SUMMARY:Dome night');
    const indents = lines.map((line) => parseInt(line.style.paddingLeft, 10));
    expect(indents).toEqual([12, 26, 40, 26, 12]);
    lines[2]?.dispatchEvent(new Event('mouseenter'));
    await settle();
    expect(element.querySelector('.explained')?.textContent).not.toContain('Point at a line');
    expect(text()).toContain('Europe/Lisbon');
  });
});

describe('LinkTester', () => {
  const good: TestedLink = { isGood: true, lines: [{ part: 'title', says: 'Dome', should: 'Dome', faults: [] }] };
  const bad: TestedLink = {
    isGood: false,
    lines: [
      { part: 'start', says: '19:30 UTC', should: '18:30 UTC', faults: ['local-as-utc'] },
      { part: 'title', says: '', should: 'Dome', faults: ['missing'] },
    ],
  };
  const tested: [string, number | null][] = [];
  const open = (answer: TestedLink | Error) => {
    tested.length = 0;
    const testLink = (_: number, link: string, personId: number | null) => {
      tested.push([link, personId]);
      return answer instanceof Error ? throwError(() => answer) : of(answer);
    };
    return openScreen(LinkTester, { eventId: 1, preview }, [{ provide: EventsApi, useValue: { testLink } }]);
  };

  it('tests a link picked from the list, as the person that is shown', async () => {
    const { press, text } = await open(good);
    await press('Test');
    expect(tested).toEqual([['https://calendar.example/add?title=Dome', 4]]);
    expect(text()).toContain('It says what the event says.');
  });

  it('names each fault of a pasted one in words, beside what the event says', async () => {
    const { press, type, text, element } = await open(bad);
    await type('textarea', 'https://elsewhere.example/?start=x');
    await press('Test this link');
    expect(text()).toContain('It does not say what the event says.');
    const faults = [...element.querySelectorAll('td div.alarm')].map((cell) => cell.textContent?.trim());
    expect(faults.length).toBe(2);
    expect(faults.some((fault) => fault === 'local-as-utc'))
      .withContext('codes are put into words')
      .toBeFalse();
    expect(text()).toContain('nothing');
  });

  it('says so when it cannot be tested', async () => {
    const { press, type, text } = await open(refusal({ detail: 'This link is too long.' }));
    await type('textarea', 'https://elsewhere.example');
    await press('Test this link');
    expect(text()).toContain('This link is too long.');
  });

  it('has blocks to copy: buttons, text, details and every address', async () => {
    const { element } = await open(good);
    expect([...element.querySelectorAll('mat-panel-title')].map((one) => one.textContent)).toEqual([
      'Buttons, as HTML that mail programs show',
      'The same as plain text',
      'The event’s details as text',
      'Address: Web calendar',
      'Address: calendar file',
    ]);
  });
});

describe('EntryOptions', () => {
  const saved: EventFacts[] = [];
  const open = (answer = of<unknown>(null)) => {
    saved.length = 0;
    const save = (_: number, facts: EventFacts) => {
      saved.push(facts);
      return answer;
    };
    return openScreen(EntryOptions, { event: someEvent() }, [{ provide: EventsApi, useValue: { save } }]);
  };
  it('says what a change means before it is saved, and saves the entry alone', async () => {
    const screen = await open();
    expect(screen.element.querySelector('[matButton="filled"]')).toBeNull();
    await screen.tick('Asks for a reply');
    await screen.tick('Private');
    await screen.tick('1 day');
    await screen.type('[type=number]', '90', 'change');
    expect(screen.text()).toContain(
      'Not saved yet: asks for no reply; reminds 30 minutes and 1 day and 90 minutes before; private',
    );
    await screen.press('Save the entry');
    expect(saved[0]?.title).toBe('Dome night');
    expect(saved[0]?.entry).toEqual(
      jasmine.objectContaining({ asksReply: false, isPrivate: true, alarmsMinutes: [30, 1440, 90] }),
    );
  });

  it('does not save what no calendar would take', async () => {
    const screen = await open();
    await screen.type('[type=url]', 'javascript:alert(1)', 'change');
    expect(screen.find<HTMLButtonElement>('button[disabled]').textContent).toContain('Save the entry');
    await screen.press('Undo');
    await screen.type('textarea', 'Hello {{person.shoeSize}}');
    expect(screen.find<HTMLButtonElement>('button[disabled]').textContent).toContain('Save the entry');
    expect(screen.text()).toContain('person.shoeSize');
  });

  it('puts a merge field where it was pressed, and tells what the server found', async () => {
    const problems = [{ code: 'too-long' as const, path: 'entry.text', facts: { most: 10_000 } }];
    const screen = await open(throwError(() => refusal({ problems })));
    await screen.press('person.firstName');
    expect(screen.find<HTMLTextAreaElement>('textarea').value).toBe('{{person.firstName}}');
    await screen.press('Save the entry');
    expect(screen.text()).toContain('Some of this cannot be used.');
    expect(screen.text()).toContain('10000');
  });
});
