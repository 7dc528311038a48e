import type { ReplyState } from '../reply-state';

/** For whom a block stands; it is left out for everybody else. */
export type Only =
  /** Who answered so; `needs-action` is no answer. */
  | { readonly kind: 'reply'; readonly replies: readonly ReplyState[] }
  /** Where the event is held online, or at a place. */
  | { readonly kind: 'online' }
  | { readonly kind: 'in-place' }
  /** Who lives where clocks show another time than the event's. */
  | { readonly kind: 'elsewhere' }
  /** Who asked for a topic, or for everything. */
  | { readonly kind: 'topic'; readonly topic: string };

/** What conditions ask of the reader and of the event that they read of. */
export interface Reader {
  readonly reply: ReplyState;
  readonly isOnline: boolean;
  readonly hasPlace: boolean;
  readonly livesElsewhere: boolean;
  /** That they asked for; empty for everything. */
  readonly topics: readonly string[];
}
export const anyReader: Reader = {
  ...{ reply: 'needs-action', isOnline: false, hasPlace: false, livesElsewhere: false, topics: [] },
};

/** Does a block stand for this reader? */
export function isFor(only: Only, { reply, isOnline, hasPlace, livesElsewhere, topics }: Reader): boolean {
  switch (only.kind) {
    case 'reply':
      return only.replies.includes(reply);
    case 'online':
      return isOnline;
    case 'in-place':
      return hasPlace;
    case 'elsewhere':
      return livesElsewhere;
    case 'topic':
      return topics.length === 0 || topics.includes(only.topic);
  }
}

const answers: Readonly<Record<ReplyState, string>> = {
  'needs-action': 'did not answer',
  accepted: 'said yes',
  tentative: 'said perhaps',
  declined: 'said no',
};

/** @example sayOnly({ kind: 'reply', replies: ['needs-action'] }) //=> 'only for those who did not answer' */
export function sayOnly(only: Only): string {
  switch (only.kind) {
    case 'reply':
      return `only for those who ${only.replies.map((reply) => answers[reply]).join(' or ')}`;
    case 'online':
      return 'only if it is online';
    case 'in-place':
      return 'only if it has a place';
    case 'elsewhere':
      return 'only for who lives in another zone';
    case 'topic':
      return `only for who asked for “${only.topic}”`;
  }
}
