import { resolveWallTime } from '../time/wall-time';
import { quietOf, type HouseQuiet, type TimedMessage } from './quiet';

describe('whom a message finds in quiet hours', () => {
  const house: HouseQuiet = { from: '22:00', until: '08:00', channels: ['text'] };
  const lisbon = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  const zones = ['', 'Europe/Lisbon', 'America/New_York', 'Asia/Tokyo', 'Nowhere/Land'];
  const dueMs = lisbon('2031-06-17T22:30');
  const message = (over: Partial<TimedMessage> = {}): TimedMessage => ({
    ...{ kind: 'cue', channel: 'text', event: 4, dueIn: () => dueMs, startsMs: lisbon('2031-06-18T19:30') },
    homeZone: 'Europe/Lisbon',
    ...over,
  });

  it('lets each zone wait until its own morning; whose zone nobody knows, until that of the event', () => {
    const morning = lisbon('2031-06-18T08:00');
    expect(quietOf(house, message(), zones)?.waits).toEqual([
      { zone: '', untilMs: morning },
      { zone: 'Europe/Lisbon', untilMs: morning },
      { zone: 'Asia/Tokyo', untilMs: resolveWallTime('2031-06-18T08:00', 'Asia/Tokyo') },
      { zone: 'Nowhere/Land', untilMs: morning },
    ]);
  });

  it('lets nobody wait past the start, or until it: who comes gets it at its moment, the others do without', () => {
    const found = quietOf(house, message({ startsMs: lisbon('2031-06-18T08:00') }), zones);
    expect(found?.leftOut).toEqual(['', 'Europe/Lisbon', 'Nowhere/Land']);
    expect(found?.waits.map(({ zone }) => zone)).toEqual(['Asia/Tokyo']);
    expect(found?.spares?.kind).toBe('any');
    expect(quietOf(house, message({ startsMs: lisbon('2031-06-18T08:01') }), zones)?.leftOut).toEqual([]);
  });

  it('leaves them all out where the house would rather, but for who comes to what it is about', () => {
    const found = quietOf({ ...house, manner: 'out' }, message({ startsMs: null }), zones);
    expect([found?.waits, found?.leftOut]).toEqual([[], ['', 'Europe/Lisbon', 'Asia/Tokyo', 'Nowhere/Land']]);
    expect(found?.spares?.kind).toBe('any');
    expect(quietOf({ ...house, manner: 'out' }, message({ kind: 'notice' }), zones)).toBeNull();
  });

  const finds: [string, Partial<TimedMessage>, HouseQuiet | null, boolean][] = [
    ['an answer', { kind: 'answer' }, house, false],
    ['a change or a call-off', { kind: 'notice' }, house, false],
    ['a message by hand', { kind: 'manual', event: null, startsMs: null }, house, true],
    ['an email, where only texts wait', { channel: 'email' }, house, false],
    ['anything, without quiet hours', {}, null, false],
    [
      'what comes at ten on each one’s clock',
      { dueIn: (zone) => resolveWallTime('2031-06-17T10:00', zone || 'UTC') },
      house,
      false,
    ],
  ];
  for (const [what, over, quiet, expected] of finds)
    it(`${expected ? 'finds' : 'finds nobody for'} ${what}`, () =>
      void expect(quietOf(quiet, message(over), zones.slice(0, 4)) !== null).toBe(expected));
});
