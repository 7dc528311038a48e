/** Languages in which days and times are said to subscribers. */
export const languages = ['en', 'pt', 'es', 'fr', 'de', 'it'] as const;
export type Language = (typeof languages)[number];

export const isLanguage = (text: string): text is Language => languages.some((one) => one === text);

/** A language by its tag or its name, as files and people write it: `pt-PT`, `Português`, `German`. @returns null for none of ours */
export function readLanguage(text: string): Language | null {
  const wanted = text.trim().toLowerCase();
  const [tag = ''] = wanted.split(/[-_]/);
  if (isLanguage(tag)) return tag;
  return (
    languages.find((one) =>
      [timeWords[one].name, timeWords[one].englishName].some((name) => name.toLowerCase() === wanted),
    ) ?? null
  );
}

/** What stands around days and times. */
export interface TimeWords {
  readonly name: string;
  readonly englishName: string;
  /** Between two days, and between two times of a day. */
  readonly toDay: string;
  readonly toTime: string;
  /** Behind a time: by whose clock. */
  readonly timeOf: (city: string) => string;
  readonly forYou: string;
  /** The clocks have gone back since. */
  readonly again: string;
  readonly allDay: string;
  /** Behind the number of a day. */
  readonly dayMark: string;
}

/** The words are from memory; names of days and months are the runtime's (CLDR). */
export const timeWords: Readonly<Record<Language, TimeWords>> = {
  en: {
    ...{ name: 'English', englishName: 'English', toDay: 'to', toTime: 'to', timeOf: (city) => ` ${city} time` },
    ...{ forYou: 'for you', again: 'after the clocks went back', allDay: 'all day', dayMark: '' },
  },
  pt: {
    ...{
      name: 'Português',
      englishName: 'Portuguese',
      toDay: 'a',
      toTime: 'às',
      timeOf: (city) => `, hora de ${city}`,
    },
    ...{ forYou: 'para si', again: 'depois de atrasar o relógio', allDay: 'todo o dia', dayMark: '' },
  },
  es: {
    ...{ name: 'Español', englishName: 'Spanish', toDay: 'al', toTime: 'a', timeOf: (city) => `, hora de ${city}` },
    ...{ forYou: 'para usted', again: 'tras atrasar el reloj', allDay: 'todo el día', dayMark: '' },
  },
  fr: {
    ...{ name: 'Français', englishName: 'French', toDay: 'au', toTime: 'à', timeOf: (city) => `, heure de ${city}` },
    ...{ forYou: 'pour vous', again: 'après le recul de l’heure', allDay: 'toute la journée', dayMark: '' },
  },
  de: {
    ...{ name: 'Deutsch', englishName: 'German', toDay: 'bis', toTime: 'bis', timeOf: (city) => `, Ortszeit ${city}` },
    ...{ forYou: 'bei Ihnen', again: 'nach der Umstellung der Uhr', allDay: 'ganztägig', dayMark: '.' },
  },
  it: {
    ...{ name: 'Italiano', englishName: 'Italian', toDay: 'al', toTime: 'alle', timeOf: (city) => `, ora di ${city}` },
    ...{ forYou: 'per lei', again: 'dopo il ritorno all’ora solare', allDay: 'tutto il giorno', dayMark: '' },
  },
};

interface Names {
  /** From Monday on, short. */
  readonly weekdays: readonly string[];
  readonly months: readonly string[];
}
const known = new Map<Language, Names>();

/** Short names of days and months; without the point that some languages set behind them. */
export function shortNames(language: Language): Names {
  let names = known.get(language);
  if (!names) known.set(language, (names = language === 'en' ? english : namesOf(language)));
  return names;
}

function namesOf(language: Language): Names {
  const say = (format: Intl.DateTimeFormatOptions, atMs: number): string =>
    // As our own words are: those of Portugal.
    new Intl.DateTimeFormat(language === 'pt' ? 'pt-PT' : language, { ...format, timeZone: 'UTC' })
      .format(atMs)
      .replace(/\.$/, '');
  return {
    // 1 January 2001 was a Monday.
    weekdays: Array.from({ length: 7 }, (_, index) => say({ weekday: 'short' }, Date.UTC(2001, 0, 1 + index))),
    months: Array.from({ length: 12 }, (_, index) => say({ month: 'short' }, Date.UTC(2001, index, 1))),
  };
}

/** As they have always been written here: runtimes differ on September. */
const english: Names = {
  weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'],
  months: ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'],
};
