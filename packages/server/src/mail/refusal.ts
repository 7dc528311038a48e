import type { RefusalAbout } from './message';

/** Words by which mail servers without enhanced codes say that it is the sender they do not want. */
const policyWords =
  /\b(spam|block(ed|list)?|denied|policy|reputation|listed|relay(ing)?|authentication|dmarc|spf|dkim)\b/i;

/**
 * What a refusal for good is about, by its enhanced status code (RFC 3463 §3): only what is said of the recipient's
 * address suppresses it. 5.1.7 and 5.1.8 are about the sender's address; without a code the words decide, and what they
 * leave open is taken for the mailbox, which must refuse on three days.
 */
export function refusalAbout(answer: string): RefusalAbout {
  const [, subject, detail] = /\b5\.(\d{1,3})\.(\d{1,3})\b/.exec(answer) ?? [];
  if (subject === undefined) {
    if (policyWords.test(answer)) return 'policy';
    return /^55[013]\b/.test(answer) ? 'mailbox' : 'message';
  }
  if (subject === '1') return ['7', '8', '9'].includes(detail ?? '') ? 'policy' : 'address';
  if (policyWords.test(answer) || subject === '7') return 'policy';
  return subject === '2' ? 'mailbox' : 'message';
}
