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
  readonly subject: string;
  /** When it is sent, by the shared clock. */
  readonly date: Date;
  readonly text: string;
  readonly html: string;
  readonly calendar: { readonly method: Method | 'DECLINECOUNTER'; readonly text: string } | null;
  /** https address and mailto for List-Unsubscribe (RFC 2369, RFC 8058). */
  readonly optOut: { readonly url: string; readonly mailto: string };
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

/** Why a message did not leave. */
export type Refusal =
  /** The other side said no for good (5xx). `isAddress`: it was about the address, not about the message. */
  | { readonly kind: 'permanent'; readonly answer: string; readonly isAddress: boolean }
  /** Not now (4xx, or cut off). */
  | { readonly kind: 'transient'; readonly answer: string }
  /** Nobody there: nothing was tried. */
  | { readonly kind: 'unreachable'; readonly answer: string };

/** An end that messages leave by. Null: accepted. */
export interface End<M> {
  send(message: M): Promise<Refusal | null>;
  close(): Promise<void> | void;
}
