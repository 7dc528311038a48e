import './jitless';
import * as z from 'zod';

const pressed = z.object({
  presses: z.number(),
  /** How many different people; 0 where only messages are counted. */
  people: z.number(),
  /** By programs that look at every link. */
  byPrograms: z.number(),
});
/** What became of the mails of a firing: how many were opened, as far as that is counted, and each of their typed links. */
export const linksPressed = z.object({
  opened: pressed.nullable(),
  links: z.array(pressed.extend({ url: z.string() })),
});
export type LinksPressed = z.infer<typeof linksPressed>;
