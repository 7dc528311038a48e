import './jitless';
import * as z from 'zod';

/** What other systems are told of. */
export const webhookKinds = ['opt-out', 'bounce', 'reply', 'registration'] as const;
export type WebhookKind = (typeof webhookKinds)[number];

export const webhookFields = z.object({
  name: z.string().trim().min(1).max(120),
  url: z
    .string()
    .trim()
    .max(2000)
    .regex(/^https?:\/\//i, 'begins with https:// or http://'),
  kinds: z.array(z.enum(webhookKinds)).min(1),
  isOn: z.boolean(),
});
export type WebhookFields = z.infer<typeof webhookFields>;
export const webhook = webhookFields.extend({
  id: z.number(),
  /** It did not answer, or refused, since then; null while all is well. */
  failingSince: z.iso.datetime().nullable(),
  /** Calls that wait. */
  waiting: z.number(),
});
export type Webhook = z.infer<typeof webhook>;
export const webhooks = z.array(webhook);
/** The secret by which calls are signed is shown this once. */
export const madeWebhook = z.object({ id: z.number(), secret: z.string() });
export type MadeWebhook = z.infer<typeof madeWebhook>;

export const webhookCallStates = ['waiting', 'done', 'failed'] as const;
export const webhookCall = z.object({
  id: z.number(),
  kind: z.enum([...webhookKinds, 'cue', 'test']),
  state: z.enum(webhookCallStates),
  at: z.iso.datetime(),
  attempts: z.number(),
  /** What it answered last, in words; empty before the first attempt. */
  answer: z.string(),
  nextAt: z.iso.datetime(),
});
export type WebhookCall = z.infer<typeof webhookCall>;
export const webhookCalls = z.object({ rows: z.array(webhookCall), next: z.number().nullable() });
export type WebhookCalls = z.infer<typeof webhookCalls>;
export const webhookCallQuery = z.object({ before: z.coerce.number().int().min(0).default(0) });

/** What is posted. Of the person as they stand when it goes: who was erased meanwhile is only a number. */
export const webhookBody = z
  .object({
    id: z.string().describe('The same when it is posted again.'),
    kind: z.enum([...webhookKinds, 'cue', 'test']),
    at: z.iso.datetime().describe('When it happened.'),
    subscriber: z.object({ id: z.number(), email: z.string(), mobile: z.string() }).nullable(),
    event: z.object({ id: z.number(), title: z.string(), occurrence: z.string() }).nullable(),
    channel: z.enum(['email', 'text']).nullable(),
    detail: z
      .string()
      .describe('The answer, the state of the place, what the other server said, or the name of the cue that called.'),
  })
  .meta({ id: 'Webhook' });
export type WebhookBody = z.infer<typeof webhookBody>;
