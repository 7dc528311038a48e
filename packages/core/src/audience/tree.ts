import type { ReplyState } from '../reply-state';
import type { FieldTest } from './field';
import type { Limit } from './pressure';

/** What a condition about an event means: the whole of it, or the date with this key. */
export interface About {
  readonly event: number;
  /** Empty for the whole. */
  readonly date: string;
}

/** What a person does about an event, or has done for them: they are invited, put themselves down, are given their place. */
export const steps = ['invitation', 'registration', 'approval'] as const;
export type Step = (typeof steps)[number];

export type MessageKind = 'cue' | 'digest' | 'invitation' | 'notice' | 'answer' | 'manual';

/** Something that is so of a person or not. */
export type Condition =
  | { readonly kind: 'list'; readonly lists: readonly number[] }
  /** Asked for one of these topics. */
  | { readonly kind: 'topic'; readonly topics: readonly string[] }
  /** Asked for topics, and for none of these. */
  | { readonly kind: 'other-topics'; readonly topics: readonly string[] }
  | { readonly kind: 'field'; readonly field: number; readonly test: FieldTest }
  | { readonly kind: 'consent'; readonly channel: 'email' | 'text' }
  /** Has a mobile number and agreed to texts. */
  | { readonly kind: 'textable' }
  | { readonly kind: 'zone'; readonly zones: readonly string[] }
  /** Was invited and answered so; an answer for the date goes before that for the whole. */
  | { readonly kind: 'answered'; readonly about: About; readonly replies: readonly ReplyState[] }
  /** Has a place at the date, their own or one at every date; or at any date. */
  | { readonly kind: 'registered'; readonly about: About }
  /** Waits for a place at the date; or at any date. */
  | { readonly kind: 'waitlisted'; readonly about: About }
  /** Has a place there, and comes so. Who was not asked comes in person. */
  | { readonly kind: 'in-person' | 'online'; readonly about: About }
  | { readonly kind: 'attended'; readonly about: About }
  | { readonly kind: 'no-show'; readonly about: About }
  /** Took a step about the event within a span: was invited, put themselves down for the date, was given their place. */
  | {
      readonly kind: 'step';
      readonly step: Step;
      /** Of the date with this key; of the whole where it is empty, of whichever where it is null. */
      readonly about: { readonly event: number; readonly date: string | null };
      readonly fromMs: number;
      /** Exclusive. */
      readonly toMs: number;
    }
  /** Got an invitation, or is about to. */
  | { readonly kind: 'invited'; readonly event: number }
  /** Is a guest of it: invited, registered or added. The join link is shown to guests only. */
  | { readonly kind: 'guest'; readonly event: number }
  | { readonly kind: 'holds'; readonly event: number; readonly version: 'newest' | 'older' }
  /** Has this time of their own, a clock reading; empty for who has none. */
  | { readonly kind: 'own-time'; readonly event: number; readonly start: string }
  /** Was sent a message of this kind since then; about that event, or about any when null. */
  | { readonly kind: 'got'; readonly message: MessageKind; readonly event: number | null; readonly sinceMs: number }
  /** Had, or is about to have, this cue for this slot with the people of another zone. */
  | { readonly kind: 'had-it'; readonly cue: number; readonly slot: string; readonly zone: string }
  /** Answered so for the whole or for any date; since then, or ever when null. */
  | {
      readonly kind: 'answered-any';
      readonly event: number;
      readonly replies: readonly ReplyState[];
      readonly sinceMs: number | null;
    }
  /** Is in one of these segments. They are put in its place (`withSegments`) before anybody is asked. */
  | { readonly kind: 'segment'; readonly segments: readonly number[] }
  /** Added by hand. */
  | { readonly kind: 'person'; readonly ids: readonly number[] };

/** Conditions put together: all of them, any of them, none of them. */
export type Tree =
  | Condition
  | { readonly kind: 'all'; readonly of: readonly Tree[] }
  | { readonly kind: 'any'; readonly of: readonly Tree[] }
  | { readonly kind: 'none'; readonly of: readonly Tree[] };

/** Who gets a message: who is in, less who is out. */
export interface Who {
  readonly in: Tree;
  /** Each of them leaves people out, for a reason of its own. */
  readonly out: readonly Tree[];
  /** The event that the message is about, of which its guests hear whatever else they agreed to; null for none. */
  readonly about: number | null;
  /** How often somebody may be written to; null or none for a message that is under no limit. */
  readonly limit?: Limit | null;
  /** Whom it finds in quiet hours; null or none where it finds nobody, or waits for nothing. */
  readonly quiet?: Quiet | null;
  /** The event whose join link the message depends on: nobody but its guests gets it. Left out where it depends on none. */
  readonly joins?: number;
}

/** People in quiet hours as a message goes, by the zones that they are in. */
export interface Quiet {
  /** They get it as those end, at an instant. */
  readonly waits: readonly { readonly zone: string; readonly untilMs: number }[];
  /** They could only get it once the event has begun: they do without … */
  readonly leftOut: readonly string[];
  /** … but for those of whom this is so; null for nobody. */
  readonly spares: Tree | null;
}

export const all = (...of: readonly Tree[]): Tree => (of.length === 1 && of[0] ? of[0] : { kind: 'all', of });
export const any = (...of: readonly Tree[]): Tree => (of.length === 1 && of[0] ? of[0] : { kind: 'any', of });
export const none = (...of: readonly Tree[]): Tree => ({ kind: 'none', of });

/** Every list that a tree asks about. */
export function listsOf(tree: Tree): number[] {
  if (tree.kind === 'list') return [...tree.lists];
  return 'of' in tree ? tree.of.flatMap(listsOf) : [];
}

/** Everybody who is named by number. */
export function peopleIn(tree: Tree): number[] {
  if (tree.kind === 'person') return [...tree.ids];
  return 'of' in tree ? tree.of.flatMap(peopleIn) : [];
}

/** The same tree, naming those whom others were found to be. @param found by the number of the other */
export function withPeople(tree: Tree, found: ReadonlyMap<number, number>): Tree {
  if (tree.kind === 'person') return { kind: 'person', ids: [...new Set(tree.ids.map((id) => found.get(id) ?? id))] };
  return 'of' in tree ? { kind: tree.kind, of: tree.of.map((one) => withPeople(one, found)) } : tree;
}
