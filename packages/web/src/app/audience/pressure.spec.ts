import { Subject, of } from 'rxjs';
import type { PressureLook } from '@convite/contract';
import { PressureApi } from '../api/pressure';
import { Session } from '../api/session';
import { openScreen } from '../testing/screen';
import { PressurePage } from './pressure';

describe('PressurePage', () => {
  const heldBack = [1, 2].map((perWeek) => ({ perWeek, messages: 3 - perWeek, people: 1 }));
  const look = (share: number): PressureLook => ({ share, thisWeek: [5, 2], messages: 12, heldBack });
  const open = async () => {
    const saved: unknown[] = [];
    const looks = new Subject<PressureLook>();
    const api = {
      read: () =>
        of({ pressure: { perWeek: 3, sparesComers: true }, quiet: null, days: [{ day: '2031-06-18', value: 1204 }] }),
      save: (change: unknown) => (saved.push(change), of(null)),
      look: () => looks,
    };
    const session = { isOwner: () => true, canMarket: () => true, zone: () => 'Europe/Lisbon' };
    const screen = await openScreen(PressurePage, {}, [
      { provide: PressureApi, useValue: api },
      { provide: Session, useValue: session },
    ]);
    const submit = async (): Promise<void> => {
      screen.find('form').dispatchEvent(new Event('submit', { cancelable: true }));
      await screen.settle();
    };
    return { ...screen, saved, looks, submit };
  };

  it('says what is planned for each day, and keeps the limit that is typed, with what one began from', async () => {
    const { text, type, submit, saved } = await open();
    expect(text()).toContain('1,204 messages');
    for (const bad of ['0', '2.5', '51', 'many']) {
      await type('#most', bad);
      await submit();
      expect(text()).toContain('Type a whole number from 1 to 50');
    }
    await type('#most', ' ');
    await submit();
    await type('#most', '2');
    await submit();
    const was = { perWeek: 3, sparesComers: true };
    expect(saved).toEqual([
      { pressure: { perWeek: null, sparesComers: true }, was },
      { pressure: { perWeek: 2, sparesComers: true }, was },
    ]);
  });

  it('looks back while it is told how far it is, and keeps what was found when it is stopped', async () => {
    const { press, looks, settle, text, find } = await open();
    await press('Look back');
    looks.next(look(0.5));
    await settle();
    expect(text()).toContain('So far: in the last thirty days 12 messages');
    expect(find('mat-progress-bar').getAttribute('aria-valuenow')).toBe('50');
    await press('Stop');
    expect(looks.observed).toBeFalse();
    expect(text()).toContain('2 got 2 or more');
    await press('Look again');
    looks.next(look(1));
    looks.complete();
    await settle();
    expect(text()).toContain('In the last thirty days');
  });
});
