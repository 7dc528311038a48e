import './jitless';
import * as z from 'zod';
import { shownMessage } from './shown';

/** What a second member reads before it may go: a cue, a digest, or what somebody sends by hand. */
export const releaseWhats = ['cue', 'digest', 'firing'] as const;
export const releaseRow = z.object({
  what: z.enum(releaseWhats),
  ref: z.number(),
  title: z.string(),
  /** Null for what is about no event. */
  eventId: z.number().nullable(),
  eventTitle: z.string(),
  channel: z.enum(['email', 'text']),
  /** As counted last; null while it is not. */
  gets: z.number().nullable(),
  /** When it goes once it is released; null for at once. */
  dueAt: z.iso.datetime().nullable(),
  /** Who wrote it, and when. */
  by: z.string(),
  at: z.iso.datetime(),
  /** Whoever asks wrote it: somebody else has to read it. */
  isOwn: z.boolean(),
});
/** The first that came; `hasMore` where others wait behind them. */
export const releasePage = z.object({ rows: z.array(releaseRow), hasMore: z.boolean() });
export type ReleasePage = z.infer<typeof releasePage>;
export type ReleaseRow = z.infer<typeof releaseRow>;

/** As one of its readers gets it, an email and a text where it goes as both; none where there is nothing to say to anybody now. */
export const releaseShown = z.object({ messages: z.array(shownMessage) });
export type ReleaseShown = z.infer<typeof releaseShown>;
