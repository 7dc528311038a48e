import { readPersonMessages, uidIn } from '@convite/core';
import type { ReceivedMail } from '../mail/received-mail';
import type { Stage } from './stage';

/** A message as it is taken apart, from somebody whose address is proved, to their own address here when they have one. */
export function calendarMail(calendar: string, from: string, more: Partial<ReceivedMail> = {}): ReceivedMail {
  return {
    to: ['replies@in.convite.example'],
    fromAddress: from,
    subject: '',
    text: '',
    calendars: [{ raw: calendar, uid: uidIn(calendar), read: readPersonMessages(calendar, from) }],
    bounce: null,
    complaint: null,
    isAutomatic: false,
    isProved: () => Promise.resolve(true),
    ...more,
  };
}

/** Where the calendar of a person sends its answers. */
export const guestAddress = ({ context }: Stage, personId: number): string => context.links.guestAddress(personId);
