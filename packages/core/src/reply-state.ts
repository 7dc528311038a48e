/** What an invitee answered, in the words of PARTSTAT (RFC 5545 §3.2.12). Open to all of core, as problem.ts is. */
export const replyStates = ['needs-action', 'accepted', 'tentative', 'declined'] as const;
export type ReplyState = (typeof replyStates)[number];
