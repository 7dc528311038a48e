import { guessColumns, hasHeadings, type ColumnTarget, type Doubt } from './column';
import { changesBy, type KnownPerson } from './merge-person';
import { tableOf } from './people-table';
import { readPerson, type BroughtPerson, type ReadPhone } from './read-person';
import type { ProblemCode } from '../problem';
import { provenOrder, readWrittenDay, type WrittenOrder } from './written-day';
import { readCountry, readZone, zonesIn } from './zone-of';

describe('a day as it stands in a file', () => {
  const rows: [string, WrittenOrder, string | null][] = [
    ['3/4/1990', 'day-first', '1990-04-03'],
    ['3/4/1990', 'month-first', '1990-03-04'],
    ['03.04.90', 'day-first', '1990-04-03'],
    ['29-2-2000', 'day-first', '2000-02-29'],
    ['29-2-2001', 'day-first', null],
    ['1990-04-03', 'month-first', '1990-04-03'],
    ['1990/4/3 12:30', 'day-first', '1990-04-03'],
    ['1990-04-03T00:00:00Z', 'iso', '1990-04-03'],
    ['90-04-03', 'iso', '1990-04-03'],
    ['1.1.29', 'day-first', '2029-01-01'],
    ['1.1.30', 'day-first', '1930-01-01'],
    ['13/13/2000', 'day-first', null],
    ['3/4/199', 'day-first', null],
    ['4 April', 'day-first', null],
    ['', 'day-first', null],
    // ECMA-376 §18.17.4.1: in the 1900 system 1 is 1 January 1900, and 60 a day that never was; in 1904's, 0 is 1 January 1904.
    ['1', 'serial-1900', '1900-01-01'],
    ['59', 'serial-1900', '1900-02-28'],
    ['60', 'serial-1900', null],
    ['61', 'serial-1900', '1900-03-01'],
    ['38406', 'serial-1900', '2005-02-23'],
    ['38406.75', 'serial-1900', '2005-02-23'],
    ['0', 'serial-1904', '1904-01-01'],
    ['36944', 'serial-1904', '2005-02-23'],
    ['3000000', 'serial-1900', null],
    ['-5', 'serial-1900', null],
  ];
  for (const [text, order, day] of rows)
    it(`${JSON.stringify(text)} in ${order} is ${day}`, () => expect(readWrittenDay(text, order)).toBe(day));

  const proofs: [string[], WrittenOrder, boolean, boolean][] = [
    [['3/4/1990', '25/4/1990'], 'day-first', true, false],
    [['3/4/1990', '4/25/1990'], 'month-first', true, false],
    [['3/4/1990', ''], 'month-first', false, false],
    [['13/4/1990', '4/13/1990'], 'month-first', false, true],
    [['1990-04-03', '1990-13-01'], 'iso', true, false],
    [['90-04-03', '85-12-31'], 'iso', true, false],
    [['32874', '40000.5'], 'serial-1900', true, false],
    [['unknown'], 'month-first', false, false],
  ];
  for (const [values, order, isProven, isMixed] of proofs)
    it(`${values.join(', ')} ${isProven ? 'proves' : 'does not prove'} ${order}`, () =>
      expect(provenOrder(values, 'month-first')).toEqual({ order, isProven, isMixed }));
});

describe('where somebody is', () => {
  it('is a zone by any of its names or its city, with or without accents', () => {
    expect(['europe/lisbon', 'Asia/Calcutta', 'New York', 'SÃO PAULO', 'utc', 'Mars', ''].map(readZone)).toEqual([
      'Europe/Lisbon',
      'Asia/Kolkata',
      'America/New_York',
      'America/Sao_Paulo',
      'UTC',
      null,
      null,
    ]);
  });
  it('is a country by its code or its name in any of our languages, whose likeliest zone stands first', () => {
    expect(['PT', 'Alemanha', 'Deutschland', 'united states', 'brasil', 'Atlantis'].map(readCountry)).toEqual([
      'PT',
      'DE',
      'DE',
      'US',
      'BR',
      null,
    ]);
    expect([['PT'], ['US'], ['GB', 'GG', 'IM', 'JE'], ['IN'], [], ['x']].map((some) => zonesIn(some)[0])).toEqual([
      'Europe/Lisbon',
      'America/New_York',
      'Europe/London',
      'Asia/Kolkata',
      undefined,
      undefined,
    ]);
  });
});

describe('columns', () => {
  const column = (heading: string, ...values: string[]) => ({ heading, values });
  const rows: [string, string[], ColumnTarget['to'], Doubt[]][] = [
    ['E-Mail', ['a@x.example'], 'email', []],
    ['Email Address', ['a@x.example', '', 'nope', 'nope'], 'email', ['other-values']],
    ['Endereço de correio', ['a@x.example'], 'email', []],
    ['', ['a@x.example', 'b@x.example'], 'email', ['by-values']],
    ['First Name', ['Ana'], 'first-name', []],
    ['Apelido', ['Lopes'], 'last-name', []],
    ['Nome completo', ['Ana Lopes'], 'name', []],
    ['Telemóvel', ['912 345 678'], 'mobile', []],
    ['Time zone', ['Europe/Lisbon', 'Lisbon'], 'zone', []],
    ['City', ['Seia', 'Gouveia', 'Covilhã'], 'field', []],
    ['City', ['Lisbon', 'São Paulo'], 'zone', []],
    ['Timezone', ['Seia', 'Gouveia'], 'zone', ['other-values']],
    ['SMS consent', ['yes', ''], 'text-consent', []],
    ['Email opt-in', ['1', '0'], 'email-consent', []],
    ['Interests', ['moon; pulsars'], 'topics', []],
    ['Group', ['Members'], 'lists', []],
    ['Notes', [''], 'nothing', ['empty']],
    ['Seat', ['A1'], 'field', []],
  ];
  for (const [heading, values, to, doubts] of rows)
    it(`“${heading}” with ${values.join(', ')} goes to ${to}`, () => {
      const [guess] = guessColumns([column(heading, ...values)], 'day-first');
      expect([guess?.target.to, guess?.doubts]).toEqual([to, doubts]);
    });

  it('of dates say in which order, and whether that is sure', () => {
    const guesses = guessColumns(
      [
        column('Birthday', '25/12/1990', '3/4/1991'),
        column('Joined', '3/4/1991'),
        column('Renewal date', '12/31/2026', '31/12/2026'),
        column('Date of birth', '32874', '40000'),
        column('Badge', '32874'),
        column('Country', 'PT'),
      ],
      'day-first',
    );
    expect(
      guesses.map(({ target, doubts }) =>
        target.to === 'field' ? [target.type, target.order, doubts.join()] : target.to,
      ),
    ).toEqual([
      ['date', 'day-first', ''],
      ['date', 'day-first', 'day-or-month'],
      ['date', 'day-first', 'mixed-orders'],
      ['date', 'serial-1900', 'by-values'],
      ['number', null, ''],
      ['text', null, ''],
    ]);
  });

  it('take each fact once: the heading’s word goes before what the values look like', () => {
    const targets = guessColumns(
      [column('Contact', 'a@x.example'), column('Email', 'b@x.example'), column('E-mail', 'c@x.example')],
      'day-first',
    ).map(({ target }) => target.to);
    expect(targets).toEqual(['field', 'email', 'field']);
  });

  it('have headings unless the first row is somebody', () => {
    expect([['Name', 'Email'], ['Ana', 'a@x.example'], ['Ana', '+351 912 345 678'], []].map(hasHeadings)).toEqual([
      true,
      false,
      false,
      false,
    ]);
    const table = tableOf([[], ['Name', 'Email'], ['', ''], ['Ana', 'a@x.example', 'more']], hasHeadings);
    expect(table).toEqual({
      headings: ['Name', 'Email', ''],
      rows: [{ number: 4, cells: ['Ana', 'a@x.example', 'more'] }],
    });
  });
});

const readPhone: ReadPhone = (text) =>
  /^\d+$/.test(text) ? { number: `+351${text}`, isLandline: text.startsWith('2'), countries: ['PT'] } : null;
const field = (name: string, over: object = {}): ColumnTarget => ({
  to: 'field',
  name,
  type: 'text',
  rule: 'fill',
  order: null,
  isCountry: false,
  ...over,
});
const fact = (
  to: 'email' | 'name' | 'first-name' | 'last-name' | 'mobile' | 'zone' | 'text-consent',
): ColumnTarget => ({
  to,
  rule: 'fill',
});

describe('a row of a file', () => {
  const columns = [fact('email'), fact('first-name'), fact('last-name'), fact('mobile'), fact('zone')];
  const read = (...cells: string[]) => readPerson(columns, cells, readPhone);
  const personOf = (...cells: string[]): Partial<BroughtPerson> => {
    const one = read(...cells);
    return one.ok ? one.value : {};
  };
  it('is a person: the name from two columns, the number in full, the zone said', () => {
    expect(personOf('ANA@Bücher.example', 'Ana', 'Lopes', '912', 'Lisbon')).toEqual(
      jasmine.objectContaining({
        email: 'ana@bücher.example',
        name: 'Ana Lopes',
        mobile: '+351912',
        zone: 'Europe/Lisbon',
        zoneFrom: '',
      }),
    );
  });
  it('marks a zone that is a guess, and keeps a landline where no text goes', () => {
    expect(personOf('a@x.example', '', '', '912')).toEqual(
      jasmine.objectContaining({ zone: 'Europe/Lisbon', zoneFrom: 'phone' }),
    );
    expect(personOf('a@x.example', '', '', '212')).toEqual(jasmine.objectContaining({ mobile: '', phone: '+351212' }));
    const abroad = readPerson(
      [fact('email'), field('Country', { isCountry: true }), fact('mobile')],
      ['a@x.example', 'Japan', '912'],
      readPhone,
    );
    expect(abroad.ok && [abroad.value.zone, abroad.value.zoneFrom, abroad.value.fields]).toEqual([
      'Asia/Tokyo',
      'country',
      { Country: 'Japan' },
    ]);
  });
  const refused: [string[], ProblemCode][] = [
    [['nope'], 'bad-address'],
    [['a@x.example', '', '', 'twelve'], 'bad-mobile'],
    [['', 'Ana', '', '212'], 'no-way'],
    [['', 'Ana'], 'no-way'],
    [['a@x.example', '', '', '', 'Mars'], 'unknown-zone'],
  ];
  for (const [cells, code] of refused)
    it(`${JSON.stringify(cells)} is refused: ${code}`, () => {
      const one = read(...cells);
      expect(!one.ok && one.problems.map((problem) => problem.code)).toEqual([code]);
    });
  it('takes days in the column’s order, topics that are known, and consent where a column says it', () => {
    const one = readPerson(
      [
        fact('email'),
        field('Born', { type: 'date', order: 'day-first' }),
        { to: 'topics', known: ['Moon', 'pulsars'] },
        fact('text-consent'),
      ],
      ['a@x.example', '3/4/1990', 'moon; Comets |PULSARS', 'sim'],
      readPhone,
    );
    expect(one.ok && [one.value.fields, one.value.topics, one.value.textConsent, one.value.emailConsent]).toEqual([
      { Born: '1990-04-03' },
      ['Moon', 'pulsars'],
      true,
      null,
    ]);
    const bad = readPerson(
      [fact('email'), field('Born', { type: 'date', order: 'day-first' })],
      ['a@x.example', '31/2/1990'],
      readPhone,
    );
    expect(!bad.ok && bad.problems).toEqual([
      { code: 'bad-value', path: 'Born', facts: { text: '31/2/1990', type: 'date' } },
    ]);
  });
});

describe('what a row changes about somebody', () => {
  const known: KnownPerson = {
    name: 'Ana',
    mobile: '',
    phone: '',
    zone: 'Europe/Lisbon',
    zoneFrom: 'phone',
    language: '',
    lists: ['Members'],
    topics: [],
    fields: { seat: 'A1' },
  };
  const brought: BroughtPerson = {
    email: 'a@x.example',
    name: 'Ana Lopes',
    mobile: '+351912',
    phone: '',
    zone: 'Asia/Tokyo',
    zoneFrom: '',
    language: '',
    emailConsent: null,
    textConsent: null,
    lists: ['Members', 'Press'],
    topics: ['moon'],
    fields: { Seat: 'B2' },
  };
  const changed = (rule: 'fill' | 'take' | 'keep', over: Partial<BroughtPerson> = {}) =>
    changesBy(
      [{ to: 'name', rule }, { to: 'mobile', rule }, { to: 'zone', rule }, field('Seat', { rule })],
      { ...brought, ...over },
      known,
    ).map(({ part, name, before, after }) => `${part}${name && ` ${name}`}: ${before} → ${after}`);
  const always = ['list Press:  → Press', 'topic moon:  → moon'];
  it('goes by the rule of each column; what is said goes over a guess', () => {
    expect(changed('fill')).toEqual(['mobile:  → +351912', 'zone:  → Asia/Tokyo', ...always]);
    expect(changed('keep')).toEqual(always);
    expect(changed('take')).toEqual([
      'name: Ana → Ana Lopes',
      'mobile:  → +351912',
      'zone: Europe/Lisbon → Asia/Tokyo',
      'field Seat: A1 → B2',
      ...always,
    ]);
  });
  it('takes nothing away by an empty cell, and puts no guess over what is known', () => {
    expect(changed('take', { name: '', mobile: '', zoneFrom: 'phone', fields: {}, lists: [], topics: [] })).toEqual([]);
  });
});
