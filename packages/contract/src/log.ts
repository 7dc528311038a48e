import './jitless';
import * as z from 'zod';
import { person } from './audience';
import { firingKind, lane } from './countdown';
import { messageRow } from './messages';

export const deliveryStates = messageRow.shape.state.options;
/** Those that a message did not reach stand together; empty for all. */
export const logStates = ['', 'not-reached', ...deliveryStates] as const;
export type LogState = (typeof logStates)[number];

/** One message to one person: when it was planned, when it left, and what became of it. */
export const logRow = z.object({
  deliveryId: z.number(),
  firingId: z.number(),
  kind: firingKind,
  channel: lane,
  /** Of the cue or digest, or what kind of message it was. */
  title: z.string(),
  eventTitle: z.string(),
  person,
  dueAt: z.iso.datetime(),
  sentAt: z.iso.datetime().nullable(),
  state: messageRow.shape.state,
  answer: z.string(),
  /** What was answered to each attempt, and what came back afterwards. */
  attempts: z.array(z.object({ at: z.iso.datetime(), answer: z.string() })),
  /** What can be done about it. */
  advice: z.string(),
  /** Can be shown as it was. */
  isKept: z.boolean(),
});
export type LogRow = z.infer<typeof logRow>;

export const logPage = z.object({
  /** The house's. */
  zone: z.string(),
  /** Of the one firing that it is of; empty for all. */
  title: z.string(),
  eventTitle: z.string(),
  rows: z.array(logRow),
  /** More people match what is searched for than were looked at. */
  hasMorePeople: z.boolean(),
  next: z.string().nullable(),
});
export type LogPage = z.infer<typeof logPage>;

export const logQuery = z.object({
  /** Of one firing; 0 for all, latest first. */
  firing: z.coerce.number().int().min(0).default(0),
  event: z.coerce.number().int().min(0).default(0),
  channel: z.enum(['', ...lane.options]).default(''),
  state: z.enum(logStates).default(''),
  /** Words of a name, an address or a number. */
  search: z.string().max(200).default(''),
  after: z
    .string()
    .regex(/^(\d{1,16}(:\d{1,16}){0,4})?$/)
    .default(''),
});
export type LogQuery = z.infer<typeof logQuery>;
