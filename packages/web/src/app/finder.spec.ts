import { MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { of, throwError } from 'rxjs';
import { AudienceApi } from './api/audience';
import { BoardApi } from './api/board';
import { BackstageApi } from './api/backstage';
import { EventsApi } from './api/events';
import { Finder } from './finder';
import { choose, openScreen, rest } from './testing/screen';

describe('Finder', () => {
  const row = { id: 4, title: 'Dome night', startAt: '2031-06-18T18:30:00.000Z', zone: 'Europe/Lisbon' };
  const ana = { id: 9, name: 'Ana Dome', email: 'ana@people.example', mobile: '' };
  const open = async (canMarket = true, people = of<unknown>({ rows: [ana] })) => {
    const went: unknown[] = [];
    const stopped: number[] = [];
    const screen = await openScreen(
      Finder,
      {},
      [
        { provide: MatDialogRef, useValue: { close: () => went.push('closed') } },
        {
          provide: EventsApi,
          useValue: {
            list: ({ when }: { when: string }) => of({ rows: when === 'coming' ? [row] : [] }),
            findCues: () => of([{ id: 31, name: 'One week to go', eventId: 4, eventTitle: 'Dome night' }]),
          },
        },
        {
          provide: BackstageApi,
          useValue: { moveClock: () => of({ now: '2031-06-18T18:30:00.000Z', zone: 'Europe/Lisbon' }) },
        },
        { provide: AudienceApi, useValue: { subscribers: () => people } },
        {
          provide: BoardApi,
          useValue: {
            strip: () => of({ next: { firingId: 77, title: 'Tomorrow' } }),
            stop: (id: number) => (stopped.push(id), of(null)),
          },
        },
      ],
      canMarket,
    );
    const router = screen.fixture.debugElement.injector.get(Router);
    spyOn(router, 'navigate').and.callFake((path, extras) => {
      went.push([path, extras?.queryParams]);
      return Promise.resolve(true);
    });
    return { ...screen, went, stopped };
  };
  const offered = (): string[] =>
    [...document.querySelectorAll('mat-option')].map((one) => (one.textContent ?? '').trim().replace(/\s+/g, ' '));

  it('finds events and people by what is typed, and opens them', async () => {
    const screen = await open();
    await choose('input', 'dome', 'Dome night', screen);
    expect(screen.went).toEqual(['closed', [['/events', 4], {}]]);
    await choose('input', 'dome', 'Ana Dome', screen);
    expect(screen.went.at(-1)).toEqual([['/audience'], { person: 9 }]);
  });

  it('opens a cue beside the countdown of its event, and moves the clock where there is one to move', async () => {
    const screen = await open();
    await choose('input', 'week', 'One week to go', screen);
    expect(screen.went.at(-1)).toEqual([['/events', 4, 'countdown'], { cue: 31 }]);
    await choose('input', 'clock', 'Move the clock to what is due next', screen);
    expect(screen.said).toEqual(['It is Wed 18 Jun 2031 19:30 Lisbon now.']);
  });

  it('holds what goes out next, for whoever may', async () => {
    const screen = await open();
    await choose('input', 'hold', 'Hold what goes out next', screen);
    expect([screen.stopped, screen.said]).toEqual([[77], ['Held: “Tomorrow” will not go out.']]);
  });

  it('offers a viewer where to go and nothing to change, and says what it does not know', async () => {
    const screen = await open(
      false,
      throwError(() => new Error('away')),
    );
    screen.find('input').focus();
    screen.find('input').dispatchEvent(new Event('focusin'));
    await screen.type('input', 'o');
    await rest(screen.settle);
    await rest(screen.settle);
    expect(offered().some((one) => one.startsWith('Call board'))).toBeTrue();
    expect(offered().some((one) => one.startsWith('Hold'))).toBeFalse();
    await screen.type('input', 'dome');
    await rest(screen.settle);
    await rest(screen.settle);
    expect(offered().length).toBe(2);
  });
});
