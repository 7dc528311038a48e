import './jitless';
import * as z from 'zod';
import { role } from './session';
import { zoneName } from './zone';

export const settings = z.object({
  organisation: z.string().trim().min(1).max(120),
  /** Empty until somebody fills it in: until then nothing goes out. */
  postalAddress: z
    .string()
    .trim()
    .max(500)
    .transform((text) => (text === 'Fill in your postal address in Settings' ? '' : text)),
  zone: zoneName,
  /** ISO 3166 code that national telephone numbers are read in. */
  region: z.string().regex(/^[A-Z]{2}$/),
  sender: z.object({
    name: z.string().trim().min(1).max(120),
    email: z.email(),
    replyTo: z.union([z.email(), z.literal('')]),
  }),
  /** Where letters of people are handed on to; empty for nowhere. */
  lettersTo: z.union([z.email(), z.literal('')]).default(''),
  textSender: z.string().trim().min(1).max(20),
  webCalendars: z
    .array(z.object({ name: z.string().trim().min(1).max(60), pattern: z.string().trim().min(1).max(2000) }))
    .max(10),
  topics: z.array(z.string().trim().min(1).max(60)).max(50),
  /** Watched calendars may stand inside the house's own network. */
  allowPrivateAddresses: z.boolean().default(false),
});
export type Settings = z.infer<typeof settings>;

export const member = z.object({ id: z.number(), name: z.string(), email: z.string(), role });
export type Member = z.infer<typeof member>;
export const members = z.array(member);
export const newMember = z.object({
  name: z.string().trim().min(1).max(120),
  email: z.email(),
  role,
  password: z.string().min(12).max(200),
});
export type NewMember = z.infer<typeof newMember>;
export const changeMember = z.object({ role });

export const auditRow = z.object({
  id: z.number(),
  at: z.iso.datetime(),
  by: z.string(),
  action: z.string(),
  what: z.string(),
});
export const auditRows = z.array(auditRow);
export type AuditRow = z.infer<typeof auditRow>;
