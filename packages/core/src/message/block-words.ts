import type { Language } from '../time/language';

/** What stands in blocks about an event, in the language of whoever reads them. */
export interface BlockWords {
  readonly when: string;
  readonly where: string;
  /** On what leads to where the event is held online. */
  readonly join: string;
  /** Of a web calendar, by its name. */
  readonly addTo: (calendar: string) => string;
  readonly calendarFile: string;
  readonly yes: string;
  readonly perhaps: string;
  readonly no: string;
}

/** From memory. */
export const blockWords: Readonly<Record<Language, BlockWords>> = {
  en: {
    ...{
      when: 'When',
      where: 'Where',
      join: 'Join online',
      addTo: (calendar) => `Add to ${calendar}`,
      calendarFile: 'Calendar file',
    },
    ...{ yes: 'I am coming', perhaps: 'Perhaps', no: 'I cannot come' },
  },
  pt: {
    ...{
      when: 'Quando',
      where: 'Onde',
      join: 'Entrar em linha',
      addTo: (calendar) => `Juntar a ${calendar}`,
      calendarFile: 'Ficheiro de calendário',
    },
    ...{ yes: 'Vou', perhaps: 'Talvez', no: 'Não posso' },
  },
  es: {
    ...{
      when: 'Cuándo',
      where: 'Dónde',
      join: 'Entrar en línea',
      addTo: (calendar) => `Añadir a ${calendar}`,
      calendarFile: 'Archivo de calendario',
    },
    ...{ yes: 'Voy', perhaps: 'Quizá', no: 'No puedo' },
  },
  fr: {
    ...{
      when: 'Quand',
      where: 'Où',
      join: 'Rejoindre en ligne',
      addTo: (calendar) => `Ajouter à ${calendar}`,
      calendarFile: 'Fichier d’agenda',
    },
    ...{ yes: 'Je viens', perhaps: 'Peut-être', no: 'Je ne peux pas' },
  },
  de: {
    ...{
      when: 'Wann',
      where: 'Wo',
      join: 'Online teilnehmen',
      addTo: (calendar) => `In ${calendar} eintragen`,
      calendarFile: 'Kalenderdatei',
    },
    ...{ yes: 'Ich komme', perhaps: 'Vielleicht', no: 'Ich kann nicht' },
  },
  it: {
    ...{
      when: 'Quando',
      where: 'Dove',
      join: 'Partecipa in linea',
      addTo: (calendar) => `Aggiungi a ${calendar}`,
      calendarFile: 'File di calendario',
    },
    ...{ yes: 'Vengo', perhaps: 'Forse', no: 'Non posso' },
  },
};
