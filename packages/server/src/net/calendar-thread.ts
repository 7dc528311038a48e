// The thread that takes calendars made elsewhere apart: whatever a file does to it, it can be ended.
import { bad, joinCharacters, readCalendarEvents, type ImportedCalendar, type Read } from '@convite/core';
import { answerRequests } from '../threads/answer-requests';
import type { CalendarRequest } from './calendar-reader';

/** UTF-8 (RFC 5545 §3.1.4) or nothing: a wrong guess would put wrong letters into people's calendars. */
function readOctets({ octets, houseZone }: CalendarRequest): Read<ImportedCalendar> {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(joinCharacters(octets));
  } catch {
    return bad({ code: 'calendar-not-utf8', path: '' });
  }
  return readCalendarEvents(text, houseZone);
}

answerRequests(readOctets);
