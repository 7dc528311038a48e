import { signal } from '@angular/core';
import { of, throwError } from 'rxjs';
import type { ClockState, MoveClock } from '@convite/contract';
import { BackstageApi } from '../api/backstage';
import { EventsApi } from '../api/events';
import { openScreen, refusal, someEvent } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { CurrentEvent } from './current-event';
import { RunThrough } from './run-through';

describe('RunThrough', () => {
  const open = async (fails = false) => {
    const moves: MoveClock[] = [];
    let nowMs = Date.parse('2031-06-17T10:00:00.000Z');
    const state = (): ClockState => ({
      now: new Date(nowMs).toISOString(),
      zone: 'Europe/Lisbon',
      offsetMs: moves.length ? 1000 : 0,
      stoppedFor: '',
    });
    const mail = (id: string, at: string, to: string, subject: string) => ({
      id,
      at,
      to,
      subject,
      from: '',
      method: '',
    });
    const screen = await openScreen(RunThrough, {}, [
      {
        provide: CurrentEvent,
        useValue: { detail: signal(someEvent()), id: () => 1, topics: () => ['event:1'] },
      },
      { provide: EventsApi, useValue: { cues: () => of([]), rail: () => throwError(() => refusal({})) } },
      { provide: Confirm, useValue: { ask: () => of(true) } },
      {
        provide: BackstageApi,
        useValue: {
          clock: () => of(state()),
          moveClock: (move: MoveClock) => {
            moves.push(move);
            if (fails) return throwError(() => refusal({ detail: 'The clock stands still.' }));
            nowMs += 'minutes' in move ? move.minutes * 60_000 : 0;
            return of(state());
          },
          latest: () =>
            of([
              mail('3', '2031-06-18T10:00:00.000Z', 'ana@people.example', 'Tomorrow'),
              mail('2', '2031-06-18T09:00:00.000Z', 'rui@people.example', 'Tomorrow'),
              mail('1', '2031-06-01T09:00:00.000Z', 'old@people.example', 'Long ago'),
            ]),
          phones: () =>
            of([{ number: '+447700900001', count: 1, lastAt: '2031-06-18T11:00:00.000Z', lastText: 'Soon' }]),
        },
      },
    ]);
    return { ...screen, moves };
  };

  it('plays until after the event, a beat a second, and shows what came since it was begun, the same words once', async () => {
    const { press, moves, text } = await open();
    expect(text()).toContain('Soon');
    expect(text()).toContain('ana@people.example and 1 others');
    expect(text()).not.toContain('Long ago');
    await press('Play');
    expect(moves).toEqual([{ minutes: 360 }]);
    await new Promise((next) => setTimeout(next, 1300));
    expect(moves.length).toBe(2);
    await press('Stop');
    await new Promise((next) => setTimeout(next, 1300));
    expect(moves.length).toBe(2);
    await press('To what is next');
    await press('Back to now');
    expect(moves.slice(2)).toEqual([{ to: 'next' }, { to: 'now' }]);
  });

  it('stops where the clock cannot be moved, and says so', async () => {
    const { press, moves, text } = await open(true);
    await press('Play');
    await new Promise((next) => setTimeout(next, 1300));
    expect([moves.length, text().includes('Play')]).toEqual([1, true]);
  });
});
