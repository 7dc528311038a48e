import './jitless';
import * as z from 'zod';

/** Names a picture by what it is: the same twice is one. */
export const pictureDigest = z.string().regex(/^[0-9a-f]{40}$/);

/** A picture where it is shown: how large it is, in pixels, and what is read where it is not seen. */
export const pictureShown = {
  digest: pictureDigest,
  width: z.number().int().min(1).max(1200),
  height: z.number().int().min(1).max(2400),
  words: z.string().max(300),
};

/** So large a file may be before it is made smaller. */
export const mostPictureOctets = 15_000_000;

/** A picture of the house that messages may show. */
export const pictureRow = z.object({
  digest: pictureDigest,
  /** Where it is, for as long as a mail is kept. */
  url: z.string(),
  name: z.string(),
  /** What is read where it is not seen; empty until somebody says it. */
  words: z.string(),
  width: z.number(),
  height: z.number(),
  octets: z.number(),
  isArchived: z.boolean(),
  addedAt: z.iso.datetime(),
  addedBy: z.string(),
});
export type PictureRow = z.infer<typeof pictureRow>;
/** The newest first. `next`: where the page behind begins; null for none. */
export const picturePage = z.object({ rows: z.array(pictureRow), next: z.number().nullable() });
export type PicturePage = z.infer<typeof picturePage>;
export const pictureQuery = z.object({
  before: z.coerce.number().int().positive().optional(),
  archived: z.stringbool().default(false),
});
export const pictureName = z.object({ name: z.string().trim().max(120).default('') });
export const pictureChange = z.object({ words: z.string().trim().max(300), isArchived: z.boolean() });
export type PictureChange = z.infer<typeof pictureChange>;

/** What shows a picture now; what went out with it shows it for good. */
export const pictureUses = z.object({
  cues: z.array(z.object({ id: z.number(), name: z.string(), eventId: z.number() })),
  wordings: z.array(z.object({ key: z.string(), name: z.string() })),
  digests: z.array(z.object({ id: z.number(), name: z.string() })),
  /** It is the house's mark, at the top of every mail. */
  isMark: z.boolean(),
  /** There are more than those named. */
  hasMore: z.boolean(),
});
export type PictureUses = z.infer<typeof pictureUses>;
