import type { FiringKind } from '@convite/contract';

/** What a firing is called that has no name of its own. */
export const kindWords: Readonly<Record<FiringKind, string>> = {
  cue: 'Cue',
  digest: 'Digest',
  invitation: 'Invitation',
  notice: 'Notice',
  answer: 'Answer',
  manual: 'Message by hand',
};
