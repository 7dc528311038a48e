import { writeVcard } from './write-vcard';
import { readAttendees, readCards } from './read-cards';

const card = (...lines: string[]): string => ['BEGIN:VCARD', ...lines, 'END:VCARD', ''].join('\r\n');
const cells = (...lines: string[]): readonly string[] | undefined => readCards(card(...lines)).rows[0]?.cells;

describe('cards of an address book', () => {
  it('as in RFC 6350 §8', () => {
    const { headings, rows } = readCards(
      card(
        'VERSION:4.0',
        'FN:Simon Perreault',
        'N:Perreault;Simon;;;ing. jr,M.Sc.',
        'BDAY:--0203',
        'GENDER:M',
        'LANG;PREF=1:fr',
        'LANG;PREF=2:en',
        'ORG;TYPE=work:Viagenie',
        'ADR;TYPE=work:;Suite D2-630;2875 Laurier;',
        ' Quebec;QC;G1V 2M2;Canada',
        'TEL;VALUE=uri;TYPE="work,voice";PREF=1:tel:+1-418-656-9254;ext=102',
        'TEL;VALUE=uri;TYPE="work,cell,voice,video,text":tel:+1-418-262-6501',
        'EMAIL;TYPE=work:simon.perreault@viagenie.ca',
        'TZ:-0500',
        'URL;TYPE=home:http://nomis80.org',
      ),
    );
    expect(headings[0]).toBe('Name');
    expect(rows).toEqual([
      {
        number: 1,
        cells: ['Simon Perreault', 'simon.perreault@viagenie.ca', '+1-418-262-6501', '', '-0500', 'fr', 'Canada', ''],
      },
    ]);
  });
  it('as in RFC 2426 §7, with several numbers', () => {
    const text =
      card(
        'VERSION:3.0',
        'FN:Frank Dawson',
        'ORG:Lotus Development Corporation',
        'ADR;TYPE=WORK,POSTAL,PARCEL:;;6544 Battleford Drive',
        ' ;Raleigh;NC;27613-3502;U.S.A.',
        'TEL;TYPE=VOICE,MSG,WORK:+1-919-676-9515',
        'TEL;TYPE=FAX,WORK:+1-919-676-9564',
        'EMAIL;TYPE=INTERNET,PREF:Frank_Dawson@Lotus.com',
        'EMAIL;TYPE=INTERNET:fdawson@earthlink.net',
      ) +
      card(
        'VERSION:3.0',
        'FN:Tim Howes',
        'TEL;TYPE=VOICE,MSG:+1-415-937-3419',
        'EMAIL;TYPE=INTERNET:howes@netscape.com',
      );
    expect(readCards(text).rows.map((row) => row.cells.slice(0, 3))).toEqual([
      ['Frank Dawson', 'Frank_Dawson@Lotus.com', '+1-919-676-9515'],
      ['Tim Howes', 'howes@netscape.com', '+1-415-937-3419'],
    ]);
  });
  it('as telephones write them: groups, types apart, vCard 2.1, quoted-printable over lines', () => {
    expect(
      cells(
        'VERSION:3.0',
        'N:Lopes;Ana;;;',
        'item1.EMAIL;type=INTERNET;type=pref:ana@x.example',
        'TEL;type=HOME;type=VOICE:1',
        'TEL;type=CELL;type=VOICE:2',
      )?.slice(0, 3),
    ).toEqual(['Ana Lopes', 'ana@x.example', '2']);
    expect(
      cells(
        'VERSION:2.1',
        'FN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:Jo=C3=A3o=',
        '=20Lopes',
        'TEL;CELL;PREF:3',
        'BDAY:1990-04-03',
      )?.slice(0, 4),
    ).toEqual(['João Lopes', '', '3', '1990-04-03']);
  });
  it('reads back what we write', () => {
    const written = writeVcard(
      {
        id: 7,
        name: 'Lopes; "Ana", B',
        email: 'ana@x.example',
        mobile: '+351912345678',
        zone: 'Europe/Lisbon',
        lists: ['A, B'],
      },
      'x.example',
    );
    expect(readCards(written).rows[0]?.cells).toEqual([
      'Lopes; "Ana", B',
      'ana@x.example',
      '+351912345678',
      '',
      'Europe/Lisbon',
      '',
      '',
      'A, B',
    ]);
  });
  it('passes over what is no card', () => {
    expect(readCards('hello\nBEGIN:VCARD\nFN:Never closed').rows).toEqual([]);
    expect(readCards('').rows).toEqual([]);
  });
});

describe('attendees of a calendar', () => {
  it('are people, each once, by the name that they have', () => {
    const text = [
      'BEGIN:VCALENDAR',
      'BEGIN:VEVENT',
      'ATTENDEE:mailto:Ana@x.example',
      'ATTENDEE;CN="Lopes, Ana":mailto:ana@x.example',
      'ATTENDEE;CUTYPE=ROOM;CN=Dome:mailto:dome@x.example',
      'ATTENDEE;CN=João:MAILTO:joao@x.example',
      'END:VEVENT',
      'END:VCALENDAR',
    ].join('\r\n');
    expect(readAttendees(text).rows.map((row) => row.cells)).toEqual([
      ['Lopes, Ana', 'ana@x.example'],
      ['João', 'joao@x.example'],
    ]);
    expect(readAttendees('nonsense').rows).toEqual([]);
  });
});
