import type { ReplyState } from '@convite/core';

/** Answers as people say them. */
export const replyWords: Readonly<Record<ReplyState, string>> = {
  accepted: 'yes',
  tentative: 'perhaps',
  declined: 'no',
  'needs-action': 'no answer',
};
