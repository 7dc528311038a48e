import type { Channel } from './audience';

/** One line of the ledger: what was said of being written to. */
export interface ConsentEntry {
  readonly channel: Channel;
  /** Empty for everything of the channel. */
  readonly topic: string;
  readonly isGiven: boolean;
}

/** Whether somebody who was taken in without a word of consent is written to: by email not, before they say so. */
export type CameWith = 'consent' | 'nothing';

/**
 * What counts now of all that was said, in order: the last of each channel. Email goes until somebody says no to whom came with
 * consent: an address on a list was given for it; a text goes only once somebody has said yes (common practice). What was said of a topic says
 * nothing of the whole.
 */
export function consentNow(
  entries: readonly ConsentEntry[],
  cameWith: CameWith = 'consent',
): Readonly<Record<Channel, boolean>> {
  const last = (channel: Channel): boolean | undefined =>
    entries.filter((entry) => entry.channel === channel && entry.topic === '').at(-1)?.isGiven;
  return { email: last('email') ?? cameWith === 'consent', text: last('text') ?? false };
}
