import './jitless';
import * as z from 'zod';
import { changedFields } from '@convite/core';
import { wordingDocument, writtenWording } from './wording';
import { mostPicked } from './audience';
import { shownMessage } from './shown';

/** Whom somebody chose: lists, segments and people by hand, less others. */
export const chosenPeople = z.object({
  lists: z.array(z.number().int()).max(200).readonly(),
  segments: z.array(z.number().int()).max(50).readonly().default([]),
  /** People by hand, beside the lists. */
  people: z.array(z.number().int()).max(mostPicked).readonly().default([]),
  exceptLists: z.array(z.number().int()).max(200).readonly().default([]),
  exceptSegments: z.array(z.number().int()).max(50).readonly().default([]),
  exceptPeople: z.array(z.number().int()).max(mostPicked).readonly().default([]),
});
export type ChosenPeople = z.infer<typeof chosenPeople>;
export const nobodyChosen: ChosenPeople = {
  ...{ lists: [], segments: [], people: [] },
  ...{ exceptLists: [], exceptSegments: [], exceptPeople: [] },
};
/** Above a hundred recipients the count seen by the person who presses the button must come along. */
export const sendInvitations = chosenPeople.extend({
  channel: z.enum(['email', 'text']),
  wording: writtenWording,
  confirmedCount: z.number().int().nullable(),
  /** Read what is odd about it, and means it. */
  isSure: z.boolean().default(false),
  /** A draft is published with it. */
  publishes: z.boolean().default(false),
});

/** One thing about an invitation that was tried before anybody gets it. */
export const triedPart = z.object({
  part: z.enum(['entry', 'mail', 'house', 'join-link', 'link', 'web-calendar']),
  name: z.string(),
  isGood: z.boolean(),
  said: z.string(),
});
export type TriedPart = z.infer<typeof triedPart>;
export const tryOut = z.object({
  parts: z.array(triedPart),
  /** Settings have all that every message carries. */
  isSendable: z.boolean(),
  /** Links beyond those that are asked at once. */
  unasked: z.number(),
});
export type TryOut = z.infer<typeof tryOut>;
export const tryOutRequest = z.object({ wording: writtenWording });
export const publishRequest = z.object({ isSure: z.boolean().default(false) });
const linkLine = z.object({
  part: z.enum(['title', 'start', 'end', 'zone', 'place', 'description', 'link']),
  says: z.string(),
  should: z.string(),
  faults: z.array(z.string()),
});
export const linkTest = z.object({ lines: z.array(linkLine), isGood: z.boolean() });
export type TestedLink = z.infer<typeof linkTest>;
export const testLinkRequest = z.object({
  link: z.string().min(1).max(20_000),
  personId: z.number().int().nullable(),
  occurrence: z.string().max(20).default(''),
});
export const sendNotice = z.object({ wording: writtenWording, confirmedCount: z.number().int().nullable() });

export const invitationPreview = z.object({
  person: z.object({ id: z.number(), name: z.string(), email: z.string(), zone: z.string() }),
  message: shownMessage,
  /** What it was made of. */
  wording: wordingDocument,
  calendar: z.string(),
  sizeOctets: z.number(),
  icsUrl: z.string(),
  /** By the person's own clock, as their calendar shows it. */
  when: z.string(),
  /** By the clock of the event where that differs, and how it repeats; may be empty. */
  whenThere: z.string(),
  entryText: z.string(),
  links: z.array(z.object({ name: z.string(), url: z.string(), isPersonal: z.boolean() })),
  blocks: z.object({ html: z.string(), text: z.string(), details: z.string() }),
  conformance: z.array(z.object({ rule: z.string(), source: z.string(), isKept: z.boolean(), found: z.string() })),
});
export type InvitationPreview = z.infer<typeof invitationPreview>;

/** A notice as somebody who was invited would read it. `isCallOff`: that of calling the event off. */
export const noticePreviewRequest = z.object({
  wording: writtenWording,
  isCallOff: z.boolean(),
  personId: z.number().int().nullable(),
});
export type NoticePreviewRequest = z.infer<typeof noticePreviewRequest>;
export const noticePreview = z.object({
  person: z.object({ id: z.number(), name: z.string() }),
  message: shownMessage,
});
export type NoticePreview = z.infer<typeof noticePreview>;

const difference = z.object({ field: z.enum(changedFields), before: z.string(), after: z.string() });
export const eventChanges = z.object({
  versions: z.array(
    z.object({
      number: z.number(),
      sequence: z.number(),
      at: z.iso.datetime(),
      by: z.string(),
      differences: z.array(difference),
      matters: z.boolean(),
    }),
  ),
  holders: z.array(z.object({ version: z.number().nullable(), count: z.number() })),
  /** Invitees that a notice would reach now, by channel. */
  toTell: z.object({ email: z.number(), text: z.number() }),
  /** Who waits for a place and hears of it too, in words of its own. */
  waiting: z.object({ email: z.number(), text: z.number() }),
  isNoticeUnderWay: z.boolean(),
  suggestedWording: wordingDocument,
});
export type EventChanges = z.infer<typeof eventChanges>;
