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
  reference: z.string().max(100),
  status: z.enum(['delivered', 'failed']),
  detail: z.string().max(2000).default(''),
});
export const gatewayIncoming = z.object({ from: z.string().max(40), text: z.string().max(2000) });

/** One text holds up the others no longer than this, whatever the gateway does. */
const timeoutMs = 10_000;
const mostAnswerOctets = 4000;

/** Ends text messages at an HTTP text gateway: one POST a message, 202 when taken. */
export function textGateway({ url, key, callbackUrl }: GatewayOptions): End<TextMessage> {
  return {
    async send({ reference, from, to, text, date }) {
      try {
        return await inTime(async (signal) => {
          const response = await fetch(`${url}/messages`, {
            method: 'POST',
            redirect: 'error',
            headers: {
              'content-type': 'application/json',
              ...(key && { authorization: `Bearer ${key}` }),
              'idempotency-key': reference,
            },
            body: JSON.stringify({ reference, from, to, text, sentAt: date.toISOString(), callbackUrl }),
            signal,
          });
          const answer = await beginningOf(response, signal);
          return response.ok ? null : refusalOf(response.status, answer);
        });
      } catch (error) {
        return failureOf(error);
      }
    },
    close: () => undefined,
  };
}

/** Where no gateway is set up, every text says so. */
export const noTextGateway: End<TextMessage> = {
  send: () =>
    Promise.resolve({ kind: 'permanent', answer: 'No text gateway is set up (TEXT_GATEWAY_URL).', about: 'message' }),
  close: () => undefined,
};

/** The time is kept here: once an answer has begun, `fetch` may forget its signal, and a trickle would never end. */
async function inTime<T>(work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const cut = new AbortController();
  const late = new Promise<never>((_resolve, reject) => {
    cut.signal.addEventListener('abort', () => reject(new DOMException('too late', 'TimeoutError')));
  });
  const timer = setTimeout(() => cut.abort(), timeoutMs);
  try {
    return await Promise.race([late, work(cut.signal)]);
  } finally {
    clearTimeout(timer);
  }
}

/** As much of an answer as is worth reading; the rest of an endless one is let go. */
async function beginningOf(response: Response, signal: AbortSignal): Promise<string> {
  const reader = response.body?.getReader();
  signal.addEventListener('abort', () => void reader?.cancel().catch(() => undefined));
  const decoder = new TextDecoder();
  let text = '';
  while (reader && text.length < mostAnswerOctets) {
    const { done, value } = await reader.read();
    if (done) break;
    text += decoder.decode(value.subarray(0, mostAnswerOctets), { stream: true });
  }
  await reader?.cancel();
  return text.slice(0, 300);
}

/** Cut off by time it may have been taken; the gateway knows a repeat by its idempotency key. */
function failureOf(error: unknown): Refusal {
  if (error instanceof DOMException)
    return { kind: 'transient', answer: `The gateway did not answer within ${timeoutMs / 1000} s.`, mayHaveLeft: true };
  const cause = error instanceof Error && error.cause instanceof Error ? `: ${error.cause.message}` : '';
  return { kind: 'unreachable', answer: `${error instanceof Error ? error.message : String(error)}${cause}` };
}

/** RFC 9110 §15: 429 and 5xx may work later, any other 4xx will not. */
function refusalOf(status: number, body: string): Refusal {
  const answer = `${status} ${body}`.trim();
  return status === 429 || status >= 500
    ? { kind: 'transient', answer, mayHaveLeft: false }
    : { kind: 'permanent', answer, about: 'message' };
}
