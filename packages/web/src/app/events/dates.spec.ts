import { of, throwError } from 'rxjs';
import type { ChangeDate } from '@convite/contract';
import { EventsApi } from '../api/events';
import { datesOf, openScreen, refusal, someEvent } from '../testing/screen';
import { Dates } from './dates';
import { ScopeChoice } from './scope-choice';

const weekly = someEvent({
  series: {
    rule: 'FREQ=WEEKLY;BYDAY=WE',
    added: [],
    exceptions: [
      {
        at: '2031-06-25T19:30',
        calledOff: true,
        span: null,
        title: null,
        description: null,
        venue: null,
        joinLink: null,
      },
      {
        at: '2031-07-02T19:30',
        calledOff: false,
        span: null,
        title: null,
        description: null,
        venue: 'Hill',
        joinLink: null,
      },
    ],
  },
});
const inputs = { event: weekly, dates: datesOf(weekly), nowMs: Date.UTC(2031, 5, 20) };

describe('Dates', () => {
  const open = (answer = of<unknown>(null), canMarket = true) => {
    const asked: [ChangeDate, number][] = [];
    const changeDate = (_: number, change: ChangeDate, basedOn: number) => {
      asked.push([change, basedOn]);
      return answer;
    };
    return openScreen(Dates, inputs, [{ provide: EventsApi, useValue: { changeDate } }], canMarket).then((screen) => ({
      ...screen,
      asked,
      rows: [...screen.element.querySelectorAll('li')].map((row) => row.textContent?.replace(/\s+/g, ' ').trim() ?? ''),
    }));
  };

  it('says what is over, called off or changed, and offers what each can become', async () => {
    const { rows } = await open();
    expect(rows[0]).toBe('Wed 18 Jun 2031 19:30 to 22:00 Lisbon time0 yes, 0 no');
    expect(rows[1]).toMatch(/Wed 25 Jun.*called off.*Put back$/);
    expect(rows[2]).toMatch(/Wed 2 Jul.*changed.*EditCall offPut back$/);
    expect(rows[3]).toMatch(/Wed 9 Jul.*EditCall off$/);
  });

  it('calls a date off and adds one, based on the version that is shown, and says what to do next', async () => {
    const { press, asked, said, type } = await open();
    await press('Call off');
    await type('cv-time-field input', '2031-06-27T19:30');
    await press('Add this date');
    expect(asked).toEqual([
      [{ kind: 'call-off', key: '20310702T193000' }, 1],
      [{ kind: 'add', at: '2031-06-27T19:30' }, 1],
    ]);
    expect(said[0]).toContain('Tell people from Changes');
  });

  it('keeps what was typed when the server refuses', async () => {
    const { press, type, said, find } = await open(
      throwError(() => refusal({ detail: 'Somebody changed this event meanwhile.' })),
    );
    await type('cv-time-field input', '2031-06-27T19:30');
    await press('Add this date');
    expect(said).toEqual(['Somebody changed this event meanwhile.']);
    expect(find('cv-time-field input').value).toBe('2031-06-27T19:30');
  });

  it('lets a viewer look only', async () => {
    expect((await open(of(null), false)).element.querySelector('button')).toBeNull();
  });
});

describe('ScopeChoice', () => {
  it('means the next date first, and says what each choice means for the people invited', async () => {
    const screen = await openScreen(ScopeChoice, {
      dates: inputs.dates,
      nowMs: inputs.nowMs,
      scope: { kind: 'all' },
      invited: 12,
    });
    const chosen: unknown[] = [];
    screen.fixture.componentInstance.scopeChange.subscribe((scope) => chosen.push(scope));
    expect(screen.text()).toContain('12 people are invited. Every date changes');
    await screen.press('one date');
    expect(chosen.at(-1)).toEqual({ kind: 'one', key: '20310625T193000' });
    screen.fixture.componentRef.setInput('scope', chosen.at(-1));
    await screen.settle();
    expect(screen.text()).toContain('This date alone changes');
    await screen.type('[aria-label="Which date"]', '20310702T193000', 'change');
    await screen.press('one and those that follow');
    screen.fixture.componentRef.setInput('scope', chosen.at(-1));
    await screen.settle();
    expect(screen.text()).toContain('their calendars shorten the old one and get the new one');
  });
});
