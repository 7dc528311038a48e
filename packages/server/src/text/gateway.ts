import * as z from 'zod';
import type { End, Refusal, TextMessage } from '../mail/message';

export interface GatewayOptions {
  readonly url: string;
  readonly key: string;
  /** Where the gateway posts delivery receipts and incoming texts. */
  readonly callbackUrl: string;
}

/** What the gateway posts back: the fate of a text, or a text from a person. docs/running-it.md describes both ways. */
export const gatewayReceipt = z.object({
  reference: z.string(),
  status: z.enum(['delivered', 'failed']),
  detail: z.string().default(''),
});
export const gatewayIncoming = z.object({ from: z.string(), text: z.string().max(2000) });

const timeoutMs = 15_000;

/** Ends text messages at an HTTP text gateway: one POST a message, 202 when taken. */
export function textGateway({ url, key, callbackUrl }: GatewayOptions): End<TextMessage> {
  return {
    async send({ reference, from, to, text, date }) {
      try {
        const response = await fetch(`${url}/messages`, {
          method: 'POST',
          headers: {
            'content-type': 'application/json',
            ...(key && { authorization: `Bearer ${key}` }),
            'idempotency-key': reference,
          },
          body: JSON.stringify({ reference, from, to, text, sentAt: date.toISOString(), callbackUrl }),
          signal: AbortSignal.timeout(timeoutMs),
        });
        return response.ok ? null : refusalOf(response.status, (await response.text()).slice(0, 300));
      } catch (error) {
        const answer = error instanceof Error ? error.message : String(error);
        return { kind: error instanceof DOMException ? 'transient' : 'unreachable', answer };
      }
    },
    close: () => undefined,
  };
}

/** RFC 9110 §15: 429 and 5xx may work later, any other 4xx will not. */
function refusalOf(status: number, body: string): Refusal {
  const answer = `${status} ${body}`.trim();
  return status === 429 || status >= 500
    ? { kind: 'transient', answer }
    : { kind: 'permanent', answer, isAddress: false };
}
