import './jitless';
import * as z from 'zod';

/** A form by which people sign up by themselves. */
export const signupFields = z.object({
  name: z.string().trim().min(1).max(120),
  /** What stands above it. */
  intro: z.string().trim().max(1000),
  /** They go on these. */
  lists: z.array(z.number().int()).max(50),
  /** Offered for choosing among them. */
  topics: z.array(z.string().max(60)).max(50),
  asksMobile: z.boolean(),
  /** The house's words beside each box: what one agrees to by ticking it. */
  emailWords: z.string().trim().min(1).max(300),
  textWords: z.string().trim().max(300),
  /** What they read once they are in. */
  thanks: z.string().trim().max(1000),
  isOpen: z.boolean(),
});
export type SignupFields = z.infer<typeof signupFields>;
export const signupChange = signupFields.extend({ was: signupFields.optional() });
export type SignupChange = z.infer<typeof signupChange>;
export const signupForm = signupFields.extend({
  id: z.number(),
  /** Where it is. */
  url: z.string(),
  /** To be put into another page. */
  html: z.string(),
});
export type SignupForm = z.infer<typeof signupForm>;
export const signupForms = z.array(signupForm);
