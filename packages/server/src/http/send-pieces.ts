import type { Response } from 'express';

/** Sends a file piece by piece, no faster than it is taken; who goes away ends it. @param name with its ending */
export async function sendPieces(
  response: Response,
  {
    name,
    type,
    pieces,
  }: { readonly name: string; readonly type: string; readonly pieces: AsyncIterable<Uint8Array | string> },
): Promise<void> {
  response.type(type).attachment(name);
  for await (const piece of pieces) {
    if (response.destroyed) return;
    if (!response.write(piece)) await new Promise((resolve) => response.once('drain', resolve).once('close', resolve));
  }
  response.end();
}
