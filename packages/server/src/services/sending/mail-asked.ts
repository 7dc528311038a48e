import type { AskedLimit } from '../../store/asked';
import type { EmailMessage } from '../../mail/message';
import type { Context } from '../context';
import { Failure } from '../failure';

/** What counts a mail that somebody asked for (`store/asked.ts`). */
export interface Counted {
  readonly key: string;
  readonly eventId: number;
  readonly limit?: AskedLimit;
}

/**
 * Mails what somebody asked for, and what was counted before. A mail that cannot be sent counts as none, so that they can ask again.
 * @throws Failure 502 when the mail cannot be sent now
 */
export async function mailAsked(
  { mail, store }: Pick<Context, 'mail' | 'store'>,
  message: EmailMessage,
  counted: readonly Counted[],
): Promise<void> {
  if (!(await mail.send(message))) return;
  for (const { key, eventId, limit } of counted) await store.asked.takeBack(key, eventId, limit);
  throw new Failure(502, 'mail-server', 'Our mail cannot be sent just now. Please try again in a few minutes.');
}
