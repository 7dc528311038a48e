import { passes, readFieldValue } from '../audience/field';
import { guessColumns } from './column';
import { readPerson } from './read-person';
import { readTimeBehind, type WrittenOrder } from './written-day';

describe('a day with a time, as it stands in a file', () => {
  const times: [string, WrittenOrder, string | null][] = [
    ['2026-12-05 21:00', 'iso', '21:00'],
    ['2026-12-05T21:00:30', 'iso', '21:00'],
    ['5/12/2026, 9:05', 'day-first', '09:05'],
    ['5.12.2026 9.30 pm', 'day-first', '21:30'],
    ['12/5/2026 12:15 am', 'month-first', '00:15'],
    ['12/5/2026 12:15 PM', 'month-first', '12:15'],
    ['5/12/2026', 'day-first', ''],
    ['5/12/2026 25:00', 'day-first', null],
    ['5/12/2026 13:00 pm', 'day-first', null],
    ['2026-12-05T21:00Z', 'iso', null],
    ['2026-12-05 21:00 Lisbon', 'iso', null],
    // ECMA-376 §18.17.4.1: the part of a day is its time.
    ['46361.875', 'serial-1900', '21:00'],
    ['46361', 'serial-1900', ''],
  ];
  for (const [text, order, expected] of times)
    it(`“${text}”, ${order}: ${expected ?? 'none'}`, () => expect(readTimeBehind(text, order)).toBe(expected));

  const guess = (...values: string[]) => {
    const [column] = guessColumns([{ heading: 'Slot', values }], 'day-first');
    return column?.target.to === 'field' ? column.target.type : null;
  };
  it('makes a column of dates and times; one whose times are none stays text, so that nothing is lost', () => {
    expect(guess('5/12/2026 21:00', '6/12/2026 20:30')).toBe('date-time');
    expect(guess('5/12/2026 21:00', '6/12/2026')).toBe('date-time');
    expect(guess('5/12/2026', '6/12/2026')).toBe('date');
    expect(guess('2026-12-05T21:00Z', '2026-12-06T21:00Z')).toBe('text');
  });

  it('is kept whole, and compared by its day', () => {
    const columns = [
      { to: 'email', rule: 'fill' },
      { to: 'field', name: 'Slot', type: 'date-time', rule: 'fill', order: 'day-first', isCountry: false },
    ] as const;
    const read = (slot: string) => readPerson(columns, ['ana@people.example', slot], () => null);
    const [whole, bad] = [read('5/12/2026 9:30 pm'), read('5/12/2026 at nine')];
    expect(whole.ok && whole.value.fields['Slot']).toBe('2026-12-05T21:30');
    expect(bad.ok ? null : bad.problems[0]).toEqual({
      code: 'bad-value',
      path: 'Slot',
      facts: { text: '5/12/2026 at nine', type: 'date-time' },
    });
    const value = readFieldValue('date-time', '2026-12-05T21:30');
    expect(passes(value ?? undefined, { is: 'date', from: '2026-12-05', to: '2026-12-05' })).toBeTrue();
    expect(['2026-12-05 24:00', '2026-02-30T10:00', 'x'].map((text) => readFieldValue('date-time', text))).toEqual([
      null,
      null,
      null,
    ]);
  });
});
