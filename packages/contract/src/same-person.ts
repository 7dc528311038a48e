import './jitless';
import * as z from 'zod';
import { person } from './audience';

/** Who was found to be somebody, each with when and by whom; and who may be, by number or spelling. */
export const samePeople = z.object({
  absorbed: z.array(z.object({ mergeId: z.number(), person, at: z.iso.datetime(), by: z.string() })),
  likely: z.array(person),
  /** They were found to be this one themselves; null for nobody else. */
  isReally: person.nullable(),
});
export type SamePeople = z.infer<typeof samePeople>;

/** What would go over from the other, beside fields, answers and notes. */
export const mergePreview = z.object({
  fills: z.array(z.object({ fact: z.enum(['name', 'mobile', 'zone']), value: z.string() })),
  /** Theirs, where there is none; empty otherwise. */
  email: z.string(),
  joins: z.array(z.string()),
  /** The other said no: then both did. */
  optsOut: z.boolean(),
});
export type MergePreview = z.infer<typeof mergePreview>;
export const mergeRequest = z.object({ otherId: z.number().int().positive() });
