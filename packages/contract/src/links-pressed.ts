import './jitless';
import * as z from 'zod';

/** What became of one typed link of a message. */
export const linkPressed = z.object({
  url: z.string(),
  presses: z.number(),
  /** How many different people; 0 where only messages are counted. */
  people: z.number(),
  /** By programs that look at every link. */
  byPrograms: z.number(),
});
export const linksPressed = z.array(linkPressed);
export type LinksPressed = z.infer<typeof linksPressed>;
