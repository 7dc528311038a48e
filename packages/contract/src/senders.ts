import './jitless';
import * as z from 'zod';

/** Somebody as whom the house writes, beside itself. */
export const senderFields = z.object({
  name: z.string().trim().min(1).max(120),
  email: z.email().max(254),
  /** Empty for the address itself. */
  replyTo: z.union([z.email(), z.literal('')]),
  /** Empty for the house's. */
  textSender: z.string().trim().max(20),
  /** In place of the house's; empty for that. */
  signature: z.string().trim().max(500),
  /** Nobody reads what is answered, and every message says so. */
  takesNoAnswers: z.boolean(),
  /** Gets the first message of each sending, as it went; empty for nobody. */
  copyTo: z.union([z.email(), z.literal('')]),
});
export type SenderFields = z.infer<typeof senderFields>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const senderChange = senderFields.extend({ was: senderFields.optional() });
export type SenderChange = z.infer<typeof senderChange>;

/** Why the house writes in its own name instead. */
export const senderFaults = ['unproven', 'paused'] as const;
export const senderRow = senderFields.extend({
  id: z.number(),
  /** When somebody who reads its mail pressed the link; null until then. */
  provenAt: z.iso.datetime().nullable(),
  isPaused: z.boolean(),
  fault: z.enum(senderFaults).nullable(),
  /** Of its messages in the last thirty days: taken by the mail server or the gateway, and refused or come back. */
  lately: z.object({ sent: z.number(), failed: z.number() }),
  /** Events that write as this one. */
  events: z.number(),
});
export const senderRows = z.array(senderRow);
export type SenderRow = z.infer<typeof senderRow>;

/** What the names of a sender's address say to other mail servers. */
export const senderName = z.object({
  what: z.enum(['SPF', 'DKIM', 'DMARC']),
  /** Where it was looked for. */
  at: z.string(),
  /** As it stands there; empty for nothing. */
  found: z.string(),
  isGood: z.boolean(),
  /** What to do about it; empty for nothing. */
  advice: z.string(),
});
export const senderNames = z.array(senderName);
export type SenderName = z.infer<typeof senderName>;

export const chooseSender = z.object({ senderId: z.number().int().positive().nullable() });
