import { createHmac, timingSafeEqual } from 'node:crypto';

/** Every address that Convite writes into messages, and the readers of those that come back. */
export interface Links {
  page(publicKey: string): string;
  ics(publicKey: string): string;
  optOut(subscriberId: number): string;
  optOutMailto(subscriberId: number): string;
  /** Whose opt-out token this is; null when it was not made here. */
  readOptOut(token: string): number | null;
  messageId(deliveryId: number): string;
  /** Envelope sender of a delivery (VERP): a bounce comes back to it. */
  bounceAddress(deliveryId: number): string;
  readBounceAddress(address: string): number | null;
  /** ORGANIZER of invitations, where calendars send their replies. */
  readonly repliesAddress: string;
  readonly optOutPrefix: string;
  readonly mailDomain: string;
}

/**
 * Tokens are an id and an HMAC of purpose and id: nothing to store, nothing to guess, none good for another purpose.
 * An opt-out token does not expire, because a person may open a message years later (RFC 8058 §3.1 asks as much).
 */
export function makeLinks({
  publicUrl,
  secret,
  mailDomain,
}: {
  publicUrl: string;
  secret: string;
  mailDomain: string;
}): Links {
  const sign = (purpose: string, id: number): string =>
    createHmac('sha256', secret).update(`${purpose}:${id}`).digest('hex').slice(0, 24);
  const token = (purpose: string, id: number): string => `${id.toString(36)}-${sign(purpose, id)}`;
  const readToken = (purpose: string, text: string): number | null => {
    const [, idText, signature] = /^([0-9a-z]{1,11})-([0-9a-f]{24})$/.exec(text) ?? [];
    if (!idText || !signature) return null;
    const id = parseInt(idText, 36);
    return timingSafeEqual(Buffer.from(sign(purpose, id)), Buffer.from(signature)) ? id : null;
  };
  return {
    page: (key) => `${publicUrl}/e/${key}`,
    ics: (key) => `${publicUrl}/e/${key}/event.ics`,
    optOut: (id) => `${publicUrl}/opt-out/${token('opt-out', id)}`,
    optOutMailto: (id) => `mailto:opt-out+${token('opt-out', id)}@${mailDomain}`,
    readOptOut: (text) => readToken('opt-out', text),
    messageId: (id) => `<d${id}.${sign('message', id).slice(0, 10)}@${mailDomain}>`,
    bounceAddress: (id) => `bounce+${token('bounce', id)}@${mailDomain}`,
    readBounceAddress: (address) => {
      const [, text] = /^bounce\+([^@]+)@/i.exec(address) ?? [];
      return text ? readToken('bounce', text.toLowerCase()) : null;
    },
    repliesAddress: `replies@${mailDomain}`,
    optOutPrefix: 'opt-out+',
    mailDomain,
  };
}
