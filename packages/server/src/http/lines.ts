import type { Response } from 'express';

/** Sends what comes, one JSON value a line, for as long as somebody reads: whoever goes away ends the work behind it. */
export async function sendLines(response: Response, values: AsyncIterable<unknown>): Promise<void> {
  let isGone = false;
  response.on('close', () => (isGone = true));
  for await (const value of values) {
    if (isGone) return;
    if (!response.headersSent) response.type('application/x-ndjson').set('cache-control', 'no-store');
    response.write(`${JSON.stringify(value)}\n`);
  }
  response.end();
}
