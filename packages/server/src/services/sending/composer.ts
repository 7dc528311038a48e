import type { EmailMessage, TextMessage } from '../../mail/message';
import type { Recipient } from '../../store/subscribers';

/** Writes one person's message of a firing; null when there is nothing to say to them. */
export type Composer = (
  person: Recipient,
  deliveryId: number,
  topics: readonly string[],
) => EmailMessage | TextMessage | null;
