import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { of, throwError } from 'rxjs';
import type { EventDetail } from '@convite/contract';
import { EventsApi } from '../api/events';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { Refused } from '../refused';
import { Toast } from '../ui/toast';
import { CurrentEvent } from './current-event';
import { Details } from './details';

const event: EventDetail = {
  id: 1,
  uid: 'u@x',
  status: 'published',
  version: 1,
  sequence: 0,
  startAt: '2031-06-18T18:30:00.000Z',
  endAt: '2031-06-18T21:00:00.000Z',
  pageUrl: 'http://x',
  facts: {
    title: 'Dome night',
    description: '',
    zone: 'Europe/Lisbon',
    span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
    venue: 'Dome',
    joinLink: '',
    topics: [],
  },
};

function open(save: EventsApi['save']) {
  const detail = signal<EventDetail>(event);
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      { provide: CurrentEvent, useValue: { detail, resource: { set: (saved: EventDetail) => detail.set(saved) } } },
      { provide: EventsApi, useValue: { save } },
      { provide: SettingsApi, useValue: { get: () => of({ topics: [] }) } },
      { provide: Session, useValue: { canMarket: () => true } },
      { provide: Toast, useValue: { say: () => undefined } },
    ],
  });
  const fixture = TestBed.createComponent(Details);
  const element = fixture.nativeElement as HTMLElement;
  TestBed.tick();
  const field = (name: string): HTMLInputElement => {
    const found = element.querySelector<HTMLInputElement>(`[formControlName="${name}"]`);
    if (!found) throw new Error(`no field ${name}`);
    return found;
  };
  const type = (name: string, text: string): void => {
    field(name).value = text;
    field(name).dispatchEvent(new Event('input'));
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

describe('Details', () => {
  it('shows what saving would change, and that people must hear when time changes', () => {
    const { element, type } = open(() => of(event));
    type('title', 'Late dome night');
    expect(element.textContent).toContain('Calendars need no update'.replace('Calendars', 'calendars'));
    type('start', '2031-06-18T20:30');
    expect(element.textContent).toContain('everybody who was invited must hear');
    expect(element.textContent).toContain('Save version 2');
  });

  it('keeps what is being typed when a reply reloads the event', () => {
    const { detail, field, type, fixture } = open(() => of(event));
    type('title', 'Half typed');
    detail.set({ ...event });
    TestBed.tick();
    fixture.detectChanges();
    expect(field('title').value).toBe('Half typed');
  });

  it('takes over a colleague’s version when nothing was typed', () => {
    const { detail, field, fixture } = open(() => of(event));
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

  it('will not save what the core finds wrong', () => {
    const { element, type } = open(() => of(event));
    type('title', '');
    expect(element.textContent).toContain('This must be filled in.');
    const save = [...element.querySelectorAll('button')].find((button) => button.textContent?.includes('Save version'));
    expect(save?.disabled).toBeTrue();
  });
});
