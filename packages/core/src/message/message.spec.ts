import { blankFacts, type EventFacts } from '../event/event';
import { readAddresses } from './addresses';
import { sayWhen, sayWhenIn } from './fields';
import { readMobile } from './mobile';
import { inPlainAlphabet } from './plain-alphabet';
import { measureText } from './text-parts';
import { fillWording, readWording } from './wording';

describe('text messages (3GPP TS 23.038, 23.040)', () => {
  const table: [string, string, string, number, number][] = [
    ['empty', '', 'GSM 7-bit', 0, 0],
    ['160 septets fit one part', 'a'.repeat(160), 'GSM 7-bit', 160, 1],
    ['161 need two of 153', 'a'.repeat(161), 'GSM 7-bit', 161, 2],
    ['306 are exactly two', 'a'.repeat(306), 'GSM 7-bit', 306, 2],
    ['307 need three', 'a'.repeat(307), 'GSM 7-bit', 307, 3],
    ['the euro sign takes two septets', '€'.repeat(80), 'GSM 7-bit', 160, 1],
    ['an escape pair is not split over parts', `${'a'.repeat(152)}€${'a'.repeat(152)}`, 'GSM 7-bit', 306, 3],
    ['Ç is in the alphabet, ç is not', 'ç', 'UCS-2', 1, 1],
    ['70 units of UCS-2 fit one part', 'ã'.repeat(70), 'UCS-2', 70, 1],
    ['71 need two of 67', 'ã'.repeat(71), 'UCS-2', 71, 2],
    ['a surrogate pair is not split', `${'ã'.repeat(66)}🌒${'ã'.repeat(66)}`, 'UCS-2', 134, 3],
  ];
  for (const [title, text, encoding, units, parts] of table) {
    it(title, () => expect(measureText(text)).toEqual(jasmine.objectContaining({ encoding, units, parts })));
  }
  it('names what forces the costlier encoding', () =>
    expect(measureText('já “ok” já').costly).toEqual(['á', '“', '”']));

  it('says the same in the cheaper alphabet, and leaves what has no like there', () => {
    const rows: [string, string][] = [
      ['Já começa às 19h — não falte… “já”', 'Ja comeca às 19h - nao falte... "ja"'],
      // What is in the alphabet stays, with its accent.
      ['É à noite, ñ ü Ç', 'É à noite, ñ ü Ç'],
      ['Zoë’s œuvre\u00a0· №1', "Zoe's oeuvre - No1"],
      ['🌒 Łódź 東京', '🌒 Łodz 東京'],
      ['', ''],
    ];
    for (const [typed, plain] of rows) expect(inPlainAlphabet(typed)).withContext(typed).toBe(plain);
    expect(measureText(inPlainAlphabet('Já “ok” já')).encoding).toBe('GSM 7-bit');
  });
});

describe('wording', () => {
  it('fills fields, falls back, and leaves what it cannot read as typed', () => {
    const wording = readWording(
      'Hi {{person.firstName|friend}}, {{ event.title }} {{evnt.title}} {{event.when',
      'body',
    );
    expect(fillWording(wording, { 'event.title': 'A {{b}}' })).toBe('Hi friend, A {{b}} {{evnt.title}} {{event.when');
    expect(wording.problems.map(({ code, facts }) => [code, facts?.['name'] ?? facts?.['text']])).toEqual([
      ['unknown-field', 'evnt.title'],
      ['field-not-closed', '{{event.when'],
    ]);
    expect(readWording('{{constructor}}', '').problems.length).toBe(1);
  });

  it('tells a person elsewhere their own clock too', () => {
    const facts: EventFacts = {
      ...blankFacts,
      title: 't',
      zone: 'Europe/Lisbon',
      span: { kind: 'timed', start: '2026-11-27T20:30', end: '2026-11-28T01:00' },
    };
    expect(sayWhen(facts, 'Europe/London')).toBe('Fri 27 Nov 2026 20:30 to 01:00 Lisbon time');
    expect(sayWhen(facts, 'Australia/Sydney')).toBe(
      'Fri 27 Nov 2026 20:30 to 01:00 Lisbon time (for you: Sat 28 Nov 2026 07:30 Sydney)',
    );
    expect(sayWhenIn(facts, 'America/Sao_Paulo')).toBe('Fri 27 Nov 2026 17:30 to 22:00 Sao Paulo time');
    expect(sayWhenIn(facts, 'Asia/Tokyo')).toBe('Sat 28 Nov 2026 05:30 to 10:00 Tokyo time');
    const whole: EventFacts = { ...facts, span: { kind: 'all-day', firstDay: '2026-11-27', lastDay: '2026-11-28' } };
    expect(sayWhenIn(whole, 'Asia/Tokyo')).toBe('Fri 27 Nov 2026 to Sat 28 Nov 2026');
  });
});

describe('pasted addresses', () => {
  it('takes the good ones and names the line of the others', () => {
    const { addresses, problems } = readAddresses(
      '"Lopes, Ana" <Ana@People.example>; b@x.example\r\nnot an address\n\nZoë <zoë@bücher.example>, B@X.example\n<script>@x',
    );
    expect(addresses.map(({ name, email }) => [name, email])).toEqual([
      ['Lopes, Ana', 'ana@people.example'],
      ['', 'b@x.example'],
      ['Zoë', 'zoë@bücher.example'],
    ]);
    expect(problems.map(({ code, path }) => [code, path])).toEqual([
      ['bad-address', 'line 2'],
      ['duplicate-address', 'line 4'],
      ['bad-address', 'line 5'],
    ]);
  });
  it('takes what is copied from a spreadsheet, and addresses with only spaces between', () => {
    const { addresses, problems } = readAddresses(
      'Name\tEmail\nAna\tLopes\tana@x.example\ncy@x.example\tCy\nd@x.example  e@x.example\nF f@x.example\nG\tg@x.example\th@x.example',
    );
    expect(addresses.map(({ name, email }) => `${name}|${email}`)).toEqual([
      'Ana Lopes|ana@x.example',
      'Cy|cy@x.example',
      '|d@x.example',
      '|e@x.example',
    ]);
    expect(problems.map(({ path }) => path)).toEqual(['line 1', 'line 5', 'line 6']);
  });
  it('lets no header be smuggled in', () => {
    for (const text of [
      'a@b.example\0',
      'a b@c.example',
      'a..b@c.example',
      'a@b',
      `${'x'.repeat(65)}@y.example`,
      'a@b.example>bcc',
    ]) {
      expect(readAddresses(text).addresses.length).withContext(text).toBe(0);
    }
  });
});

describe('mobile numbers (E.164)', () => {
  it('need no country code when the region is known', () => {
    // Numbers set aside for fiction by the British regulator.
    expect(readMobile('07700 900123', 'GB', 'mobile')).toEqual({ ok: true, value: '+447700900123' });
    expect(readMobile('+44 7700 900123', 'PT', 'mobile')).toEqual({ ok: true, value: '+447700900123' });
    expect(readMobile('12', 'PT', 'mobile').ok).toBeFalse();
    expect(readMobile('call me', 'PT', 'mobile').ok).toBeFalse();
  });
});
