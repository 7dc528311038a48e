/** What a message that is kept is for. */
export const purposes = [
  'invitation',
  'registration',
  'reminder',
  'change',
  'after',
  'digest',
  'answer',
  'other',
] as const;
export type Purpose = (typeof purposes)[number];
