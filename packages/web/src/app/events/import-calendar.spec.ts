import { Observable, of, throwError } from 'rxjs';
import type { FoundCalendar, ImportedCalendar, WatchFields, WatchRow } from '@convite/contract';
import { CalendarsApi } from '../api/calendars';
import { EventsApi } from '../api/events';
import { choose, openScreen, refusal, someFacts } from '../testing/screen';
import { ImportCalendar } from './import-calendar';
import { WatchedCalendars } from './watched-calendars';

const found: FoundCalendar = {
  name: 'The club',
  total: 2,
  problems: [{ code: 'bad-rule', path: 'line 21', facts: { text: 'FREQ=SOMETIMES' } }],
  events: ['one', 'two'].map((uid, index) => ({
    uid,
    line: 3 + index * 9,
    facts: { ...someFacts, title: `Night ${uid}` },
    when: 'Wed 18 Jun 2031',
    repeats: '',
    calledOff: index === 1,
    attendees: 4,
    knownAs: null,
  })),
};
const watch: WatchRow = {
  id: 5,
  name: 'Partner',
  url: 'https://partner.example/all.ics',
  search: '',
  everyMinutes: 60,
  takesPeople: false,
  textConsent: false,
  cuesOfEvent: null,
  publish: false,
  isOn: true,
  lookedAt: null,
  nextAt: '2031-06-10T12:00:00.000Z',
  outcome: '',
  isFailing: false,
};

const taken: ImportedCalendar = { added: 1, changed: 0, same: 0, gone: 0, guests: 4, problems: [] };

describe('ImportCalendar', () => {
  const asked: unknown[] = [];
  const open = (read = of(found), imported: Observable<ImportedCalendar> = of(taken)) => {
    asked.length = 0;
    const api = {
      read: () => read,
      import: (file: Blob, choice: object) => {
        asked.push({ octets: file.size, ...choice });
        return imported;
      },
      watches: () => of([]),
    };
    return openScreen(ImportCalendar, {}, [
      { provide: CalendarsApi, useValue: api },
      { provide: EventsApi, useValue: { withCues: () => of([]) } },
    ]);
  };

  it('shows what is in a calendar, by line, before anything is taken; takes what is chosen', async () => {
    const { press, type, text, find, settle } = await open();
    await type('[aria-label="Calendar text"]', 'BEGIN:VCALENDAR');
    await press('See what is in it');
    expect(text()).toContain('2 events in “The club”');
    expect(text()).toContain('1 thing not understood');
    expect(text()).toMatch(/line 21: .*FREQ=SOMETIMES/);
    expect(asked).toEqual([]);
    find('[aria-label="Night two"]').click();
    await settle();
    await press('Import 1 event');
    expect(asked).toEqual([{ octets: 15, leaveOut: [12], takeGuests: true, publish: false }]);
    expect(text()).toContain('1 new, 0 changed, 0 as before; 4 guests.');
  });

  it('takes all but what is left out, also those beyond the ones shown', async () => {
    const { press, type } = await open(of({ ...found, total: 900 }));
    await type('[aria-label="Calendar text"]', 'x');
    await press('See what is in it');
    await press('Import 900 events');
    expect(asked).toEqual([jasmine.objectContaining({ leaveOut: [] })]);
  });

  it('can be stopped while it takes events over, and tried again', async () => {
    let isStopped = false;
    const { press, type, text } = await open(
      of(found),
      new Observable(() => () => {
        isStopped = true;
      }),
    );
    await type('[aria-label="Calendar text"]', 'x');
    await press('See what is in it');
    await press('Import 2 events');
    expect(text()).toContain('Taking them over, all or none');
    await press('Stop');
    expect(isStopped).toBeTrue();
    expect(text()).not.toContain('Taking them over');
    await press('Import 2 events');
    expect(asked.length).toBe(2);
  });

  it('says where a calendar cannot be read, and keeps the text', async () => {
    const problems = [{ code: 'calendar-bad-line' as const, path: 'line 7', facts: { text: 'nonsense' } }];
    const { press, type, text, find } = await open(throwError(() => refusal({ problems })));
    await type('[aria-label="Calendar text"]', 'nonsense');
    await press('See what is in it');
    expect(text()).toContain('Some of this cannot be used.');
    expect(text()).toMatch(/line 7: .*nonsense/);
    expect(find<HTMLTextAreaElement>('textarea').value).toBe('nonsense');
  });

  it('refuses a file that is not UTF-8, and one that is too large, without sending it', async () => {
    const { find, text, settle } = await open(throwError(() => new Error('never asked')));
    const give = async (file: File): Promise<void> => {
      const files = new DataTransfer();
      files.items.add(file);
      find('[type=file]').files = files.files;
      find('[type=file]').dispatchEvent(new Event('change'));
      await new Promise((resolve) => setTimeout(resolve, 50));
      await settle();
    };
    await give(new File([new Uint8Array([0x42, 0xe9, 0xff])], 'latin.ics'));
    expect(text()).toContain('not in UTF-8');
    await give(new File([new Uint8Array(13_000_000)], 'huge.ics'));
    expect(text()).toContain('13 MB; up to 10 can be read');
  });
});

describe('WatchedCalendars', () => {
  const saved: [number | null, WatchFields][] = [];
  const open = (rows: readonly WatchRow[], answer = of<unknown>(null)) => {
    saved.length = 0;
    const api = {
      watches: () => of(rows),
      saveWatch: (id: number | null, fields: WatchFields) => {
        saved.push([id, fields]);
        return answer;
      },
      removeWatch: () => of(null),
    };
    return openScreen(WatchedCalendars, {}, [
      { provide: CalendarsApi, useValue: api },
      { provide: EventsApi, useValue: { withCues: () => of([{ id: 8, title: 'Pattern night' }]) } },
    ]);
  };

  it('says what each takes and what was found', async () => {
    const { text } = await open([
      watch,
      { ...watch, id: 6, name: 'Old', search: 'dome', isOn: false, outcome: 'There is no such host.', isFailing: true },
    ]);
    expect(text()).toContain('everything, every 60 minutes');
    expect(text()).toContain('what says “dome”, every 60 minutes, off');
    expect(text()).toContain('There is no such host.');
    expect(text()).toContain('not yet');
  });

  it('watches a new address with the cues of another event, asking for consent only when people are taken', async () => {
    const { press, element, text, settle, said } = await open([]);
    await press('Watch an address');
    const fields = [...element.querySelectorAll<HTMLInputElement>('form input')];
    const fill = (index: number, value: string): void => {
      const field = fields[index];
      if (!field) throw new Error(`no field ${index}`);
      field.value = value;
      field.dispatchEvent(new Event('input'));
    };
    fill(0, 'Bookings');
    fill(1, 'webcal://bookings.example/all.ics');
    fill(2, 'dome');
    await choose('input[aria-label="Event whose cues they take over"]', 'pattern', 'Pattern night', {
      element,
      settle,
    });
    expect(text()).not.toContain('agreed to texts');
    [...element.querySelectorAll('label')]
      .find((label) => label.textContent?.includes('People become guests'))
      ?.click();
    await settle();
    expect(text()).toContain('agreed to texts');
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await settle();
    expect(saved[0]?.[0]).toBeNull();
    expect(saved[0]?.[1]).toEqual(
      jasmine.objectContaining({
        name: 'Bookings',
        url: 'webcal://bookings.example/all.ics',
        search: 'dome',
        cuesOfEvent: 8,
        takesPeople: true,
        textConsent: false,
      }),
    );
    expect(said).toEqual(['It is looked at within moments.']);
  });

  it('keeps the form when the server refuses', async () => {
    const { press, element, text, settle } = await open(
      [watch],
      throwError(() => refusal({ detail: 'This is no address.' })),
    );
    await press('Change');
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await settle();
    expect(saved[0]?.[0]).toBe(5);
    expect(text()).toContain('This is no address.');
    expect(element.querySelector('form')).not.toBeNull();
  });
});
