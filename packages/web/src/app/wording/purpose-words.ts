import type { Came } from '@convite/contract';
import type { Purpose } from '@convite/core';
import { sayNumber } from '../ui/say';

/** What each purpose is called. */
export const purposeWords: Readonly<Record<Purpose, string>> = {
  invitation: 'Inviting',
  registration: 'Registering',
  reminder: 'Counting down',
  change: 'Changing and calling off',
  after: 'After the event',
  digest: 'Digests',
  answer: 'Answering',
  block: 'Blocks that stand in many messages',
  other: 'Anything else',
};

/** What came of a wording. @example '1,204 sent · 310 answered · 2 opted out' */
export const sayCame = ({ sent, replies, optOuts }: Came): string =>
  [`${sayNumber(sent)} sent`, `${sayNumber(replies)} answered`, `${sayNumber(optOuts)} opted out`].join(' · ');
