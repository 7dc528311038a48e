import type { ReplyState } from '../reply-state';

export type Channel = 'email' | 'text';

/**
 * Who a message is for: invitees who answered in one of these ways, members of these lists; less the members of others, and
 * less those who answered in other ways, such as who registered already.
 */
export interface Audience {
  readonly invitees: readonly ReplyState[];
  readonly lists: readonly number[];
  readonly exceptLists: readonly number[];
  readonly exceptReplies: readonly ReplyState[];
  /** Only people who asked for one of these topics or for none in particular; null for everybody. */
  readonly topics: readonly string[] | null;
}

/** What there is to know about one person when it is decided whether they get a message. */
export interface PersonFacts {
  readonly hasEmail: boolean;
  readonly hasMobile: boolean;
  readonly textConsent: boolean;
  readonly optedOut: boolean;
  readonly bounced: boolean;
  /** Their answer when they are invited to the event, else null. */
  readonly reply: ReplyState | null;
  readonly lists: readonly number[];
  readonly topics: readonly string[];
}

/** Why somebody does not get a message. */
export type Reason =
  | 'not-chosen'
  | 'left-out'
  | 'answered'
  | 'other-topics'
  | 'opted-out'
  | 'no-email'
  | 'bounced'
  | 'no-mobile'
  | 'no-text-consent';

/**
 * The rules that can hold a message back, in the order in which the first one that applies is the reason given.
 * Both readers use this one list: `whyNot` below for one person, and the store's set-wise SQL for a hundred thousand.
 */
export const rules: readonly { readonly reason: Reason; readonly channels: readonly Channel[] }[] = [
  { reason: 'not-chosen', channels: ['email', 'text'] },
  { reason: 'left-out', channels: ['email', 'text'] },
  { reason: 'answered', channels: ['email', 'text'] },
  { reason: 'other-topics', channels: ['email', 'text'] },
  { reason: 'opted-out', channels: ['email', 'text'] },
  { reason: 'no-email', channels: ['email'] },
  { reason: 'bounced', channels: ['email'] },
  { reason: 'no-mobile', channels: ['text'] },
  { reason: 'no-text-consent', channels: ['text'] },
];

/** The reason why the person does not get a message of that channel and audience, or null when they do. */
export function whyNot(person: PersonFacts, audience: Audience, channel: Channel): Reason | null {
  const applies: Record<Reason, boolean> = {
    'not-chosen': !isChosen(person, audience),
    'left-out': overlaps(person.lists, audience.exceptLists),
    answered: person.reply !== null && audience.exceptReplies.includes(person.reply),
    'other-topics': audience.topics !== null && person.topics.length > 0 && !overlaps(person.topics, audience.topics),
    'opted-out': person.optedOut,
    'no-email': !person.hasEmail,
    bounced: person.bounced,
    'no-mobile': !person.hasMobile,
    'no-text-consent': !person.textConsent,
  };
  return rules.find((rule) => rule.channels.includes(channel) && applies[rule.reason])?.reason ?? null;
}

function isChosen(person: PersonFacts, { invitees, lists }: Audience): boolean {
  return (person.reply !== null && invitees.includes(person.reply)) || overlaps(person.lists, lists);
}

const overlaps = <T>(some: readonly T[], others: readonly T[]): boolean => some.some((one) => others.includes(one));
