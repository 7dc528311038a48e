import type { Language } from '../time/language';

/** How the house speaks to its readers. */
export const tones = ['plain', 'formal', 'warm', 'playful'] as const;
export type Tone = (typeof tones)[number];

/** What stands on the buttons of an answer. */
export interface AnswerWords {
  readonly yes: string;
  readonly perhaps: string;
  readonly no: string;
}

/** How a message begins, to somebody by name and to who has none. */
export interface OpeningWords {
  readonly to: (name: string) => string;
  readonly toNobody: string;
}

/** What stands in blocks about an event, in the language of whoever reads them. */
export interface BlockWords {
  readonly when: string;
  readonly where: string;
  /** On what leads to where the event is held online. */
  readonly join: string;
  /** Of a web calendar, by its name. */
  readonly addTo: (calendar: string) => string;
  readonly calendarFile: string;
  /** Of what somebody put themselves down for. */
  readonly places: string;
  readonly dates: string;
  readonly reference: string;
  /** Below every message: what leads to the reader's own choices, and out of all of them. */
  readonly choose: string;
  readonly optOut: string;
  /** Of a sender whose mail nobody reads. */
  readonly noAnswers: string;
  readonly answers: Readonly<Record<Tone, AnswerWords>>;
  readonly openings: Readonly<Record<Tone, OpeningWords>>;
}

const answers = (yes: string, perhaps: string, no: string): AnswerWords => ({ yes, perhaps, no });
/** `…` stands for the name. */
const opening = (named: string, toNobody: string): OpeningWords => ({
  to: (name) => named.replace('…', () => name),
  toNobody,
});

/** From memory. */
export const blockWords: Readonly<Record<Language, BlockWords>> = {
  en: {
    ...{ when: 'When', where: 'Where', join: 'Join online', calendarFile: 'Calendar file' },
    ...{ places: 'Places', dates: 'Dates', reference: 'Reference' },
    ...{ choose: 'Choose what you get', optOut: 'Opt out of these messages' },
    noAnswers: 'Nobody reads answers to this address.',
    addTo: (calendar) => `Add to ${calendar}`,
    answers: {
      plain: answers('I am coming', 'Perhaps', 'I cannot come'),
      formal: answers('I accept', 'I may attend', 'I regret I cannot'),
      warm: answers('Gladly, I will be there', 'I hope so', 'Sadly not this time'),
      playful: answers('Count me in', 'Ask me later', 'Next time'),
    },
    openings: {
      plain: opening('Dear …,', 'Hello,'),
      formal: opening('Dear …,', 'Dear reader,'),
      warm: opening('Dear …, how good to write to you.', 'Dear friend,'),
      playful: opening('Hello …!', 'Hello there!'),
    },
  },
  pt: {
    ...{ when: 'Quando', where: 'Onde', join: 'Entrar em linha', calendarFile: 'Ficheiro de calendário' },
    ...{ places: 'Lugares', dates: 'Datas', reference: 'Referência' },
    ...{ choose: 'Escolher o que recebo', optOut: 'Deixar de receber estas mensagens' },
    noAnswers: 'Ninguém lê respostas a este endereço.',
    addTo: (calendar) => `Juntar a ${calendar}`,
    answers: {
      plain: answers('Vou', 'Talvez', 'Não posso'),
      formal: answers('Aceito o convite', 'Talvez compareça', 'Lamento, não posso'),
      warm: answers('Com todo o gosto', 'Espero que sim', 'Desta vez não, com pena'),
      playful: answers('Contem comigo', 'Depois digo', 'Fica para a próxima'),
    },
    openings: {
      plain: opening('Olá …,', 'Olá,'),
      formal: opening('Exmo(a). Sr(a). …,', 'Exmos. Senhores,'),
      warm: opening('Olá …, que bom escrever-lhe.', 'Olá, que bom escrever-lhe.'),
      playful: opening('Viva, …!', 'Viva!'),
    },
  },
  es: {
    ...{ when: 'Cuándo', where: 'Dónde', join: 'Entrar en línea', calendarFile: 'Archivo de calendario' },
    ...{ places: 'Plazas', dates: 'Fechas', reference: 'Referencia' },
    ...{ choose: 'Elegir lo que recibo', optOut: 'Dejar de recibir estos mensajes' },
    noAnswers: 'Nadie lee las respuestas a esta dirección.',
    addTo: (calendar) => `Añadir a ${calendar}`,
    answers: {
      plain: answers('Voy', 'Quizá', 'No puedo'),
      formal: answers('Acepto la invitación', 'Quizá asista', 'Lamento no poder asistir'),
      warm: answers('Con mucho gusto', 'Espero que sí', 'Esta vez no, con pena'),
      playful: answers('Contad conmigo', 'Ya os diré', 'La próxima'),
    },
    openings: {
      plain: opening('Hola, …:', 'Hola:'),
      formal: opening('Estimado/a …:', 'Estimados señores:'),
      warm: opening('Querido/a …, qué alegría escribirle.', 'Querido amigo, querida amiga:'),
      playful: opening('¡Hola, …!', '¡Hola!'),
    },
  },
  fr: {
    ...{ when: 'Quand', where: 'Où', join: 'Rejoindre en ligne', calendarFile: 'Fichier d’agenda' },
    ...{ places: 'Places', dates: 'Dates', reference: 'Référence' },
    ...{ choose: 'Choisir ce que je reçois', optOut: 'Ne plus recevoir ces messages' },
    noAnswers: 'Personne ne lit les réponses à cette adresse.',
    addTo: (calendar) => `Ajouter à ${calendar}`,
    answers: {
      plain: answers('Je viens', 'Peut-être', 'Je ne peux pas'),
      formal: answers('J’accepte l’invitation', 'Je viendrai peut-être', 'Je regrette de ne pouvoir venir'),
      warm: answers('Avec grand plaisir', 'Je l’espère', 'Hélas, pas cette fois'),
      playful: answers('Comptez sur moi', 'Je vous dirai', 'La prochaine fois'),
    },
    openings: {
      plain: opening('Bonjour …,', 'Bonjour,'),
      formal: opening('Madame, Monsieur …,', 'Madame, Monsieur,'),
      warm: opening('Cher·e …, quel plaisir de vous écrire.', 'Cher·e ami·e,'),
      playful: opening('Salut … !', 'Salut !'),
    },
  },
  de: {
    ...{ when: 'Wann', where: 'Wo', join: 'Online teilnehmen', calendarFile: 'Kalenderdatei' },
    ...{ places: 'Plätze', dates: 'Termine', reference: 'Nummer' },
    ...{ choose: 'Auswählen, was ich bekomme', optOut: 'Diese Nachrichten abbestellen' },
    noAnswers: 'Antworten an diese Adresse liest niemand.',
    addTo: (calendar) => `In ${calendar} eintragen`,
    answers: {
      plain: answers('Ich komme', 'Vielleicht', 'Ich kann nicht'),
      formal: answers('Ich nehme die Einladung an', 'Ich komme vielleicht', 'Ich muss leider absagen'),
      warm: answers('Sehr gerne', 'Ich hoffe es', 'Diesmal leider nicht'),
      playful: answers('Ich bin dabei', 'Sag ich noch', 'Nächstes Mal'),
    },
    openings: {
      plain: opening('Guten Tag …,', 'Guten Tag,'),
      formal: opening('Sehr geehrte/r …,', 'Sehr geehrte Damen und Herren,'),
      warm: opening('Liebe/r …, schön, Ihnen zu schreiben.', 'Liebe Freundinnen und Freunde,'),
      playful: opening('Hallo …!', 'Hallo!'),
    },
  },
  it: {
    ...{ when: 'Quando', where: 'Dove', join: 'Partecipa in linea', calendarFile: 'File di calendario' },
    ...{ places: 'Posti', dates: 'Date', reference: 'Riferimento' },
    ...{ choose: 'Scegli che cosa ricevere', optOut: 'Non ricevere più questi messaggi' },
    noAnswers: 'Nessuno legge le risposte a questo indirizzo.',
    addTo: (calendar) => `Aggiungi a ${calendar}`,
    answers: {
      plain: answers('Vengo', 'Forse', 'Non posso'),
      formal: answers('Accetto l’invito', 'Forse sarò presente', 'Purtroppo non potrò esserci'),
      warm: answers('Con molto piacere', 'Spero di sì', 'Questa volta no, con dispiacere'),
      playful: answers('Ci sono', 'Ve lo dirò', 'La prossima volta'),
    },
    openings: {
      plain: opening('Ciao …,', 'Buongiorno,'),
      formal: opening('Gentile …,', 'Gentili signore, gentili signori,'),
      warm: opening('Caro/a …, che piacere scriverLe.', 'Cari amici,'),
      playful: opening('Ciao …!', 'Ciao!'),
    },
  },
};
