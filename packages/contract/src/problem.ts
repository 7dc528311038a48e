import './jitless';
import * as z from 'zod';

/** A located problem on the wire; sentences.ts turns it into words. */
export const problem = z.object({
  code: z.string(),
  path: z.string(),
  facts: z.record(z.string(), z.union([z.string(), z.number()])).optional(),
});

export type LocatedProblem = z.infer<typeof problem>;

/** RFC 9457 problem details, with our located problems beside the standard members. */
export const problemDetails = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string().optional(),
  problems: z.array(problem).optional(),
  /** Facts for a question to ask again, such as the number of recipients. */
  count: z.number().optional(),
});
export type ProblemDetails = z.infer<typeof problemDetails>;

export const importResult = z.object({ added: z.number(), already: z.number(), problems: z.array(problem) });
export type ImportResult = z.infer<typeof importResult>;
