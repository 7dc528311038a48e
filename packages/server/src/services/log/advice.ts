import type { Lane } from '@convite/core';
import { refusalAbout } from '../../mail/refusal';

/** What can be done about a message that did not arrive; empty where there is nothing to do. */
export function adviceOn({ state, answer }: { state: string; answer: string }, channel: Lane): string {
  if (state === 'skipped') return '';
  if (answer.startsWith('It could not be composed')) return 'Mend the event or the wording, then try again.';
  if (channel === 'act') return 'Choose something else for the cue to do, then try again.';
  if (channel === 'text') return 'Check the number and the gateway, then try again, or write by email.';
  const advice = {
    address: 'The address does not exist: ask the person for another one.',
    mailbox: 'The mailbox takes nothing now: try again in a few days.',
    policy: 'They refuse us as the sender: see to the mail server’s reputation, then try again.',
    message: 'They refuse this message: see the words beside, change it, then try again.',
  };
  return advice[refusalAbout(answer)];
}
