import type { Logger } from 'pino';
import { bad, type ImportedCalendar, type Read } from '@convite/core';
import { openThread, TooHard } from '../threads/bounded-thread';

/** What the thread is asked. */
export interface CalendarRequest {
  readonly octets: Uint8Array;
  readonly houseZone: string;
}

/** Reads calendars made elsewhere in a thread of its own: the process serves everybody else meanwhile. */
export interface CalendarReader {
  /**
   * Problem codes beside those of core's reader: calendar-not-utf8, calendar-too-hard.
   * @param octets go over to the thread, and are empty here afterwards
   * @param houseZone zone of times that name none
   */
  read(octets: Uint8Array<ArrayBuffer>, houseZone: string): Promise<Read<ImportedCalendar>>;
  close(): Promise<void>;
}

/** The largest that is taken takes about 2 s. */
const readMs = 20_000;
const memoryMb = 512;

export function openCalendarReader(log: Logger): CalendarReader {
  const source = new URL('./calendar-thread.ts', import.meta.url);
  const thread = openThread<CalendarRequest>({ source, memoryMb, log });
  return {
    async read(octets, houseZone) {
      try {
        return (await thread.ask({ octets, houseZone }, readMs, [octets.buffer])) as Read<ImportedCalendar>;
      } catch (error) {
        if (!(error instanceof TooHard)) throw error;
        log.warn({ error }, 'a calendar was too hard to read');
        return bad({ code: 'calendar-too-hard', path: '' });
      }
    },
    close: () => thread.close(),
  };
}
