import * as z from 'zod';
import { firingKind } from './countdown';

/** One message to one person, as a line of what they got. */
export const messageRow = z.object({
  deliveryId: z.number(),
  kind: firingKind,
  channel: z.enum(['email', 'text']),
  /** Of the cue or digest; empty for others. */
  name: z.string(),
  eventTitle: z.string(),
  state: z.enum(['queued', 'sending', 'sent', 'delivered', 'failed', 'bounced', 'skipped', 'stopped']),
  /** When it left; null when it did not. */
  sentAt: z.iso.datetime().nullable(),
  /** In the words of whoever refused it, or why it was not sent; empty otherwise. */
  answer: z.string(),
  /** Can be shown as it was. */
  isKept: z.boolean(),
});
export type MessageRow = z.infer<typeof messageRow>;
/** Latest first. */
export const messagePage = z.object({ rows: z.array(messageRow), next: z.number().nullable() });
export type MessagePage = z.infer<typeof messagePage>;
export const messageQuery = z.object({ before: z.coerce.number().int().min(0).default(0) });

/** The very message that somebody got: its text and its calendar octet for octet. */
export const sentMessage = z.object({
  channel: z.enum(['email', 'text']),
  sentAt: z.iso.datetime().nullable(),
  to: z.string(),
  /** Empty for a text. */
  subject: z.string(),
  text: z.string(),
  html: z.string(),
  /** iCalendar; empty where it carried none. */
  calendar: z.string(),
});
export type SentMessage = z.infer<typeof sentMessage>;
