import './jitless';
import * as z from 'zod';
import { mostPicked } from './audience';

/** Some people who were picked, or all who match what the table shows. */
export const peopleSelection = z.union([
  z.object({ ids: z.array(z.number().int().positive()).min(1).max(mostPicked) }),
  z.object({
    search: z.string().max(200),
    list: z.number().int().nullable(),
    segment: z.number().int().nullable().optional(),
  }),
]);
export type PeopleSelection = z.infer<typeof peopleSelection>;

/** What is done to all of them. */
export const bulkAct = z.discriminatedUnion('act', [
  z.object({ act: z.literal('to-list'), listId: z.number().int() }),
  z.object({ act: z.literal('off-list'), listId: z.number().int() }),
  z.object({ act: z.literal('give-topic'), topic: z.string().trim().min(1).max(60) }),
  z.object({ act: z.literal('take-topic'), topic: z.string().trim().min(1).max(60) }),
  /** An empty value empties the field. */
  z.object({ act: z.literal('set-field'), fieldId: z.number().int(), value: z.string().max(1000) }),
  /** `how`: how they said so. */
  z.object({ act: z.literal('opt-out'), how: z.string().trim().min(1).max(300) }),
  z.object({ act: z.literal('erase') }),
]);
export type BulkAct = z.infer<typeof bulkAct>;
export const bulkRequest = z.object({ selection: peopleSelection, what: bulkAct });
export type BulkRequest = z.infer<typeof bulkRequest>;

/** How far it is: people looked at, and those for whom something changed. */
export const bulkProgress = z.object({
  done: z.number(),
  changed: z.number(),
  isOver: z.boolean(),
  /** Who was changed, once it is over, where that can be taken back and they are not too many to name. */
  changedIds: z.array(z.number()).nullable(),
});
export type BulkProgress = z.infer<typeof bulkProgress>;
