/** What a message that is kept is for. */
export const purposes = [
  'invitation',
  'registration',
  'reminder',
  'change',
  'after',
  'digest',
  'answer',
  'block',
  'other',
] as const;
export type Purpose = (typeof purposes)[number];
