import { plainDocument } from './document';
import { saysHowToStop, withHowToStop } from './opt-out';
import { readTextAnswer } from './text-answer';
import { plainTextOf } from './written';

describe('how a text says that it can be ended', () => {
  const rows: readonly [text: string, says: boolean][] = [
    ['Tomorrow at eight. STOP ends these texts.', true],
    ['Tomorrow: take the bus to the last stop.', false],
    ['Tomorrow. Stopping by is enough. NONSTOP music.', false],
    ['Amanhã. Para sair: PARAR', true],
    ['Mañana. BAJA', true],
    ['Abmelden mit ABMELDEN.', true],
    ['Tomorrow. {{link.optOut}}', true],
    ['', false],
  ];
  for (const [text, says] of rows)
    it(`${says ? 'is found in' : 'is missed in'} “${text}”`, () =>
      expect(saysHowToStop(plainDocument('', text))).toBe(says));

  it('is put to its end, in each of its languages, by a word that ends texts, and once', () => {
    const document = {
      ...plainDocument('', 'Tomorrow.'),
      languages: { de: plainDocument('', 'Morgen.'), es: plainDocument('', 'Mañana. BAJA los termina.') },
    };
    expect(saysHowToStop(document)).toBeFalse();
    const ended = withHowToStop(document, 'en');
    expect(plainTextOf(ended)).toBe('Tomorrow.\n\nSTOP ends these texts.');
    expect(plainTextOf(ended.languages?.de ?? document)).toBe('Morgen.\n\nSTOPP beendet sie.');
    expect(plainTextOf(ended.languages?.es ?? document)).toBe('Mañana. BAJA los termina.');
    expect(withHowToStop(ended, 'en')).toEqual(ended);
    for (const language of ['en', 'pt', 'es', 'fr', 'de', 'it'] as const) {
      const [word = ''] = plainTextOf(withHowToStop(plainDocument('', ''), language)).split(' ');
      expect(readTextAnswer(word).meaning).withContext(language).toBe('stop');
    }
  });
});
