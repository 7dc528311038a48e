import './jitless';
import * as z from 'zod';
import { clocks, dayOrders } from '@convite/core';

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
