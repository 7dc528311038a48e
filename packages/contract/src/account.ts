import './jitless';
import * as z from 'zod';
import { clockTime } from './countdown';
import { role } from './session';
import { zoneName } from './zone';

/** Six digits of an authenticator, or a recovery code. */
export const signInCode = z.object({ code: z.string().trim().min(6).max(40) });
export const forgotten = z.object({ email: z.string().trim().min(1).max(254) });

/** Characters; the rules beyond the length are judged by the server, which knows what is common. */
export const leastPassword = 12;
const newPassword = z.string().max(200);
/** By a mailed link: an invitation to the team, or a forgotten password. */
export const passwordByLink = z.object({ token: z.string().min(20).max(100), password: newPassword });
export const passwordChange = z.object({ current: z.string().max(200), password: newPassword });

export const sessionRow = z.object({
  id: z.string(),
  startedAt: z.iso.datetime(),
  seenAt: z.iso.datetime(),
  address: z.string(),
  /** The browser, as it names itself. */
  agent: z.string(),
  isThis: z.boolean(),
});
export type SessionRow = z.infer<typeof sessionRow>;
/** What members may be told of as it happens. */
export const newsKinds = ['yes', 'no', 'waits', 'comment', 'place'] as const;
export type NewsKind = (typeof newsKinds)[number];
export const tells = z.object({
  kinds: z.array(z.enum(newsKinds)),
  /** A clock time at which the day is told, in their zone; null for never. */
  summaryAt: clockTime.nullable(),
  /** Empty for the house's own. */
  zone: z.union([z.literal(''), zoneName]),
});
export type Tells = z.infer<typeof tells>;
export const account = z.object({
  name: z.string(),
  email: z.string(),
  role,
  hasSecondFactor: z.boolean(),
  /** The house asks it of everybody. */
  needsSecondFactor: z.boolean(),
  recoveryCodesLeft: z.number(),
  tells,
  sessions: z.array(sessionRow),
});
export type Account = z.infer<typeof account>;

/** Whoever sits at an open screen is not yet its owner: the password once more. */
export const withPassword = z.object({ current: z.string().max(200) });
/** To be put into an authenticator by its picture or by hand. */
export const factorOffer = z.object({ secret: z.string(), picture: z.string() });
export type FactorOffer = z.infer<typeof factorOffer>;
export const factorConfirm = z.object({
  code: z
    .string()
    .trim()
    .regex(/^\d{6}$/),
});
export const recoveryCodes = z.object({ codes: z.array(z.string()) });
