import { isHybrid, type EventFacts, type PlaceKind, type Presence, type ReplyState } from '@convite/core';

/** Answers as people say them. */
export const replyWords: Readonly<Record<ReplyState, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'no answer',
};

/** What somebody has of a place, after "who". */
export const placeWords: Readonly<Record<PlaceKind, string>> = {
  waitlisted: 'waits for a place',
  'in-person': 'comes in person',
  online: 'comes online',
};
export const presenceWords: Readonly<Record<Presence, string>> = { 'in-person': 'in person', online: 'online' };

/** What an event tells apart of its places: who waits for one, and how people come where they may choose. */
export const placesToldApart = (facts: EventFacts): readonly PlaceKind[] => [
  ...(facts.registration?.waitlist ? (['waitlisted'] as const) : []),
  ...(isHybrid(facts) ? (['in-person', 'online'] as const) : []),
];
