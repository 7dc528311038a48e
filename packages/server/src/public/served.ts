import { createHash } from 'node:crypto';
import type { Response } from 'express';

/** What is answered with, ready to be written: rendered, encoded and marked once, however many ask. */
export interface Served {
  readonly headers: ReadonlyMap<string, string>;
  readonly body: Buffer;
}

/**
 * @param headers content-type among them. The ETag is of the content (RFC 9110 §8.8.3), so that whoever holds it already
 *   is told so
 */
export function serve(text: string, headers: Readonly<Record<string, string>>): Served {
  const body = Buffer.from(text);
  const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 27)}"`;
  return { headers: new Map(Object.entries({ etag, ...headers })), body };
}

/** Express compares the ETag with what the reader holds, and answers 304 by itself (RFC 9110 §13.2.2). */
export function sendServed(response: Response, { headers, body }: Served): void {
  for (const [name, value] of headers) response.setHeader(name, value);
  response.send(body);
}
