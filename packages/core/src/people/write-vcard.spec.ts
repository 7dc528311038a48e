import ICAL from 'ical.js';
import { writeVcard, type CardFacts } from './write-vcard';

const ana: CardFacts = {
  id: 7,
  name: 'Ana Maria Lopes',
  email: 'ana@people.example',
  mobile: '+351912345678',
  zone: 'Europe/Lisbon',
  lists: ['Night sky news', 'Members, old; new'],
};

describe('A person as a vCard', () => {
  /** Read back by another's reader: ical.js. */
  const readBack = (card: string) => {
    const component = ICAL.Component.fromString(card);
    const first = (name: string): string => String(component.getFirstPropertyValue(name) ?? '');
    return { component, first };
  };

  it('says to another’s reader what it was made from', () => {
    const { component, first } = readBack(writeVcard(ana, 'house.example'));
    expect([first('version'), first('uid'), first('fn'), first('email'), first('tel'), first('tz')]).toEqual([
      '4.0',
      'person-7@house.example',
      'Ana Maria Lopes',
      'ana@people.example',
      'tel:+351912345678',
      'Europe/Lisbon',
    ]);
    expect(component.getFirstProperty('categories')?.getValues().map(String)).toEqual([...ana.lists]);
    expect(first('n')).toBe('Lopes,Ana Maria,,,');
  });

  it('keeps within 75 octets a line, whatever the name, and breaks no character (RFC 6350 §3.2)', () => {
    const name = 'ليلى 🌒 Żółć, "Ω"; \\ '.repeat(9).trim();
    const card = writeVcard({ ...ana, name }, 'house.example');
    for (const line of card.split('\r\n')) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
    expect(readBack(card).first('fn')).toBe(name);
  });

  it('goes by the address where there is no name, and lets nothing begin a line of its own', () => {
    const card = writeVcard({ ...ana, name: '', mobile: '', zone: '', lists: [] }, 'house.example');
    expect(card.split('\r\n').slice(2)).toEqual([
      'UID:person-7@house.example',
      'FN:ana@people.example',
      'EMAIL:ana@people.example',
      'END:VCARD',
      '',
    ]);
    const hostile = writeVcard({ ...ana, name: 'Eve\r\nEND:VCARD\nBEGIN:VCARD' }, 'house.example');
    expect(hostile.match(/^(BEGIN|END):/gm)?.length).toBe(2);
  });
});
