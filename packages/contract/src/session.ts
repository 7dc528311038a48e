import './jitless';
import * as z from 'zod';
import { clocks, dayOrders } from '@convite/core/time/manner';

export const roles = ['owner', 'marketer', 'viewer'] as const;
export const role = z.enum(roles);
export type Role = z.infer<typeof role>;

export const signIn = z.object({ email: z.string().trim().min(1).max(254), password: z.string().min(1).max(200) });

/** Who is signed in, and what the shell needs to know. */
export const me = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  role,
  csrfToken: z.string(),
  organisation: z.object({
    name: z.string(),
    zone: z.string(),
    dayOrder: z.enum(dayOrders),
    clock: z.enum(clocks),
    firstWeekday: z.number(),
    /** What somebody writes waits for a second member to read it. */
    asksRelease: z.boolean(),
  }),
  hasBackstage: z.boolean(),
  /** The house asks for a second factor, and this member has none yet: only their account is open to them. */
  mustSetUpFactor: z.boolean(),
});
export type Me = z.infer<typeof me>;

/** What signing in answers: in, or a code of the second factor is wanted first. */
export const signInAnswer = z.discriminatedUnion('step', [
  z.object({ step: z.literal('in'), me }),
  z.object({ step: z.literal('code'), csrfToken: z.string() }),
]);
export type SignInAnswer = z.infer<typeof signInAnswer>;

/** What a mailed link is for. */
export const linkState = z.object({ purpose: z.enum(['invitation', 'reset']), name: z.string(), email: z.string() });
export type LinkState = z.infer<typeof linkState>;
