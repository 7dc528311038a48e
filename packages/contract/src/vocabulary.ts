import './jitless';
import * as z from 'zod';
import { fieldTypes } from '@convite/core';

const user = z.object({ kind: z.enum(['segment', 'cue', 'event', 'form']), name: z.string() });
/** A further field of people, with what would miss it. */
export const fieldUse = z.object({
  id: z.number(),
  name: z.string(),
  type: z.enum(fieldTypes),
  usedBy: z.array(user),
});
/** A topic that the house offers, with what would miss it. */
export const topicUse = z.object({ topic: z.string(), usedBy: z.array(user) });
/** What people are told apart by, beside lists: in one place. */
export const vocabulary = z.object({ fields: z.array(fieldUse), topics: z.array(topicUse) });
export type Vocabulary = z.infer<typeof vocabulary>;

export const newField = z.object({ name: z.string().trim().min(1).max(60), type: z.enum(fieldTypes) });
export type NewField = z.infer<typeof newField>;
export const renameField = z.object({ name: z.string().trim().min(1).max(60) });
export const newTopic = z.object({ topic: z.string().trim().min(1).max(60) });
export const fieldProgress = z.object({ done: z.number(), isOver: z.boolean() });
export type FieldProgress = z.infer<typeof fieldProgress>;
