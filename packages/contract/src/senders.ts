import './jitless';
import * as z from 'zod';
import { noPace } from '@convite/core';
import { pace } from './settings';

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
  /** Readers see an address of ours in its place; what they answer is kept here, and handed on to it. */
  hidesAddress: z.boolean().default(false),
  /** Its own bound for each channel, beside the house's. */
  pace: pace.default(noPace),
});
export type SenderFields = z.infer<typeof senderFields>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const senderChange = senderFields.extend({ was: senderFields.optional() });
export type SenderChange = z.infer<typeof senderChange>;

/** A number that answers; anything else is a name that a phone shows. */
export const isTextNumber = (sender: string): boolean => /^\+\d{7,15}$/.test(sender);
export const textCode = z.object({
  code: z
    .string()
    .trim()
    .regex(/^\d{6}$/),
});

/** What became of a sender's messages in thirty days. */
export const senderHealth = z.object({
  /** Taken by the mail server or the gateway. */
  accepted: z.number(),
  /** Not taken, for good. */
  refused: z.number(),
  /** Taken first, and come back. */
  bounced: z.number(),
  /** Readers who called one unwanted. */
  complaints: z.number(),
  /** How often it was paused. */
  pauses: z.number(),
});
export type SenderHealth = z.infer<typeof senderHealth>;

/** Why the house writes in its own name instead. */
export const senderFaults = ['unproven', 'paused'] as const;
export const senderRow = senderFields.extend({
  id: z.number(),
  /** When somebody who reads its mail pressed the link; null until then. */
  provenAt: z.iso.datetime().nullable(),
  /** When its number for texts said yes; null until then, and for one that is a name. */
  textProvenAt: z.iso.datetime().nullable(),
  isPaused: z.boolean(),
  fault: z.enum(senderFaults).nullable(),
  /** Texts come from the house's: its own number has not said yes. */
  hasTextFault: z.boolean(),
  lately: senderHealth,
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
