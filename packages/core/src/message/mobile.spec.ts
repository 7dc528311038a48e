import { findNumbers, readMobile } from './mobile';

describe('telephone numbers', () => {
  // Ranges set aside for fiction (Ofcom: 07700 900000 to 900999; NANP: 555-0100 to 555-0199), and ranges that the table does not know.
  const found: [string, string, string[]][] = [
    ['GB', 'Booked by Ana, +44 7700 900851', ['+447700900851']],
    ['GB', 'Ana, 07700 900853, window seat', ['+447700900853']],
    ['GB', '0044 7700 900854 or (07700) 900855', ['+447700900854', '+447700900855']],
    ['US', 'call (212) 555-0123', ['+12125550123']],
    ['US', 'Phone: 212.555.0187', ['+12125550187']],
    ['PT', 'Tel. 912 345 678', ['+351912345678']],
    ['PT', 'Ana 912345678', ['+351912345678']],
    ['PT', 'telemóvel: 900 000 001', ['+351900000001']],
    ['PT', '+351 912 345 678; +351 912 345 678', ['+351912345678']],
    ['PT', 'On 2026-12-05 at 20:30, 5.12.2026 21:00, room 12', []],
    ['PT', 'Open 2026-2027, 09.30 - 12.30', []],
    ['PT', 'https://calendar.example/912345678 and a912345678@people.example', []],
    ['GB', 'Booking 20261205123456, order 1234567, 1234567890', []],
    ['PT', 'Order 912345678, booking no. 912 345 679', []],
    ['PT', 'Booking: phone 912 345 678', ['+351912345678']],
  ];
  for (const [region, text, expected] of found)
    it(`in “${text}”, read in ${region}`, () => expect(findNumbers(text, region).numbers).toEqual(expected));

  it('are found by the rule by which one is typed', () => {
    for (const [region, text] of [
      ['GB', '07700 900851'],
      ['GB', '+44 7700 900999'],
      ['US', '(212) 555-0100'],
      ['PT', '00351 912 345 678'],
    ] as const) {
      const typed = readMobile(text, region, 'mobile');
      expect(findNumbers(`Phone ${text}.`, region).numbers).toEqual(typed.ok ? [typed.value] : ['not read']);
    }
  });

  it('that are not taken are named with the reason', () => {
    expect(findNumbers('Ticket 199 000 001, and 07700 90085', 'PT').passedOver).toEqual([
      { text: '199 000 001', reason: 'unmarked' },
      { text: '07700 90085', reason: 'length' },
    ]);
  });

  it('are looked for in bounded time, whatever stands there', () => {
    const startedAt = performance.now();
    for (const hard of ['1 '.repeat(50_000), '('.repeat(100_000), '+1'.repeat(50_000), '0-'.repeat(50_000)])
      findNumbers(hard, 'PT');
    expect(performance.now() - startedAt).toBeLessThan(2000);
  });
});
