import { clocks, dayOrders } from './manner';
import { readTypedTime, type TypedTimeContext } from './read-typed';
import { sayClock, sayDay, sayInstant, sayShortInstant } from './say';

// Thursday, ten in the morning. What people type is common practice; no published rule says it.
const now = '2026-11-26T10:00';
const read = (text: string, more: Partial<TypedTimeContext> = {}): string | null => {
  const found = readTypedTime(text, { now, order: 'day-first', ...more });
  return found && `${found.day ?? '-'} ${found.time ?? '-'}`;
};

describe('a day and time as people type it', () => {
  const cases: readonly (readonly [string, string | null])[] = [
    ['27 nov 20:30', '2026-11-27 20:30'],
    ['27 Nov 2026, 20.30', '2026-11-27 20:30'],
    ['Nov 27 8:30pm', '2026-11-27 20:30'],
    ['november 27th', '2026-11-27 -'],
    ['27th of november at 9', '2026-11-27 09:00'],
    ['Fri 27 Nov 2026 20:30', '2026-11-27 20:30'],
    ['2026 nov 27', '2026-11-27 -'],
    ['nov 27 9', '2026-11-27 09:00'],
    ['27 nov 9', '2026-11-27 09:00'],
    ['25 nov', '2027-11-25 -'],
    ['26 nov', '2026-11-26 -'],
    ['29 feb', '2028-02-29 -'],
    ['fri 20:30', '2026-11-27 20:30'],
    ['thu 20:30', '2026-11-26 20:30'],
    ['thu 9:30', '2026-12-03 09:30'],
    ['thursday', '2026-11-26 -'],
    ['next thursday', '2026-12-03 -'],
    ['wed noon', '2026-12-02 12:00'],
    ['tomorrow 9', '2026-11-27 09:00'],
    ['tomorrow at 9', '2026-11-27 09:00'],
    ['today midnight', '2026-11-26 00:00'],
    ['tonight 9pm', '2026-11-26 21:00'],
    ['yesterday', '2026-11-25 -'],
    ['20:30', '- 20:30'],
    ['9pm', '- 21:00'],
    ['12am', '- 00:00'],
    ['12 pm', '- 12:00'],
    ['at 7', '- 07:00'],
    ['27/11/2026 20:30', '2026-11-27 20:30'],
    ['27.11. 20:30', '2026-11-27 20:30'],
    ['27.11.26', '2026-11-27 -'],
    ['1/2', '2027-02-01 -'],
    ['2026-11-27T20:30', '2026-11-27 20:30'],
    ['2026-11-27', '2026-11-27 -'],
    ['+3d', '2026-11-29 10:00'],
    ['+2 weeks', '2026-12-10 10:00'],
    ['+90min', '2026-11-26 11:30'],
    ['-1h', '2026-11-26 09:00'],
    ['+1mo', '2026-12-26 10:00'],
    ['', null],
    ['soon', null],
    ['31 nov', null],
    ['29 feb 2027', null],
    ['27 nov 25:00', null],
    ['13pm', null],
    ['13/13', null],
    ['27 nov 20:60', null],
    ['1 2 3 4', null],
    ['9', null],
    [`27 nov ${' '.repeat(80)}20:30`, null],
  ];
  for (const [text, means] of cases)
    it(`reads “${text.slice(0, 40)}” as ${means ?? 'nothing'}`, () => expect(read(text)).toBe(means));

  it('reads numbers in the order of the house, and a year in front whatever that is', () => {
    expect(read('1/2/2027', { order: 'month-first' })).toBe('2027-01-02 -');
    expect(read('1/2', { order: 'iso' })).toBe('2027-01-02 -');
    expect(read('2027/2/1', { order: 'month-first' })).toBe('2027-02-01 -');
    expect(read('13/1', { order: 'month-first' })).toBeNull();
  });

  it('counts from what stands there', () => {
    expect(read('+1mo', { base: '2027-01-31T19:30' })).toBe('2027-02-28 19:30');
    expect(read('+1y', { base: '2028-02-29' })).toBe('2029-02-28 -');
    expect(read('-3d', { base: '2026-12-01' })).toBe('2026-11-28 -');
    expect(read('+2h', { base: '2026-12-01' })).toBeNull();
    expect(read('+2h', { base: '2026-12-31T23:00' })).toBe('2027-01-01 01:00');
  });

  it('takes no time over what is hostile', () => {
    const startedAt = performance.now();
    for (const text of ['1 '.repeat(30), 'nov '.repeat(15), '/'.repeat(60), '9'.repeat(60)])
      expect(read(text)).toBeNull();
    expect(performance.now() - startedAt).toBeLessThan(50);
  });
});

describe('a day and time as they are said', () => {
  for (const order of dayOrders)
    for (const clock of clocks)
      it(`are read again as what they were: ${order}, ${clock} hours`, () => {
        const manner = { order, clock };
        for (const day of ['2026-11-27', '2027-01-02', '2028-02-29', '2031-12-31'])
          for (const time of ['00:00', '00:30', '09:05', '12:00', '12:59', '13:00', '23:59'])
            expect(readTypedTime(`${sayDay(day, manner)} ${sayClock(time, manner)}`, { now, order }))
              .withContext(`${day} ${time}`)
              .toEqual({ day, time });
      });
  it('are written as Settings say', () => {
    const at = Date.UTC(2026, 10, 27, 20, 30);
    const manner = { order: 'month-first', clock: '12' } as const;
    expect(sayInstant(at, 'Europe/Lisbon', manner)).toBe('Fri Nov 27, 2026 8:30 PM Lisbon');
    expect(sayShortInstant(at, 'Europe/Lisbon', manner)).toBe('Fri Nov 27 8:30 PM Lisbon');
    expect(sayInstant(at, 'Europe/Lisbon', { order: 'iso', clock: '24' })).toBe('Fri 2026-11-27 20:30 Lisbon');
    expect(sayShortInstant(at, 'Europe/Lisbon')).toBe('Fri 27 Nov 20:30 Lisbon');
  });
});
