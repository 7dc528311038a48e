import { plainLook, type Settings } from '@convite/contract';
import { noPace, noPressure } from '@convite/core';

/** How a house stands before anybody settled anything. @param email whoever owns it */
export const newHouse = (organisation: string, email: string): Settings => ({
  organisation,
  // Nothing goes out before it is filled in; "Needs you" says so.
  postalAddress: '',
  zone: 'UTC',
  region: 'PT',
  sender: { name: organisation, email, replyTo: '' },
  lettersTo: '',
  textSender: 'Convite',
  pace: { email: noPace, text: noPace },
  keepMonths: null,
  webCalendars: [],
  topics: [],
  allowPrivateAddresses: false,
  page: { colour: '#4a2545', mapPattern: '' },
  look: plainLook,
  dayOrder: 'day-first',
  clock: '24',
  language: 'en',
  firstWeekday: 1,
  quiet: null,
  pressure: noPressure,
  countsLinks: 'not',
  countsOpens: false,
  asksRelease: false,
  standby: { minutes: 10, email: '', mobile: '' },
  askAbove: 100,
  workdays: [1, 2, 3, 4, 5],
  holidays: [],
  notesPages: false,
  avoidWords: [],
  textPrice: null,
  requiresSecondFactor: false,
});
