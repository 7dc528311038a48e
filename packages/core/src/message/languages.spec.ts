import { blankFacts, type EventFacts } from '../event/event';
import { languages, readLanguage } from '../time/language';
import { plainManner } from '../time/manner';
import { mannerFor, sayDay, sayShortInstant } from '../time/say';
import { eventFields, formatsOf, sayWhen } from './fields';

const evening: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2026-11-27T20:30', end: '2026-11-27T23:00' },
  registration: { places: 2, closesMinutes: 60, confirms: false },
};
const camp: EventFacts = { ...evening, span: { kind: 'all-day', firstDay: '2026-12-19', lastDay: '2026-12-20' } };
const again: EventFacts = {
  ...evening,
  span: { kind: 'timed', start: '2026-10-25T01:30', end: '2026-10-25T03:00', again: 'start' },
};
const american = { order: 'month-first', clock: '12' } as const;

// The words are from memory; names of days and months are CLDR's, by the runtime.
describe('Days and times in the reader’s language', () => {
  const when: readonly [string, string, string, string][] = [
    [
      'en',
      'Fri 27 Nov 2026 20:30 to 23:00 Lisbon time (for you: Fri 27 Nov 2026 15:30 New York)',
      'Sat 19 Dec 2026 to Sun 20 Dec 2026',
      'Sun 25 Oct 2026 01:30 (after the clocks went back) to 03:00 Lisbon time',
    ],
    [
      'pt',
      'sexta 27 nov 2026 20:30 às 23:00, hora de Lisbon (para si: sexta 27 nov 2026 15:30 New York)',
      'sábado 19 dez 2026 a domingo 20 dez 2026',
      'domingo 25 out 2026 01:30 (depois de atrasar o relógio) às 03:00, hora de Lisbon',
    ],
    [
      'es',
      'vie 27 nov 2026 20:30 a 23:00, hora de Lisbon (para usted: vie 27 nov 2026 15:30 New York)',
      'sáb 19 dic 2026 al dom 20 dic 2026',
      'dom 25 oct 2026 01:30 (tras atrasar el reloj) a 03:00, hora de Lisbon',
    ],
    [
      'fr',
      'ven 27 nov 2026 20:30 à 23:00, heure de Lisbon (pour vous: ven 27 nov 2026 15:30 New York)',
      'sam 19 déc 2026 au dim 20 déc 2026',
      'dim 25 oct 2026 01:30 (après le recul de l’heure) à 03:00, heure de Lisbon',
    ],
    [
      'de',
      'Fr 27. Nov 2026 20:30 bis 23:00, Ortszeit Lisbon (bei Ihnen: Fr 27. Nov 2026 15:30 New York)',
      'Sa 19. Dez 2026 bis So 20. Dez 2026',
      'So 25. Okt 2026 01:30 (nach der Umstellung der Uhr) bis 03:00, Ortszeit Lisbon',
    ],
    [
      'it',
      'ven 27 nov 2026 20:30 alle 23:00, ora di Lisbon (per lei: ven 27 nov 2026 15:30 New York)',
      'sab 19 dic 2026 al dom 20 dic 2026',
      'dom 25 ott 2026 01:30 (dopo il ritorno all’ora solare) alle 03:00, ora di Lisbon',
    ],
  ];
  for (const [language, timed, days, twice] of when)
    it(`says when an event is (${language})`, () => {
      const manner = mannerFor(plainManner, language);
      expect(sayWhen(evening, 'America/New_York', manner)).toBe(timed);
      expect(sayWhen(camp, '', manner)).toBe(days);
      expect(sayWhen(again, '', manner)).toBe(twice);
    });

  it('has a row for every language', () => expect(when.map(([language]) => language)).toEqual([...languages]));

  it('goes by the house’s own habits for who reads its language, or whose is not known', () => {
    for (const language of ['', 'en', 'tlh'])
      expect(sayWhen(evening, '', mannerFor(american, language))).toBe(
        'Fri Nov 27, 2026 8:30 PM to 11:00 PM Lisbon time',
      );
    expect(sayDay('2026-11-27', mannerFor(american, 'pt'))).toBe('sexta 27 nov 2026');
    const portuguese = { ...american, language: 'pt' } as const;
    expect(sayShortInstant(Date.UTC(2026, 10, 27, 20, 30), 'Europe/Lisbon', mannerFor(portuguese, 'pt'))).toBe(
      'sexta 27 nov 8:30 PM Lisbon',
    );
    expect(sayDay('2026-11-27', mannerFor(portuguese, 'en'))).toBe('Fri 27 Nov 2026');
  });

  it('fills every field of a message with it', () => {
    const fields = eventFields(evening, '', mannerFor(plainManner, 'de'));
    expect([fields['event.date'], fields['event.time'], fields['event.registrationEnds']]).toEqual([
      'Fr 27. Nov 2026',
      '20:30, Ortszeit Lisbon',
      'Fr 27. Nov 2026 19:30, Ortszeit Lisbon',
    ]);
    expect(eventFields(camp, '', mannerFor(plainManner, 'de'))['event.time']).toBe('ganztägig');
  });

  const read: readonly [string, string | null][] = [
    ['pt-PT', 'pt'],
    ['PT_br', 'pt'],
    ['Português', 'pt'],
    ['german', 'de'],
    [' Deutsch ', 'de'],
    ['en', 'en'],
    ['tlh', null],
    ['', null],
    ['p', null],
  ];
  for (const [text, language] of read)
    it(`reads “${text}” as ${language}`, () => expect(readLanguage(text)).toBe(language as null));

  it('says one day longer and shorter, and how far off it is by the event’s own calendar', () => {
    const at = (iso: string, language: string, facts = evening) =>
      eventFields(facts, 'Asia/Tokyo', mannerFor(plainManner, language), Date.parse(iso));
    const said = (fields: ReturnType<typeof at>): unknown[] =>
      (['event.longDate', 'event.weekday', 'event.inDays', 'event.clock'] as const).map((field) => fields[field]);
    // In Tokyo it is the 27th already.
    expect(said(at('2026-11-26T23:30:00Z', 'en'))).toEqual(['Friday, 27 November 2026', 'Friday', 'tomorrow', '20:30']);
    expect(said(at('2026-11-24T12:00:00Z', 'pt'))).toEqual([
      'sexta-feira, 27 de novembro de 2026',
      'sexta-feira',
      'dentro de 3 dias',
      '20:30',
    ]);
    expect(said(at('2026-11-27T00:00:00Z', 'de'))).toEqual(['Freitag, 27. November 2026', 'Freitag', 'heute', '20:30']);
    expect(at('2026-11-28T12:00:00Z', 'en')['event.inDays']).toBe('yesterday');
    expect(at('2026-12-12T12:00:00Z', 'en', camp)['event.inDays']).toBe('in 7 days');
    expect(eventFields(camp, '', american)['event.longDate']).toBe('Saturday, December 19, 2026');
    expect(eventFields(camp, '')['event.inDays']).toBe('');
    expect(formatsOf('event.date')).toContain('event.inDays');
    expect(formatsOf('link.reply')).toEqual([]);
  });
});
