import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { EMPTY, of, throwError } from 'rxjs';
import type { EventDetail, OccurrenceRow } from '@convite/contract';
import { occurrencesBetween, type EventFacts } from '@convite/core';
import { EventsApi } from '../api/events';
import { Live } from '../api/live';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Refused } from '../refused';
import { Toast } from '../ui/toast';
import { someEvent } from '../testing/screen';
import { CurrentEvent } from './current-event';
import { Details } from './details';

const event = someEvent();

/** The same every week, the second date moved to a Thursday. */
const weekly: EventDetail = {
  ...event,
  facts: {
    ...event.facts,
    series: {
      rule: 'FREQ=WEEKLY;BYDAY=WE',
      added: [],
      exceptions: [
        {
          at: '2031-06-25T19:30',
          calledOff: false,
          span: { kind: 'timed', start: '2031-06-26T20:00', end: '2031-06-26T22:30' },
          title: null,
          description: null,
          venue: 'Dome 2',
          joinLink: null,
        },
      ],
    },
  },
};

function open(save: EventsApi['save'], shown = event) {
  sessionStorage.clear();
  return reopen(save, shown);
}

/** The page read anew: what was kept in this tab is there. */
function reopen(save: EventsApi['save'], shown = event) {
  const detail = signal<EventDetail>(shown);
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {
        provide: CurrentEvent,
        useValue: {
          detail,
          id: () => 1,
          topic: () => 'event:1',
          resource: { set: (saved: EventDetail) => detail.set(saved), reload: () => undefined },
        },
      },
      { provide: Live, useValue: { changesOf: () => EMPTY } },
      {
        provide: EventsApi,
        useValue: {
          save,
          dates: () => of(datesOf(shown)),
          changes: () => of({ versions: [{ number: 2, by: 'Marta' }] }),
        },
      },
      { provide: SettingsApi, useValue: { get: () => of({ topics: [] }) } },
      { provide: Session, useValue: { canMarket: () => true } },
      { provide: Toast, useValue: { say: () => undefined } },
    ],
  });
  const fixture = TestBed.createComponent(Details);
  const element = fixture.nativeElement as HTMLElement;
  TestBed.tick();
  const field = (name: string): HTMLInputElement => {
    // A piece of the kit has its field inside.
    const named = `[formControlName="${name}"]`;
    const found = element.querySelector<HTMLInputElement>(`${named}:is(input, textarea, mat-select), ${named} input`);
    if (!found) throw new Error(`no field ${name}`);
    return found;
  };
  const type = (name: string, text: string): void => {
    field(name).value = text;
    field(name).dispatchEvent(new Event('input'));
    field(name).dispatchEvent(new FocusEvent('focusout', { bubbles: true }));
    fixture.detectChanges();
    TestBed.tick();
    fixture.detectChanges();
  };
  const press = (text: string): void => {
    [...element.querySelectorAll('button')].find((button) => button.textContent?.includes(text))?.click();
    fixture.detectChanges();
  };
  return { detail, element, field, type, press, fixture };
}

const datesOf = ({ facts }: EventDetail): OccurrenceRow[] =>
  occurrencesBetween(facts, Date.UTC(2031, 5, 1), Date.UTC(2031, 6, 20)).map((one) => ({
    key: one.key,
    startAt: new Date(one.startMs).toISOString(),
    endAt: new Date(one.endMs).toISOString(),
    facts: one.facts,
    calledOff: one.calledOff,
    isChanged: one.isChanged,
    replies: { 'needs-action': 0, accepted: 0, tentative: 0, declined: 0 },
  }));

describe('Details', () => {
  it('shows what saving would change, and that people must hear when time changes', () => {
    const { element, type } = open(() => of({ event, followingId: null }));
    type('title', 'Late dome night');
    expect(element.textContent).toContain('Calendars need no update'.replace('Calendars', 'calendars'));
    type('start', '2031-06-18T20:30');
    expect(element.textContent).toContain('everybody who was invited must hear');
    expect(element.textContent).toContain('Save version 2');
  });

  it('opens registration with places and a closing time, which is no news for calendars', () => {
    const saved: EventFacts[] = [];
    const { element, field, type, press, fixture } = open((_, facts) => {
      saved.push(facts);
      return of({ event, followingId: null });
    });
    field('registers').click();
    fixture.detectChanges();
    type('places', '0');
    expect(element.textContent).toContain('a whole number from 1 to 100000');
    type('places', '');
    type('closesHours', '1.5');
    expect(element.textContent).toContain('no limit, until 90 minutes before');
    expect(element.textContent).toContain('calendars need no update');
    press('Save version 2');
    expect(saved[0]?.registration).toEqual({ places: null, closesMinutes: 90, confirms: true });
  });

  it('keeps what is being typed when a reply reloads the event', () => {
    const { detail, field, type, fixture } = open(() => of({ event, followingId: null }));
    type('title', 'Half typed');
    detail.set({ ...event });
    TestBed.tick();
    fixture.detectChanges();
    expect(field('title').value).toBe('Half typed');
  });

  it('takes over a colleague’s version when nothing was typed', () => {
    const { detail, field, fixture } = open(() => of({ event, followingId: null }));
    detail.set({ ...event, version: 2, facts: { ...event.facts, title: 'Theirs' } });
    TestBed.tick();
    fixture.detectChanges();
    expect(field('title').value).toBe('Theirs');
  });

  it('loses nothing when saving is refused, and says why', () => {
    const { element, field, type, press } = open(() =>
      throwError(
        () => new Refused({ type: '', title: 'changed-meanwhile', status: 409, detail: 'Somebody saved version 2.' }),
      ),
    );
    type('title', 'Mine');
    press('Save version 2');
    expect([field('title').value, element.textContent?.includes('Somebody saved version 2.')]).toEqual(['Mine', true]);
  });

  it('shows both when somebody saved meanwhile, puts mine on top of theirs, and loses nothing of either', async () => {
    const saved: unknown[] = [];
    const { detail, element, field, type, press, fixture } = open((_, facts, basedOn) => {
      saved.push([facts.title, facts.venue, basedOn]);
      return of({ event, followingId: null });
    });
    type('title', 'Mine');
    detail.set({ ...event, version: 2, facts: { ...event.facts, title: 'Theirs', venue: 'Hall' } });
    TestBed.tick();
    fixture.detectChanges();
    await fixture.whenStable();
    fixture.detectChanges();
    const shown = element.querySelector('cv-conflict')?.textContent ?? '';
    expect(shown).toContain('Marta saved version 2 meanwhile');
    for (const words of ['Theirs', 'Hall', 'Mine', 'Both changed: the title.']) expect(shown).toContain(words);
    expect(field('title').value).toBe('Mine');
    press('Put mine on top');
    TestBed.tick();
    fixture.detectChanges();
    expect([field('title').value, field('venue').value]).toEqual(['Mine', 'Hall']);
    press('Save version 3');
    expect(saved).toEqual([['Mine', 'Hall', 2]]);
  });

  it('takes theirs where that is wanted', () => {
    const { detail, element, field, type, press, fixture } = open(() => of({ event, followingId: null }));
    type('title', 'Mine');
    detail.set({ ...event, version: 2, facts: { ...event.facts, title: 'Theirs' } });
    TestBed.tick();
    fixture.detectChanges();
    press('Take theirs');
    TestBed.tick();
    fixture.detectChanges();
    expect([field('title').value, element.querySelector('cv-conflict')]).toEqual(['Theirs', null]);
  });

  it('has what was typed again after a reload, and forgets it once it is undone', () => {
    const save = () => of({ event, followingId: null });
    open(save).type('title', 'Half typed');
    TestBed.resetTestingModule();
    const again = reopen(save);
    again.fixture.detectChanges();
    TestBed.tick();
    again.fixture.detectChanges();
    expect(again.field('title').value).toBe('Half typed');
    again.press('Undo');
    TestBed.tick();
    TestBed.resetTestingModule();
    expect(reopen(save).field('title').value).toBe('Dome night');
  });

  it('will not save what the core finds wrong', () => {
    let asked = 0;
    const { element, type, fixture } = open(() => {
      asked += 1;
      return of({ event, followingId: null });
    });
    type('title', '');
    expect(element.textContent).toContain('This must be filled in.');
    const save = [...element.querySelectorAll('button')].find((button) => button.textContent?.includes('Save version'));
    save?.click();
    fixture.detectChanges();
    expect(asked).toBe(0);
  });

  it('edits one date of a series from what holds on that date, and says for which it is saved', async () => {
    const save = jasmine.createSpy('save').and.returnValue(of({ event: weekly, followingId: null }));
    const { element, field, type, press, fixture } = open(save, weekly);
    await fixture.whenStable();
    expect(element.textContent).toContain('every Wednesday');
    press('one date');
    const date = element.querySelector<HTMLSelectElement>('[aria-label="Which date"]');
    if (!date) throw new Error('no choice of dates');
    date.value = '20310625T193000';
    date.dispatchEvent(new Event('change'));
    fixture.detectChanges();
    TestBed.tick();
    expect([field('start').value, field('venue').value]).toEqual(['Thu 26 Jun 2031 20:00', 'Dome 2']);
    expect(element.querySelector('cv-rule-editor')).toBeNull();
    type('venue', 'Terrace');
    press('Save this date');
    const [, facts, basedOn, scope] = save.calls.mostRecent().args as Parameters<EventsApi['save']>;
    expect([facts.venue, facts.series, basedOn, scope]).toEqual([
      'Terrace',
      null,
      1,
      { kind: 'one', key: '20310625T193000' },
    ]);
  });

  it('says in plain words how it repeats, and offers the start that the rule names', () => {
    const { element, field, type, fixture } = open(() => of({ event: weekly, followingId: null }), weekly);
    type('start', '2031-06-19T19:30');
    type('end', '2031-06-19T22:00');
    expect(element.textContent).toContain('The first date is not one that the rule names.');
    [...element.querySelectorAll('button')].find((it) => it.textContent?.includes('Move the start to'))?.click();
    fixture.detectChanges();
    TestBed.tick();
    expect([field('start').value, field('end').value]).toEqual(['Wed 25 Jun 2031 19:30', 'Wed 25 Jun 2031 22:00']);
  });
});
