import { createHash } from 'node:crypto';
import { gzipSync } from 'node:zlib';
import type { Response } from 'express';

/** What is answered with, ready to be written: rendered, encoded and marked once, however many ask. */
export interface Served {
  readonly headers: ReadonlyMap<string, string>;
  readonly body: Buffer;
  /** The same packed, once, when somebody takes it so; null where that is not worth it, or it is one person's own. */
  readonly packed: (() => Buffer) | null;
}

/** Below this nothing is won by packing. */
const leastPacked = 1000;

/**
 * @param headers content-type among them. The ETag is of the content (RFC 9110 §8.8.3), so that whoever holds it already
 *   is told so
 * @param isForAll nothing secret is in it, whose length could be guessed from that of the packed whole
 */
export function serve(text: string, headers: Readonly<Record<string, string>>, isForAll = false): Served {
  const body = Buffer.from(text);
  const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 27)}"`;
  let kept: Buffer | undefined;
  const packed = isForAll && body.length >= leastPacked ? () => (kept ??= gzipSync(body)) : null;
  return { headers: new Map(Object.entries({ etag, ...headers })), body, packed };
}

/**
 * Express compares the ETag with what the reader holds, and answers 304 by itself (RFC 9110 §13.2.2). Packed octets have an ETag
 * of their own (§8.8.3.3).
 */
export function sendServed(response: Response, { headers, body, packed }: Served): void {
  for (const [name, value] of headers) response.setHeader(name, value);
  if (packed) response.vary('accept-encoding');
  if (!packed || !response.req.acceptsEncodings('gzip')) {
    response.send(body);
    return;
  }
  response.setHeader('content-encoding', 'gzip');
  const etag = headers.get('etag');
  if (etag) response.setHeader('etag', etag.replace(/"$/, '-gz"'));
  response.send(packed());
}
