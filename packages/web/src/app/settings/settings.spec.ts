import { EMPTY, of, throwError } from 'rxjs';
import { plainLook, type Settings, type SettingsChange } from '@convite/contract';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { WebhooksApi } from '../api/webhooks';
import { openScreen, refusal } from '../testing/screen';
import { samplePattern } from './sample-pattern';
import { SettingsPage } from './settings';

const settings: Settings = {
  organisation: 'Serra da Bruma',
  postalAddress: 'Hill 1',
  zone: 'Europe/Lisbon',
  region: 'PT',
  sender: { name: 'Serra', email: 'house@serra.example', replyTo: '' },
  lettersTo: '',
  textSender: 'Serra',
  pace: {
    email: { perSecond: null, perHour: null, perDay: null },
    text: { perSecond: null, perHour: null, perDay: null },
  },
  webCalendars: [{ name: 'Web calendar', pattern: 'https://calendar.example/add{?title,start,end}' }],
  keepMonths: null,
  topics: ['stars', 'open days'],
  allowPrivateAddresses: false,
  dayOrder: 'day-first',
  clock: '24',
  language: 'en',
  page: { colour: '#4a2545', mapPattern: '' },
  look: plainLook,
  firstWeekday: 1,
  requiresSecondFactor: false,
  pressure: { perWeek: 3, sparesComers: true },
  countsLinks: 'not',
  asksRelease: false,
  standby: { minutes: 10, email: '', mobile: '' },
  askAbove: 100,
  workdays: [1, 2, 3, 4, 5],
  holidays: [],
  countsOpens: false,
  notesPages: false,
  avoidWords: ['last chance'],
  textPrice: null,
  quiet: { from: '22:00', until: '08:00', channels: ['text'] },
};

describe('SettingsPage', () => {
  const open = async (
    isOwner = true,
    save?: () => ReturnType<SettingsApi['save']>,
    over: Partial<Record<keyof SettingsApi, unknown>> = {},
    section = 'house',
  ) => {
    const saved: SettingsChange[] = [];
    const api = {
      get: () => of(settings),
      picture: () => of({ url: '' }),
      about: () => of({ zoneData: '2026b', zones: 597 }),
      team: () =>
        of([
          {
            id: 1,
            name: 'Marta',
            email: 'marta@serra.example',
            role: 'owner',
            isInvited: false,
            hasSecondFactor: true,
          },
        ]),
      keys: () => of([]),
      audit: () => of({ rows: [], next: null }),
      save: (value: Settings) => {
        saved.push(value);
        return save?.() ?? of(null);
      },
      ...over,
    };
    const session = {
      load: () => EMPTY,
      isOwner: () => isOwner,
      canMarket: () => isOwner,
      me: () => null,
      zone: () => 'UTC',
    };
    const screen = await openScreen(SettingsPage, { section }, [
      { provide: SettingsApi, useValue: api },
      { provide: WebhooksApi, useValue: { all: () => of([]) } },
      { provide: Session, useValue: session },
      { provide: EventsApi, useValue: { list: () => of({ rows: [], next: null }) } },
    ]);
    const go = async (to: string): Promise<void> => {
      screen.fixture.componentRef.setInput('section', to);
      await screen.settle();
    };
    return { ...screen, saved, go };
  };

  it('gives back what was saved, changed only where it was typed', async () => {
    const { type, press, saved, said, text, go } = await open();
    await type('input[formcontrolname=region]', 'gb');
    await type('input[formcontrolname=topics]', 'stars,, open days , moon');
    await press('Save the settings');
    expect(saved).toEqual([{ ...settings, region: 'GB', topics: ['stars', 'open days', 'moon'], was: settings }]);
    expect(said).toEqual(['The settings are saved.']);
    await go('calendars');
    expect(text()).toContain('Time zones by the tz database 2026b, 597 zones.');
  });

  it('checks a pattern as it is typed, and shows the link it makes', async () => {
    const { type, text } = await open(true, undefined, {}, 'calendars');
    await type('input[formcontrolname=pattern]', 'https://calendar.example/add{?title,begin}');
    expect(text()).toContain('There is no variable “begin”.');
    await type('input[formcontrolname=pattern]', 'https://calendar.example/add{?title');
    expect(text()).toContain('The pattern cannot be read');
    await type('input[formcontrolname=pattern]', 'https://calendar.example/add{?title,startLocal}');
    expect(text()).toContain('The pattern says no start with its zone');
    await type('input[formcontrolname=pattern]', 'https://calendar.example/add{?title,start}');
    expect(text()).toContain(
      'Sample: https://calendar.example/add?title=Moon%20%26%20stars%20%231&start=20270618T183000Z',
    );
  });

  it('adds and removes web calendars, and keeps all that was typed when it is refused', async () => {
    const { press, saved, element, text } = await open(
      true,
      () =>
        throwError(() =>
          refusal({ problems: [{ code: 'bad-pattern', path: 'webCalendars.1.pattern', facts: { at: 1, text: '' } }] }),
        ),
      {},
      'calendars',
    );
    await press('Add a web calendar');
    await press('Save the settings');
    expect(saved[0]?.webCalendars.length).toBe(2);
    expect(text()).toContain('The pattern cannot be read at character 1');
    expect(element.querySelectorAll('.pattern input').length).toBe(2);
    await press('Remove');
    await press('Save the settings');
    expect(saved[1]?.webCalendars).toEqual([{ name: '', pattern: '' }]);
  });

  it('shows the rest when a part of it cannot be read, and reads that part again', async () => {
    let isAway = true;
    const keys = () => (isAway ? throwError(() => refusal({ status: 503 })) : of([]));
    const { text, press, go } = await open(true, undefined, { keys }, 'team');
    expect(text()).toContain('marta@serra.example');
    await go('programs');
    expect(text()).toContain('The keys cannot be read just now.');
    expect(text()).not.toContain('None. A booking desk');
    isAway = false;
    await press('Try again');
    expect(text()).not.toContain('cannot be read just now');
    expect(text()).toContain('None. A booking desk');
  });

  it('keeps what is typed in one section while another is looked at, and after a reload of the page', async () => {
    const { type, go, find, text } = await open();
    await type('input[formcontrolname=organisation]', 'Half typed');
    await go('team');
    await go('house');
    expect(find('input[formcontrolname=organisation]').value).toBe('Half typed');
    const kept = JSON.stringify(Object.entries(sessionStorage));
    expect(kept).toContain('Half typed');
    expect(text()).toContain('Undo');
  });

  it('is for reading where one is not an owner', async () => {
    const { text, find } = await open(false);
    expect(text()).toContain('An owner may change these.');
    expect(text()).not.toContain('Save the settings');
    expect(find('input[formcontrolname=organisation]').disabled).toBeTrue();
  });
});

describe('samplePattern', () => {
  it('puts each variable in its own form', () => {
    const { link, problems } = samplePattern('https://c.example/{?startIso,startLocal,zone,duration,uid,name}');
    expect(problems).toEqual([]);
    expect(new URL(link).searchParams.get('startIso')).toBe('2027-06-18T19:30:00+01:00');
    expect(new URL(link).searchParams.get('startLocal')).toBe('20270618T193000');
    expect(new URL(link).searchParams.get('zone')).toBe('Europe/Lisbon');
    expect(new URL(link).searchParams.get('uid')).toBe('sample@convite.example');
  });
});
