import type { Settings } from '@convite/contract';
import { sayPace } from './sender-words';
import { sayWeekday, sayZone, timeWords, type Pace, type Parts } from '@convite/core';
import type { PartWords } from '../ui/form/meanwhile';

type SettingsPart =
  | 'organisation'
  | 'address'
  | 'zone'
  | 'habits'
  | 'region'
  | 'page'
  | 'look'
  | 'sender'
  | 'lettersTo'
  | 'textSender'
  | 'pace'
  | 'webCalendars'
  | 'keepMonths'
  | 'topics'
  | 'avoidWords'
  | 'textPrice'
  | 'allowPrivateAddresses'
  | 'requiresSecondFactor'
  | 'pressure'
  | 'quiet'
  | 'countsLinks'
  | 'countsOpens'
  | 'notesPages'
  | 'asksRelease'
  | 'workdays'
  | 'standby';

/** Parts of the settings that only make sense together. */
const parts: Parts<Settings, SettingsPart> = {
  organisation: ['organisation'],
  address: ['postalAddress'],
  zone: ['zone'],
  habits: ['dayOrder', 'clock', 'firstWeekday', 'language'],
  region: ['region'],
  page: ['page'],
  look: ['look'],
  sender: ['sender'],
  lettersTo: ['lettersTo'],
  textSender: ['textSender'],
  pace: ['pace'],
  webCalendars: ['webCalendars'],
  keepMonths: ['keepMonths'],
  topics: ['topics'],
  avoidWords: ['avoidWords'],
  textPrice: ['textPrice'],
  allowPrivateAddresses: ['allowPrivateAddresses'],
  requiresSecondFactor: ['requiresSecondFactor'],
  pressure: ['pressure'],
  quiet: ['quiet'],
  countsLinks: ['countsLinks'],
  countsOpens: ['countsOpens'],
  notesPages: ['notesPages'],
  asksRelease: ['asksRelease'],
  workdays: ['workdays', 'holidays'],
  standby: ['standby', 'askAbove'],
};

const names: Readonly<Record<SettingsPart, string>> = {
  organisation: 'Name',
  address: 'Postal address',
  zone: 'Time zone',
  habits: 'Days and hours',
  region: 'Region of telephone numbers',
  page: 'Public pages',
  look: 'Look of mails',
  sender: 'Sender of mail',
  lettersTo: 'Letters go on to',
  textSender: 'Sender of texts',
  pace: 'Pace',
  webCalendars: 'Web calendars',
  keepMonths: 'What is kept',
  topics: 'Topics',
  avoidWords: 'Words to avoid',
  textPrice: 'Price of a text',
  allowPrivateAddresses: 'Addresses inside the house',
  requiresSecondFactor: 'Second factor',
  pressure: 'Contact pressure',
  quiet: 'Quiet hours',
  countsLinks: 'Pressed links',
  countsOpens: 'Opened emails',
  notesPages: 'What people open',
  asksRelease: 'Second reader',
  workdays: 'Working days',
  standby: 'Standby',
};

export const settingsWords: PartWords<Settings, SettingsPart> = { parts, names, say: sayPart };

function sayPart(settings: Settings, part: SettingsPart): string {
  switch (part) {
    case 'organisation':
      return settings.organisation;
    case 'address':
      return settings.postalAddress;
    case 'zone':
      return sayZone(settings.zone);
    case 'habits':
      return `${settings.dayOrder}, ${settings.clock} hours, weeks from ${sayWeekday(settings.firstWeekday)}, to subscribers in ${timeWords[settings.language].englishName}`;
    case 'region':
      return settings.region;
    case 'look': {
      const { design, face, mark, carriesPictures, header, signature, footer } = settings.look;
      const words = [mark ? 'with a mark' : '', carriesPictures ? 'pictures inside' : '', header, signature, footer];
      return [design, face, ...words].filter(Boolean).join(' · ');
    }
    case 'page':
      return [settings.page.colour, settings.page.mapPattern].filter(Boolean).join(', ');
    case 'sender':
      return [settings.sender.name, settings.sender.email, settings.sender.replyTo].filter(Boolean).join(', ');
    case 'lettersTo':
      return settings.lettersTo || 'nobody';
    case 'textSender':
      return settings.textSender;
    case 'pace':
      return `email ${boundOf(settings.pace.email)}; texts ${boundOf(settings.pace.text)}`;
    case 'webCalendars':
      return settings.webCalendars.map(({ name }) => name).join(', ') || 'none';
    case 'keepMonths':
      return settings.keepMonths === null ? 'for ever' : `${settings.keepMonths} months`;
    case 'topics':
      return settings.topics.join(', ') || 'none';
    case 'avoidWords':
      return settings.avoidWords.join(', ') || 'none';
    case 'textPrice':
      return settings.textPrice ? `${settings.textPrice.perPart} ${settings.textPrice.currency}` : 'not known';
    case 'allowPrivateAddresses':
      return settings.allowPrivateAddresses ? 'allowed' : 'not allowed';
    case 'requiresSecondFactor':
      return settings.requiresSecondFactor ? 'asked of everybody' : 'as each likes';
    case 'pressure':
      return settings.pressure.perWeek === null ? 'no limit' : `at most ${settings.pressure.perWeek} a week`;
    case 'countsLinks':
      return settings.countsLinks === 'not' ? 'not counted' : `counted ${settings.countsLinks.replace('-', ' ')}`;
    case 'countsOpens':
      return settings.countsOpens ? 'counted' : 'not counted';
    case 'notesPages':
      return settings.notesPages ? 'noted' : 'not noted';
    case 'asksRelease':
      return settings.asksRelease ? 'asked for' : 'not asked for';
    case 'standby': {
      const { minutes, email, mobile } = settings.standby;
      return [`${minutes} minutes`, email, mobile, `asks above ${settings.askAbove}`].filter(Boolean).join(', ');
    }
    case 'workdays':
      return `${settings.workdays.map(sayWeekday).join(', ')}; ${settings.holidays.length} free days`;
    case 'quiet':
      return settings.quiet ? `${settings.quiet.from} to ${settings.quiet.until}` : 'none';
  }
}

const boundOf = (pace: Pace): string => sayPace(pace) || 'without a bound';
