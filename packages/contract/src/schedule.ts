import './jitless';
import * as z from 'zod';
import { boardItem } from './countdown';

/** So far ahead a schedule looks at the most, in days, and so many lines it has. */
export const mostScheduleDays = 35;
export const mostScheduled = 2000;
export const scheduleQuery = z.object({ days: z.coerce.number().int().min(1).max(mostScheduleDays).default(28) });

/** Everything that is due, in the order of time. */
export const schedule = z.object({
  now: z.iso.datetime(),
  /** The house's. */
  zone: z.string(),
  rows: z.array(boardItem),
  /** There is more than is listed. */
  hasMore: z.boolean(),
  /** Where the member who asks has the same in their own calendar. */
  feedUrl: z.string(),
});
export type Schedule = z.infer<typeof schedule>;
