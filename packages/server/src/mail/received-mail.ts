import type { PersonMessage, Read } from '@convite/core';
import type { RefusalAbout } from './message';

/** A calendar part of a message, and what was read from it; null when it is no answer of a calendar. */
export interface ReceivedCalendar {
  /** The beginning of it, as much as is kept. */
  readonly raw: string;
  /** Of its first event, also when the rest cannot be read; empty when it names none. */
  readonly uid: string;
  readonly read: Read<PersonMessage[]> | null;
}

/** A delivery status notice (RFC 3464). */
export interface ReceivedBounce {
  /** Given up for good; a delay is none. */
  readonly isFailed: boolean;
  readonly about: RefusalAbout;
  /** The other server's words. */
  readonly text: string;
}

/** A message that is not taken now: its sender keeps it, and is told why. */
export class NotNow extends Error {}

/** A message that came in, taken apart: what it holds is bounded, and read where reading can be ended. */
export interface ReceivedMail {
  /** Envelope recipients, lower case. */
  readonly to: readonly string[];
  /** Lower case; what a stranger claims. */
  readonly fromAddress: string;
  readonly subject: string;
  readonly text: string;
  readonly calendars: readonly ReceivedCalendar[];
  readonly bounce: ReceivedBounce | null;
  /** Message-ID of what somebody called unwanted, as their mail provider reports it (RFC 5965); null for no such report. */
  readonly complaint: string | null;
  /** RFC 3834: written by a machine. */
  readonly isAutomatic: boolean;
  /** Is the sender's address proved: by SPF or DKIM in line with it, or by a relay that we trust? */
  isProved(): Promise<boolean>;
}
