import { findZones, sayOffset, sayZoneNow } from './find-zone';

// Offsets and days of change as the tz database publishes them.
const november = Date.UTC(2026, 10, 26, 10);

describe('a zone by its city', () => {
  it('is found by what people type, the city that begins so first', () => {
    expect(findZones('lisb', 3)).toEqual(['Europe/Lisbon']);
    expect(findZones('los an', 3)[0]).toBe('America/Los_Angeles');
    expect(findZones('angeles', 3)[0]).toBe('America/Los_Angeles');
    expect(findZones('são pau', 3)[0]).toBe('America/Sao_Paulo');
    expect(findZones('Europe/Lis', 3)).toEqual(['Europe/Lisbon']);
    expect(findZones('asia', 4).length).toBe(4);
    expect(findZones('', 4)).toEqual([]);
    expect(findZones('nowhere at all', 4)).toEqual([]);
  });

  const said: readonly (readonly [string, string])[] = [
    ['Europe/Lisbon', 'Lisbon, now UTC+0, UTC+1 from Sun 28 Mar 2027'],
    ['America/Los_Angeles', 'Los Angeles, now UTC−8, UTC−7 from Sun 14 Mar 2027'],
    ['Australia/Lord_Howe', 'Lord Howe, now UTC+11, UTC+10:30 from Sun 4 Apr 2027'],
    ['Asia/Kolkata', 'Kolkata, now UTC+5:30'],
    ['UTC', 'UTC, now UTC+0'],
  ];
  for (const [zone, words] of said) it(`is said as “${words}”`, () => expect(sayZoneNow(zone, november)).toBe(words));

  it('says offsets with their minutes', () => {
    expect([sayOffset(0), sayOffset(345), sayOffset(-210), sayOffset(-60)]).toEqual([
      'UTC+0',
      'UTC+5:45',
      'UTC−3:30',
      'UTC−1',
    ]);
  });
});
