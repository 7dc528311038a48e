import type { SignupFields } from '@convite/contract';

/**
 * The form that hangs in the observatory's hall.
 * @param lists the demonstration's lists, in their order
 */
export const inventForm = ([news = 0]: readonly number[]): SignupFields => ({
  name: 'Letters from the mountain',
  intro: 'Clear nights, open domes and rare visitors in the sky: a letter a week, and a note when something moves.',
  lists: [news],
  topics: ['stars', 'moon and planets', 'families', 'online'],
  asksMobile: true,
  emailWords: 'You may write to me about nights at the observatory. I can end that with one press.',
  textWords: 'You may also text me when a night is moved or called off.',
  thanks: 'Welcome! The next letter comes at the end of the week.',
  isOpen: true,
});
