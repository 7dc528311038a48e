import type { ReplyState } from '../reply-state';
import type { Channel, Lane } from './audience';
import { passes, type FieldValue } from './field';
import { hadEnough, type Counted, type Limit } from './pressure';
import type { About, Condition, MessageKind, Quiet, Step, Tree, Who } from './tree';

/** What became of a place that somebody asked for. */
export type PlaceState = 'pending' | 'waitlisted' | 'confirmed' | 'cancelled';

/** What is known of one person and one event. */
export interface GuestFacts {
  /** Is a guest of it: was invited, put themselves down, or was added by hand. */
  readonly isGuest: boolean;
  readonly isInvited: boolean;
  /** Comes to single dates alone. */
  readonly isByDate: boolean;
  readonly reply: ReplyState;
  /** When they answered for the whole; null for never. */
  readonly repliedAtMs: number | null;
  /** What is known of single dates, by their keys. */
  readonly dates: ReadonlyMap<
    string,
    { readonly reply: ReplyState | null; readonly repliedAtMs: number | null; readonly attended: boolean | null }
  >;
  /** Their places, by the date's key; the empty one is a one-off, or every date. */
  readonly places: ReadonlyMap<string, PlaceState>;
  /** The dates of those places that they take online. */
  readonly online: readonly string[];
  /** When they were invited, put themselves down and were given their place, by date. */
  readonly steps: readonly { readonly step: Step; readonly date: string; readonly atMs: number }[];
  readonly holds: 'newest' | 'older' | null;
  /** An invitation to it is on its way. */
  readonly isBeingInvited: boolean;
  /** A clock reading; empty for none. */
  readonly ownStart: string;
}

/** Who has had nothing to do with an event yet. */
export const noGuest: GuestFacts = {
  isGuest: false,
  isInvited: false,
  isByDate: false,
  reply: 'needs-action',
  repliedAtMs: null,
  dates: new Map(),
  places: new Map(),
  online: [],
  steps: [],
  holds: null,
  isBeingInvited: false,
  ownStart: '',
};

/** What there is to know about one person when it is decided whether they get a message. */
export interface PersonFacts {
  readonly id: number;
  /** Was found to be somebody else, who is written to in their place. */
  readonly isSameAsOther: boolean;
  /** Who came before them with the same number: a text that goes there once is not sent there again. */
  readonly sharesNumberWith: readonly PersonFacts[];
  readonly hasEmail: boolean;
  readonly hasMobile: boolean;
  /** Asked for quiet until a day that is still to come. They hear of what they are guests of. */
  readonly isPaused: boolean;
  /** False for whom nobody said that they agreed. They hear of what they are guests of, and of nothing else. */
  readonly emailConsent: boolean;
  readonly textConsent: boolean;
  readonly optedOut: boolean;
  readonly bounced: boolean;
  readonly zone: string;
  readonly lists: readonly number[];
  readonly topics: readonly string[];
  readonly fields: ReadonlyMap<number, FieldValue>;
  /** By event. */
  readonly guestOf: ReadonlyMap<number, GuestFacts>;
  /** Of cues that go by each person's clock: what they had, or are about to, in which zone group. */
  readonly had: readonly { readonly cue: number; readonly slot: string; readonly zone: string }[];
  /** So many messages a week they want at most; null where they said nothing. */
  readonly mostPerWeek: number | null;
  /** Of the last weeks those that count for how often they are written to. */
  readonly counted: readonly Counted[];
  readonly got: readonly { readonly kind: MessageKind; readonly event: number | null; readonly atMs: number }[];
}

/** Why somebody does not get a message, in the order in which the first that applies is the reason given. */
export const reasons = [
  'already-invited',
  'had-it',
  'not-chosen',
  'left-out',
  'answered',
  'other-topics',
  'by-text',
  'no-own-time',
  'no-join-link',
  'opted-out',
  'paused',
  'no-consent',
  'no-email',
  'bounced',
  'no-mobile',
  'no-text-consent',
  'same-person',
  'over-limit',
  'quiet-hours',
] as const;
export type Reason = (typeof reasons)[number];

/** What holds back messages of one channel alone. */
const ofChannel: Partial<Record<Reason, Channel>> = {
  'no-consent': 'email',
  'by-text': 'email',
  'no-email': 'email',
  bounced: 'email',
  'no-mobile': 'text',
  'no-text-consent': 'text',
};

/** Against being written to; none of it keeps somebody from being put on a list. */
const ofMessages: readonly Reason[] = ['no-join-link', 'opted-out', 'paused', 'over-limit', 'quiet-hours'];

/**
 * The rules that can hold a message back, in their order. Both readers use this one list: `judge` below for one person, and the
 * store's set-wise SQL for a million.
 */
export const rules: readonly { readonly reason: Reason; readonly channels: readonly Lane[] }[] = reasons.map(
  (reason) => {
    const channel = ofChannel[reason];
    const all: readonly Lane[] = ofMessages.includes(reason) ? ['email', 'text'] : ['email', 'text', 'act'];
    return { reason, channels: channel ? [channel] : all };
  },
);

/** What it is called when a tree leaves somebody out. */
export function reasonOf(out: Tree): Reason {
  if (out.kind === 'invited') return 'already-invited';
  if (out.kind === 'had-it') return 'had-it';
  if (out.kind === 'answered' || out.kind === 'registered' || out.kind === 'waitlisted') return 'answered';
  if (out.kind === 'textable') return 'by-text';
  if (out.kind === 'own-time') return 'no-own-time';
  return out.kind === 'other-topics' ? 'other-topics' : 'left-out';
}

/** Null when the person gets a message of that channel, else the first reason against it. */
export function judge(person: PersonFacts, who: Who, channel: Lane): Reason | null {
  const isTwice = channel === 'text' && person.sharesNumberWith.some((other) => judge(other, who, channel) === null);
  const out = new Set(who.out.filter((tree) => isSo(tree, person)).map(reasonOf));
  const applies: Record<Reason, boolean> = {
    'already-invited': out.has('already-invited'),
    'had-it': out.has('had-it'),
    'not-chosen': !isSo(who.in, person),
    'left-out': out.has('left-out'),
    answered: out.has('answered'),
    'other-topics': out.has('other-topics'),
    'by-text': out.has('by-text'),
    'no-own-time': out.has('no-own-time'),
    'no-join-link': who.joins !== undefined && !isSo({ kind: 'guest', event: who.joins }, person),
    'opted-out': person.optedOut,
    paused: person.isPaused && !isGuestOf(who.about, person),
    'no-consent': !person.emailConsent && !isGuestOf(who.about, person),
    'no-email': !person.hasEmail,
    bounced: person.bounced,
    'no-mobile': !person.hasMobile,
    'no-text-consent': !person.textConsent,
    'same-person': person.isSameAsOther || isTwice,
    'over-limit': isOverLimit(who.limit ?? null, person),
    'quiet-hours': isTooQuiet(who.quiet ?? null, person),
  };
  return rules.find((rule) => rule.channels.includes(channel) && applies[rule.reason])?.reason ?? null;
}

const isOverLimit = (limit: Limit | null, person: PersonFacts): boolean =>
  limit !== null && !(limit.spares && isSo(limit.spares, person)) && hadEnough(person, limit);

/** Could only be told after it has begun, and did not ask to be there. */
const isTooQuiet = (quiet: Quiet | null, person: PersonFacts): boolean =>
  quiet !== null && quiet.leftOut.includes(person.zone) && !(quiet.spares && isSo(quiet.spares, person));

/** Who waits for a place asked to hear of it. Whom an invitation is still on its way to is no guest yet: it goes only with consent. */
function isGuestOf(event: number | null, person: PersonFacts): boolean {
  const guest = event === null ? undefined : person.guestOf.get(event);
  return guest !== undefined && (guest.isInvited || [...guest.places.values()].includes('waitlisted'));
}

/** Is a tree true of somebody? All of nothing is everybody; any of nothing is nobody. */
export function isSo(tree: Tree, person: PersonFacts): boolean {
  if (tree.kind === 'all') return tree.of.every((one) => isSo(one, person));
  if (tree.kind === 'any') return tree.of.some((one) => isSo(one, person));
  if (tree.kind === 'none') return !tree.of.some((one) => isSo(one, person));
  return meets(tree, person);
}

function meets(condition: Condition, person: PersonFacts): boolean {
  switch (condition.kind) {
    case 'list':
      return overlaps(person.lists, condition.lists);
    case 'topic':
      return overlaps(person.topics, condition.topics);
    case 'other-topics':
      return person.topics.length > 0 && !overlaps(person.topics, condition.topics);
    case 'field':
      return passes(person.fields.get(condition.field), condition.test);
    case 'consent':
      return condition.channel === 'email'
        ? person.emailConsent && !person.optedOut
        : person.textConsent && !person.optedOut;
    case 'textable':
      return person.hasMobile && person.textConsent && !person.optedOut && !person.isSameAsOther;
    case 'zone':
      return condition.zones.includes(person.zone);
    case 'person':
      return condition.ids.includes(person.id);
    case 'got':
      return person.got.some(
        ({ kind, event, atMs }) =>
          kind === condition.message &&
          atMs >= condition.sinceMs &&
          (condition.event === null || event === condition.event),
      );
    case 'had-it': {
      const { cue, slot, zone } = condition;
      return person.had.some((one) => one.cue === cue && one.slot === slot && one.zone !== zone);
    }
    case 'own-time':
      return (person.guestOf.get(condition.event)?.ownStart ?? '') === condition.start;
    case 'step':
      return tookStep(person.guestOf.get(condition.about.event), condition);
    case 'invited':
      return isInvitedTo(person.guestOf.get(condition.event));
    case 'guest':
      return person.guestOf.get(condition.event)?.isGuest === true;
    case 'holds':
      return person.guestOf.get(condition.event)?.holds === condition.version;
    case 'answered-any':
      return hasAnswered(person.guestOf.get(condition.event), condition.replies, condition.sinceMs);
    case 'segment':
      throw new Error('a segment is put in its place before anybody is asked');
    case 'answered':
      return isAnswered(person.guestOf.get(condition.about.event), condition.about, condition.replies);
    case 'registered':
      return placesAt(person.guestOf.get(condition.about.event), condition.about, 'confirmed').length > 0;
    case 'waitlisted':
      return placesAt(person.guestOf.get(condition.about.event), condition.about, 'waitlisted').length > 0;
    case 'in-person':
    case 'online': {
      const guest = person.guestOf.get(condition.about.event);
      return placesAt(guest, condition.about, 'confirmed').some(
        (key) => guest?.online.includes(key) === (condition.kind === 'online'),
      );
    }
    default:
      return cameOrNot(person.guestOf.get(condition.about.event), condition.about, condition.kind);
  }
}

const tookStep = (
  guest: GuestFacts | undefined,
  { step, about, fromMs, toMs }: Extract<Condition, { kind: 'step' }>,
): boolean =>
  guest?.steps.some(
    (one) =>
      one.step === step && (about.date === null || one.date === about.date) && one.atMs >= fromMs && one.atMs < toMs,
  ) === true;

const isInvitedTo = (guest: GuestFacts | undefined): boolean =>
  guest !== undefined && (guest.holds !== null || guest.isBeingInvited);

function isAnswered(guest: GuestFacts | undefined, { date }: About, replies: readonly ReplyState[]): boolean {
  if (!guest?.isInvited) return false;
  const ofDate = date === '' ? null : (guest.dates.get(date)?.reply ?? null);
  const reply = ofDate ?? (guest.isByDate ? null : guest.reply);
  return reply !== null && replies.includes(reply);
}

/** For the whole, where they have a part in it, or for any date. */
function hasAnswered(guest: GuestFacts | undefined, replies: readonly ReplyState[], sinceMs: number | null): boolean {
  if (!guest) return false;
  const isMeant = (reply: ReplyState | null, atMs: number | null): boolean =>
    reply !== null && replies.includes(reply) && (sinceMs === null || (atMs !== null && atMs >= sinceMs));
  if (guest.isInvited && !guest.isByDate && isMeant(guest.reply, guest.repliedAtMs)) return true;
  return [...guest.dates.values()].some(({ reply, repliedAtMs }) => isMeant(reply, repliedAtMs));
}

/** The dates by which somebody has a place in this state at the date: one there goes before one at every date. */
function placesAt(guest: GuestFacts | undefined, { date }: About, state: PlaceState): string[] {
  if (!guest) return [];
  const { places } = guest;
  const keys = date === '' ? [...places.keys()] : [places.has(date) ? date : ''];
  return keys.filter((key) => places.get(key) === state);
}

function cameOrNot(guest: GuestFacts | undefined, { date }: About, kind: 'attended' | 'no-show'): boolean {
  if (!guest) return false;
  const dates = [...guest.dates].filter(([key]) => date === '' || key === date).map(([, known]) => known);
  return dates.some(({ attended }) => attended === (kind === 'attended'));
}

const overlaps = <T>(some: readonly T[], others: readonly T[]): boolean => some.some((one) => others.includes(one));
