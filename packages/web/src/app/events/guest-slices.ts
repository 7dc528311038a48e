import type { CueFields } from '@convite/contract';
import { noAudience, type Audience } from '@convite/core';

/** Some of an event's guests, as somebody writes to them. */
export type Slice =
  | 'silent'
  | 'second'
  | 'coming'
  | 'perhaps'
  | 'everybody'
  | 'declined'
  | 'waitlisted'
  | 'attended'
  | 'no-show'
  | 'picked';

interface SliceWords {
  readonly says: string;
  /** What it begins with, by its key among the wordings. */
  readonly from: string;
  readonly audience: Omit<Partial<Audience>, 'people'>;
}

export const slices: Readonly<Record<Exclude<Slice, 'picked'>, SliceWords>> = {
  silent: { says: 'who has not answered', from: 'remind', audience: { invitees: ['needs-action'] } },
  second: {
    says: 'no answer or perhaps: second invitation',
    from: 'secondInvitation',
    audience: { invitees: ['needs-action', 'tentative'], exceptReplies: ['accepted', 'declined'] },
  },
  coming: { says: 'who said yes', from: 'tomorrow', audience: { invitees: ['accepted'] } },
  perhaps: { says: 'who said perhaps', from: 'remind', audience: { invitees: ['tentative'] } },
  declined: { says: 'who said no', from: 'fromEvent', audience: { invitees: ['declined'] } },
  everybody: {
    says: 'everybody invited',
    from: 'fromEvent',
    audience: { invitees: ['needs-action', 'accepted', 'tentative', 'declined'] },
  },
  waitlisted: { says: 'who waits for a place', from: 'fromEvent', audience: { places: ['waitlisted'] } },
  attended: { says: 'who came', from: 'thanks', audience: { came: ['attended'] } },
  'no-show': { says: 'who did not come', from: 'missed', audience: { came: ['no-show'] } },
};

export const audienceOf = (slice: Slice, picked: readonly number[]): CueFields['audience'] =>
  slice === 'picked' ? { ...noAudience, people: [...picked] } : { ...noAudience, ...slices[slice].audience };

/** Those who were invited are written to where their invitation stands. */
export const isOfInvitation = (slice: Slice): boolean =>
  slice === 'silent' || slice === 'second' || slice === 'perhaps';
