import type { ReplyState } from '../reply-state';
import { all, any, none, type Tree, type Who } from './tree';

export type Channel = 'email' | 'text';
/** By which something goes: a channel, or none where a cue does something instead of writing. */
export type Lane = Channel | 'act';

/**
 * The shape that most audiences have: invitees who answered in one of these ways, members of these lists; less the members of
 * others, and less those who answered in other ways, such as who registered already.
 */
export interface Audience {
  readonly invitees: readonly ReplyState[];
  readonly lists: readonly number[];
  readonly exceptLists: readonly number[];
  readonly exceptReplies: readonly ReplyState[];
  /** Only people who asked for one of these topics or for none in particular; null for everybody. */
  readonly topics: readonly string[] | null;
  /** The same by the topics that the event has as it goes, where it has any. */
  readonly ofTopics?: boolean | undefined;
  /** Segments whose people are in, and those whose people are left out. */
  readonly segments?: readonly number[] | undefined;
  readonly exceptSegments?: readonly number[] | undefined;
  /** Picked by hand, beside the others. */
  readonly people?: readonly number[] | undefined;
  /** Left out by hand. */
  readonly exceptPeople?: readonly number[] | undefined;
  /** Who came to it, or had a place and did not. */
  readonly came?: readonly ('attended' | 'no-show')[] | undefined;
  /** Who waits for a place, and who has one and comes so. */
  readonly places?: readonly PlaceKind[] | undefined;
  /** Less who can be texted: a text goes to them in its place. */
  readonly exceptTextable?: boolean | undefined;
  /** Less who is no guest of the event. */
  readonly onlyGuests?: boolean | undefined;
}

export const placeKinds = ['waitlisted', 'in-person', 'online'] as const;
export type PlaceKind = (typeof placeKinds)[number];

/** Nobody, for whoever puts an audience together. */
export const noAudience: Audience = { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null };

/** Whose answers an audience is about: those to an event, or to one of its dates. */
export interface Target {
  /** Null for what is about no event, such as a digest. */
  readonly eventId: number | null;
  /** Key of the date; empty for the whole. */
  readonly occurrence: string;
  /** Everybody has their own time: the clock reading of those who are meant, empty for who has none; null otherwise. */
  readonly ownStart: string | null;
  /** Topics of the event. */
  readonly topics?: readonly string[];
  /** What has to be so of them beside. */
  readonly also?: readonly Tree[];
}

export const wholeEvent = (eventId: number | null, topics: readonly string[] = []): Target => ({
  ...{ eventId, occurrence: '', ownStart: null },
  topics,
});

/** The shape as a tree, with the event or date that it is about filled in. */
export function whoOf(audience: Audience, target: Target): Who {
  const { invitees, lists, segments = [], exceptLists, exceptSegments = [], exceptReplies, topics } = audience;
  const { people = [], exceptPeople = [] } = audience;
  const { eventId, occurrence, ownStart, also = [] } = target;
  const event = eventId ?? 0;
  const about = { event, date: ownStart === null ? occurrence : '' };
  const waits = { kind: 'waitlisted', about } as const;
  // Who waits for a place has said that they would come.
  const silent = invitees.includes('needs-action');
  const said = invitees.filter((reply) => reply !== 'needs-action');
  const chosen = any(
    ...(said.length ? [{ kind: 'answered', about, replies: said } as const] : []),
    ...(silent ? [all({ kind: 'answered', about, replies: ['needs-action'] }, none(waits))] : []),
    ...(audience.came ?? []).map((kind) => ({ kind, about }) as const),
    ...(audience.places ?? []).map((kind) => ({ kind, about }) as const),
    ...(lists.length ? [{ kind: 'list', lists } as const] : []),
    ...(segments.length ? [{ kind: 'segment', segments } as const] : []),
    ...(people.length ? [{ kind: 'person', ids: people } as const] : []),
  );
  const out: Tree[] = [
    ...(exceptLists.length ? [{ kind: 'list', lists: exceptLists } as const] : []),
    ...(exceptSegments.length ? [{ kind: 'segment', segments: exceptSegments } as const] : []),
    ...(exceptPeople.length ? [{ kind: 'person', ids: exceptPeople } as const] : []),
    ...(exceptReplies.length ? [{ kind: 'answered', about, replies: exceptReplies } as const] : []),
    ...(exceptReplies.includes('accepted') ? [waits] : []),
    ...(topics === null ? [] : [{ kind: 'other-topics', topics } as const]),
    ...(audience.ofTopics && target.topics?.length ? [{ kind: 'other-topics', topics: target.topics } as const] : []),
    ...(audience.exceptTextable ? [{ kind: 'textable' } as const] : []),
    ...(audience.onlyGuests && eventId !== null ? [none({ kind: 'guest', event })] : []),
  ];
  const ofTime: Tree[] = ownStart === null ? [] : [{ kind: 'own-time', event, start: ownStart }];
  return { in: all(chosen, ...ofTime, ...also), out, about: eventId };
}

/** Of an event where everybody has their own time: only those who have one. */
export const withOwnTime = (event: number, who: Who): Who => ({
  ...who,
  out: [...who.out, { kind: 'own-time', event, start: '' }],
});

/** Only those who were not invited to it yet. */
export const notInvitedTo = (event: number, who: Who): Who => ({
  ...who,
  out: [...who.out, { kind: 'invited', event }],
});
