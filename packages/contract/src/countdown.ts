import './jitless';
import * as z from 'zod';
import { anchors, hazardCodes, languages, steps, units, type CueAct, type Moment } from '@convite/core';
import { audience } from './audience';
import { problem } from './problem';
import { wordingDocument, writtenWording } from './wording';
import { shownMessage } from './shown';

export const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/);

/** Whose clock a set clock time is read on; the event's where it is left out. */
const byClock = z.enum(['event', 'person']).optional();
/** A free day of the house gives way to the working day before it. */
const onWorkdays = z.boolean().optional();
const amount = z.number().int().min(0).max(1000);
const direction = z.enum(['before', 'after']);

export const moment = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('relative'),
    amount,
    unit: z.enum(units),
    direction,
    anchor: z.enum(anchors),
    at: clockTime.nullable(),
    clock: byClock,
    onWorkdays,
  }),
  z.object({
    kind: z.literal('fixed'),
    wall: z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/),
    clock: byClock,
    date: z.string().max(20).optional(),
  }),
  z.object({
    kind: z.literal('own-date'),
    field: z.number().int(),
    repeats: z.enum(['once', 'yearly']),
    amount,
    unit: z.enum(['days', 'weeks', 'months']),
    direction,
    at: clockTime,
    clock: byClock,
    onWorkdays,
  }),
  z.object({
    kind: z.literal('step'),
    step: z.enum(steps),
    amount,
    unit: z.enum(units),
    at: clockTime.nullable(),
    clock: byClock,
    onWorkdays,
  }),
]) satisfies z.ZodType<Moment>;

export const channel = z.enum(['email', 'text']);
/** By which something goes: a channel, or none where a cue does something. */
export const lane = z.enum([...channel.options, 'act']);
/** 0 while nothing is chosen yet. */
const ref = z.number().int().min(0);
export const cueAct: z.ZodType<CueAct> = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['join', 'leave']), list: ref }),
  z.object({ kind: z.literal('field'), field: ref, value: z.string().max(1000) }),
  z.object({ kind: z.literal('task'), member: ref, text: z.string().trim().max(500) }),
  z.object({ kind: z.literal('call'), webhook: ref }),
]);

export const cueFields = z.object({
  name: z.string().trim().min(1).max(120),
  channel,
  moment,
  audience,
  wording: wordingDocument,
  /** What it does instead of writing to people; its channel and its words count for nothing then. */
  act: cueAct.optional(),
  /**
   * Of one by email: the text that goes with it to whoever can be texted. With `audience.exceptTextable` they get it in place of the
   * email.
   */
  textWording: wordingDocument.optional(),
  /** Mails stand in the thread of each person's invitation. */
  inThread: z.boolean().optional(),
  isDraft: z.boolean(),
  /** Who comes after its moment still gets it for so many hours; left out for nothing any more. */
  lateHours: z.number().int().min(1).max(720).optional(),
});
export type CueFields = z.infer<typeof cueFields>;

/** A cue as somebody writes it. */
export const writtenCue = cueFields.extend({ wording: writtenWording, textWording: writtenWording.optional() });

/** A message to some of an event's guests, now. */
export const writeToGuests = writtenCue.pick({ channel: true, audience: true, wording: true, inThread: true }).extend({
  date: z.string().max(20).default(''),
  confirmedCount: z.number().int().nullable(),
});
export type WriteToGuests = z.infer<typeof writeToGuests>;

/** What a cue may do something with. */
const named = z.object({ id: z.number(), name: z.string() });
export const actChoices = z.object({
  lists: z.array(named),
  fields: z.array(named.extend({ type: z.string() })),
  members: z.array(named),
  webhooks: z.array(named),
});
export type ActChoices = z.infer<typeof actChoices>;

/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const cueChange = writtenCue.extend({ was: cueFields.optional() });
export type CueChange = z.infer<typeof cueChange>;

export const firingState = z.enum(['draft', 'set', 'standby', 'sending', 'done', 'failed', 'stopped', 'missed']);
/** Something to look at before a cue goes. */
export const hazard = z.object({
  code: z.enum(hazardCodes),
  /** Where the cue would be rid of it; null where moving it does not help. */
  toAt: z.iso.datetime().nullable(),
  /** The other cue that it comes close to; empty for none. */
  other: z.string(),
  /** How many people it is about, where that was counted. */
  people: z.number().nullable(),
  /** What the clocks do in between, in minutes. */
  change: z.object({ at: z.iso.datetime(), minutes: z.number() }).nullable(),
});
export type HazardRow = z.infer<typeof hazard>;

/** How far a firing is. `gets` is the audience as counted last, or once it fired the people it was expanded to. */
export const tally = z.object({
  gets: z.number(),
  /** When the audience was counted; null while it is not, and once it fired. */
  countedAt: z.iso.datetime().nullable(),
  sent: z.number(),
  failed: z.number(),
  waiting: z.number(),
  /** When its last message leaves at its sender's pace; null where that has no bound, and once it is over. */
  finishAt: z.iso.datetime().nullable(),
});
export type Tally = z.infer<typeof tally>;

/** When those whom it is for took their step: in a minute, or on a day; null where it goes by none. */
const stepWhen = z
  .object({ step: z.enum(steps), day: z.string().nullable(), at: z.iso.datetime().nullable() })
  .nullable();

/** What goes by each person's clock stands once, with the zone that is next: how many others follow, and until when. */
const otherZones = z.object({ count: z.number(), lastAt: z.iso.datetime() }).nullable();

const cueFiring = z.object({
  id: z.number(),
  state: firingState,
  dueAt: z.iso.datetime(),
  note: z.string(),
  tally,
  /** The date of the series that it is for, or the people's own time; null for the whole event. */
  occurrence: z.object({ key: z.string(), startAt: z.iso.datetime() }).nullable(),
  /** The zone of its people; empty for all. */
  zone: z.string(),
  /** The day of the people's own dates that it is for; null where it goes by none. */
  ownDay: z.string().nullable(),
  step: stepWhen,
  otherZones,
});
export type CueFiring = z.infer<typeof cueFiring>;
/** A cue with the firing that matters next, or the last one, and how many more stand planned. */
export const cueRow = cueFields.extend({
  id: z.number(),
  /** It is the text of that cue, which is by email, and goes with it; null for one of its own. */
  textOf: z.number().nullable(),
  firing: cueFiring,
  ahead: z.array(cueFiring),
  hazards: z.array(hazard),
  /** What it does, in words; empty for one that writes to people. */
  does: z.string(),
});
export type CueRow = z.infer<typeof cueRow>;
export const cueRows = z.array(cueRow);

export const cuePreviewRequest = writtenCue.extend({
  name: z.string(),
  personId: z.number().int().nullable(),
});
export const cuePreview = z.object({
  dueAt: z.iso.datetime().nullable(),
  person: z
    .object({
      id: z.number(),
      name: z.string(),
      whyNot: z.string().nullable(),
      leftOutBy: z.string(),
      /** They are in quiet hours as it goes, and get it then; null where they need not wait. */
      waitsUntil: z.iso.datetime().nullable(),
      zone: z.string(),
    })
    .nullable(),
  message: shownMessage,
  problems: z.array(problem),
});
export type CuePreview = z.infer<typeof cuePreview>;

export const firingKind = z.enum(['cue', 'digest', 'invitation', 'notice', 'answer', 'manual']);
export type FiringKind = z.infer<typeof firingKind>;
export const boardItem = z.object({
  firingId: z.number(),
  kind: firingKind,
  title: z.string(),
  eventId: z.number().nullable(),
  eventTitle: z.string(),
  /** Start of the date of a series that it is for. */
  occurrenceAt: z.iso.datetime().nullable(),
  /** The zone of its people; empty for all. */
  zone: z.string(),
  /** The day of the people's own dates that it is for; null where it goes by none. */
  ownDay: z.string().nullable(),
  step: stepWhen,
  otherZones,
  channel: lane,
  dueAt: z.iso.datetime(),
  state: firingState,
  note: z.string(),
  /** Of all its zones together. */
  tally,
  /** May go by hand, now. */
  canSendByHand: z.boolean(),
});
export type BoardItem = z.infer<typeof boardItem>;

/** What goes out when a firing is sent by hand: asked about every time. */
export const byHand = z.object({
  title: z.string(),
  eventTitle: z.string(),
  channel: lane,
  gets: z.number(),
  dueAt: z.iso.datetime(),
  subject: z.string(),
  firstLines: z.string(),
  /** Why it may not go any more; empty when it may. */
  refusal: z.string(),
});
export type ByHand = z.infer<typeof byHand>;

export const need = z.object({
  kind: z.enum([
    'draft-due',
    'no-join-link',
    'release',
    'missed',
    'bounced',
    'failed',
    'old-version',
    'set-aside',
    'proposal',
    'watch-failing',
    'webhook-failing',
    'trouble',
    'fault',
    'letter',
    'import-stopped',
    'task',
    'refusal-reports',
    'misuse',
  ]),
  /** Of a task, its number. */
  taskId: z.number().nullable().default(null),
  eventId: z.number().nullable(),
  /** The firing it is about, where it is one. */
  firingId: z.number().nullable().default(null),
  title: z.string(),
  count: z.number(),
  at: z.iso.datetime().nullable(),
});
export type Need = z.infer<typeof need>;

/** What a new house is called until somebody names it. */
export const unnamedHouse = 'My organisation';
/** How far a new house is. */
export const beginning = z.object({
  steps: z.array(z.object({ key: z.enum(['house', 'sender', 'people', 'event']), isDone: z.boolean() })),
  hasInvented: z.boolean(),
  /** It is as good as empty. */
  canInvent: z.boolean(),
});
export type Beginning = z.infer<typeof beginning>;

/** What stands about the cues of an event on its rail. */
export const railAround = z.object({
  standbyMinutes: z.number(),
  publishedAt: z.iso.datetime().nullable(),
  workdays: z.array(z.number()),
  holidays: z.array(z.string()),
  /** The house's quiet hours, or the usual ones. */
  quiet: z.object({ from: z.string(), until: z.string() }),
  /** In which the house writes. */
  language: z.enum(languages),
  /** Where people are, beside the event: the zones whose clocks are farthest from its own, either way. */
  farZones: z.array(z.string()),
  /** What goes out beside this event's cues, soonest first, so many at the most. */
  others: z.array(boardItem),
  hasMoreOthers: z.boolean(),
  /** Who is told when it moves: whoever holds it in a calendar or an inbox, and whoever waits for a place. */
  toTell: z.object({ email: z.number(), text: z.number() }),
});
export type RailAround = z.infer<typeof railAround>;

/** So many lines of either half are shown at once; what lies behind is found by narrowing the board, and that is said. */
export const mostOnBoard = 400;
/** What of the board is looked at, and how far. */
export const boardQuery = z.object({
  channel: z.enum(['', ...lane.options]).default(''),
  kind: z.enum(['', ...firingKind.options]).default(''),
  /** Standby is the last of being set. */
  state: z.enum(['', ...firingState.exclude(['standby']).options]).default(''),
  /** One event's alone; 0 for all. */
  event: z.coerce.number().int().min(0).default(0),
  ahead: z.coerce.number().int().min(1).max(mostOnBoard).default(40),
  behind: z.coerce.number().int().min(1).max(mostOnBoard).default(4),
});
export type BoardQuery = z.infer<typeof boardQuery>;

export const board = z.object({
  now: z.iso.datetime(),
  zone: z.string(),
  ahead: z.array(boardItem),
  behind: z.array(boardItem),
  /** There is more to come, or more that has gone out, than is shown. */
  hasMore: z.object({ ahead: z.boolean(), behind: z.boolean() }),
  starts: z.array(z.object({ eventId: z.number(), title: z.string(), at: z.iso.datetime(), zone: z.string() })),
  needs: z.array(need),
  /** Null once a house is under way. */
  beginning: beginning.nullable(),
  load: z.array(z.object({ day: z.string(), email: z.number(), text: z.number(), starts: z.array(z.string()) })),
});
export type Board = z.infer<typeof board>;

/** Something Convite depends on that is not there, or a channel that stands still. */
export const trouble = z.object({
  part: z.enum(['mail-server', 'text-gateway', 'inbound', 'clock', 'worker', 'pause', 'settings']),
  channel: channel.nullable(),
  text: z.string(),
});
export type Trouble = z.infer<typeof trouble>;

/** The strip across the top: what fires next, what is not there, and the organisation's clock. */
export const strip = z.object({
  now: z.iso.datetime(),
  zone: z.string(),
  next: boardItem.nullable(),
  /** So long before it goes it stands by, in milliseconds. */
  standbyMs: z.number(),
  troubles: z.array(trouble),
});
export type Strip = z.infer<typeof strip>;
