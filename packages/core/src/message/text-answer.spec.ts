import { languages } from '../time/language';
import { readTextAnswer, type TextMeaning } from './text-answer';

/** STOP, HELP and START: common practice; the other words from memory. Typed as people do on a phone. */
const said: readonly (readonly [text: string, meaning: TextMeaning | null, saysMore?: boolean])[] = [
  ['STOP', 'stop'],
  ['Stop.', 'stop'],
  [' stop!! 😡', 'stop'],
  ['please stop', 'stop'],
  ['STOP ALL', 'stop'],
  ['Stop sending me these', 'stop', true],
  ['cancel my place', 'stop', true],
  ['PARAR', 'stop'],
  ['Sair por favor', 'stop'],
  ['BAJA', 'stop'],
  ['arrêt', 'stop'],
  ['ARRETER svp', 'stop'],
  ['Abmelden', 'stop'],
  ['Stopp bitte', 'stop'],
  ['basta', 'stop'],
  ['START', 'start'],
  ['start time?', null, true],
  ['Começar', 'start'],
  ['ALTA', 'start'],
  ['Reprendre', 'start'],
  ['Starten', 'start'],
  ['inizia', 'start'],
  ['HELP', 'help'],
  ['help, I cannot find the gate', 'help', true],
  ['Ajuda', 'help'],
  ['ayuda', 'help'],
  ['AIDE', 'help'],
  ['Hilfe!', 'help'],
  ['aiuto', 'help'],
  ['Yes', 'accepted'],
  ['y', 'accepted'],
  ['Yes please 🎉', 'accepted'],
  ['thanks, yes', 'accepted'],
  ['sim, obrigada', 'accepted'],
  ['Sí', 'accepted'],
  ['si\u0301 gracias', 'accepted'],
  ['oui s’il vous plaît', 'accepted'],
  ['Ja danke', 'accepted'],
  ['SÌ grazie', 'accepted'],
  ['yes, is there parking?', null, true],
  ['no', 'declined'],
  ['No idea what this is', null, true],
  ['Não', 'declined'],
  ['non merci', 'declined'],
  ['Nein', 'declined'],
  ['no thanks', 'declined'],
  ['Maybe', 'tentative'],
  ['talvez', 'tentative'],
  ['quizás', 'tentative'],
  ['tal vez', 'tentative'],
  ['peut-être', 'tentative'],
  ['vielleicht', 'tentative'],
  ['forse', 'tentative'],
  ['Is there parking?', null, true],
  ['stopwatch', null, true],
  ['👍', null],
  ['', null],
  ['constructor', null, true],
];

describe('A text from a person', () => {
  for (const [text, meaning, saysMore = false] of said)
    it(`“${text}” means ${meaning ?? 'what a person must read'}`, () =>
      expect(readTextAnswer(text)).toEqual({ meaning, saysMore }));

  it('can stop, start, ask and answer in every language of the house', () => {
    const meanings: TextMeaning[] = ['stop', 'start', 'help', 'accepted', 'declined', 'tentative'];
    for (const meaning of meanings)
      expect(said.filter(([, one]) => one === meaning).length)
        .withContext(meaning)
        .toBeGreaterThanOrEqual(languages.length - 1);
  });

  it('of any length is read in time', () => {
    const long = 'please '.repeat(280);
    expect(readTextAnswer(`${long}stop`).meaning).toBe('stop');
  });
});
