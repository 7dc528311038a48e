import type { Method } from '@convite/core';

/** An email ready to be handed over; how it becomes MIME is the sender's business. */
export interface EmailMessage {
  readonly kind: 'email';
  /** Without angle brackets' surroundings: `<d12@…>`. The same on every attempt, so that a repeat can be recognised. */
  readonly messageId: string;
  /** Envelope sender: ties a bounce to its delivery (VERP). */
  readonly envelopeFrom: string;
  readonly from: { readonly name: string; readonly address: string };
  readonly replyTo: string;
  readonly to: { readonly name: string; readonly address: string };
  /** Message-ID of what it answers, in whose thread it stands (RFC 5322 §3.6.4); left out for none. */
  readonly inReplyTo?: string;
  readonly subject: string;
  /** What mail programs show beside the subject. */
  readonly preheader: string;
  /** When it is sent, by the shared clock. */
  readonly date: Date;
  readonly text: string;
  readonly html: string;
  /** Pictures that it carries, named in its HTML by `cid:` (RFC 2392). */
  readonly inline?: readonly { readonly cid: string; readonly type: string; readonly content: Buffer }[];
  readonly calendar: { readonly method: Method | 'DECLINECOUNTER'; readonly text: string } | null;
  /** https address and mailto for List-Unsubscribe (RFC 2369, RFC 8058); null where there is nothing to opt out of. */
  readonly optOut: { readonly url: string; readonly mailto: string } | null;
  readonly listId: string;
}

export interface TextMessage {
  readonly kind: 'text';
  /** Our reference at the gateway, and in its receipts. */
  readonly reference: string;
  readonly from: string;
  readonly to: string;
  readonly date: Date;
  readonly text: string;
}

/**
 * What a refusal for good is about: `address`, which does not exist; `mailbox`, which takes nothing now; `policy`, so that
 * it says more of the sender than of the person; or this `message`.
 */
export type RefusalAbout = 'address' | 'mailbox' | 'policy' | 'message';

/** Why a message did not leave. */
export type Refusal =
  /** The other side said no for good (5xx), and what that is about. */
  | { readonly kind: 'permanent'; readonly answer: string; readonly about: RefusalAbout }
  /** Not now (4xx). `mayHaveLeft`: cut off before the other side answered, so that it may have taken it. */
  | { readonly kind: 'transient'; readonly answer: string; readonly mayHaveLeft: boolean }
  /** Nobody there: nothing was tried. */
  | { readonly kind: 'unreachable'; readonly answer: string };

/** An end that messages leave by. Null: accepted. */
export interface End<M> {
  send(message: M): Promise<Refusal | null>;
  close(): Promise<void> | void;
}
