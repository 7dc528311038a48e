import './jitless';
import * as z from 'zod';

/** What the stand-ins answer; the server hands it through. */
export const mailbox = z.object({
  address: z.string(),
  count: z.number(),
  lastAt: z.string(),
  lastSubject: z.string(),
});
export const mailboxes = z.array(mailbox);
export type Mailbox = z.infer<typeof mailbox>;

export const mailSummary = z.object({
  id: z.string(),
  to: z.string(),
  at: z.string(),
  from: z.string(),
  subject: z.string(),
  method: z.string(),
});
export const mailSummaries = z.array(mailSummary);
export type MailSummary = z.infer<typeof mailSummary>;

export const mailMessage = mailSummary.extend({
  envelopeFrom: z.string(),
  html: z.string(),
  text: z.string(),
  headers: z.array(z.object({ name: z.string(), value: z.string() })),
  raw: z.string(),
  calendar: z.string(),
  attachments: z.array(z.string()),
});
export type MailMessage = z.infer<typeof mailMessage>;

/** What a person's calendar does with an invitation: answers, proposes another time, passes it on, or asks for it again. */
export const answer = z.object({
  state: z.enum(['accepted', 'tentative', 'declined', 'counter', 'delegated', 'refresh']),
  comment: z.string().max(500).default(''),
  /** Only this date of a series, by its start as the calendar shows it; empty for all. */
  recurrence: z.string().max(40).default(''),
  /** For a proposal: minutes later than planned, negative for earlier. */
  shiftMinutes: z.number().int().min(-100_000).max(100_000).default(0),
  /** For passing on: the other person's address. */
  to: z.union([z.email(), z.literal('')]).default(''),
});
export type Answer = z.infer<typeof answer>;

export const phone = z.object({ number: z.string(), count: z.number(), lastAt: z.string(), lastText: z.string() });
export const phones = z.array(phone);
export type Phone = z.infer<typeof phone>;
export const phoneText = z.object({
  id: z.string(),
  at: z.string(),
  from: z.string(),
  to: z.string(),
  text: z.string(),
});
export const phoneTexts = z.array(phoneText);
export type PhoneText = z.infer<typeof phoneText>;

export const calendarEntry = z.object({
  uid: z.string(),
  sequence: z.number(),
  title: z.string(),
  place: z.string(),
  start: z.string(),
  end: z.string(),
  zone: z.string(),
  status: z.string(),
  description: z.string(),
  /** The rule as it stands, for a series; and its next dates, each with its state. */
  rule: z.string(),
  dates: z.array(z.object({ at: z.string(), recurrence: z.string(), status: z.string() })),
});
export const calendarEntries = z.array(calendarEntry);
export type CalendarEntry = z.infer<typeof calendarEntry>;

export const mailFault = z.enum(['none', 'slow', 'refuse', 'defer', 'bounce', 'lose']);
export const textFault = z.enum(['none', 'slow', 'refuse', 'lose']);
export const faults = z.object({ mail: mailFault, text: textFault });
export type Faults = z.infer<typeof faults>;

/** The clock's next stop: real time again, the next thing due, or so many minutes on (it stops earlier at anything that is due on the way). */
export const moveClock = z.union([
  z.object({ to: z.enum(['next', 'now']) }),
  z.object({ minutes: z.number().int().min(1).max(100_000) }),
]);
export type MoveClock = z.infer<typeof moveClock>;
export const clockState = z.object({
  now: z.iso.datetime(),
  zone: z.string(),
  offsetMs: z.number(),
  stoppedFor: z.string(),
});
export type ClockState = z.infer<typeof clockState>;
