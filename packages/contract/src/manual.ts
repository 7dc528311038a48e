import './jitless';
import * as z from 'zod';
import { chosenPeople } from './sending';
import { writtenWording } from './wording';
import { shownMessage } from './shown';

/** A message that somebody writes to some people now, about no event. */
export const manualPlan = chosenPeople.extend({ channel: z.enum(['email', 'text']) });
export type ManualPlan = z.infer<typeof manualPlan>;
export const manualPreviewRequest = manualPlan.extend({
  wording: writtenWording,
  /** As whom; null for the house. */
  senderId: z.number().int().positive().nullable().optional(),
});
export type ManualPreviewRequest = z.infer<typeof manualPreviewRequest>;
export const manualPreview = z.object({
  person: z.object({ id: z.number(), name: z.string() }),
  message: shownMessage,
});
export type ManualPreview = z.infer<typeof manualPreview>;
/** Above a hundred recipients the count seen by the person who presses the button must come along. */
export const sendManual = manualPreviewRequest.extend({ confirmedCount: z.number().int().nullable() });
export type SendManual = z.infer<typeof sendManual>;
