import * as z from 'zod';

/** Something that looks as if somebody had used a link or a form of somebody else. */
export const misuse = z.object({
  id: z.number(),
  /** A number replaced by a form, an answer or another act by a personal link, a pause by a delivery report. */
  kind: z.enum(['number', 'answer', 'act', 'pause']),
  personId: z.number().nullable(),
  eventId: z.number().nullable(),
  at: z.iso.datetime(),
  what: z.string(),
});
export type Misuse = z.infer<typeof misuse>;

export const misusePage = z.object({ rows: z.array(misuse), next: z.number().nullable() });
export type MisusePage = z.infer<typeof misusePage>;

/** @property before the last one seen; 0 for the first page */
export const misuseQuery = z.object({ before: z.coerce.number().int().min(0).default(0) });
