import type { Purpose } from '@convite/core';

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
