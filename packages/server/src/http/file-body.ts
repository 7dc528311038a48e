import type { Request } from 'express';
import { Failure } from '../services/failure';

/**
 * Takes a file as it comes, piece by piece, and never more of it than `most` octets.
 * @throws Failure 413 for a larger one, and 415 for one that is packed: what it would unpack to nobody has said
 */
export async function takeFile(request: Request, most: number): Promise<Uint8Array<ArrayBuffer>> {
  if (request.get('content-encoding')) throw new Failure(415, 'packed', 'Send the file as it is, not packed.');
  const tooLarge = new Failure(413, 'too-large', `This file is too large; up to ${most / 1_000_000} MB can be read.`);
  if (Number(request.get('content-length') ?? 0) > most) throw tooLarge;
  const pieces: Uint8Array[] = [];
  let octets = 0;
  // The connection outlives a refusal, or the refusal would not be read.
  for await (const piece of request.iterator({ destroyOnReturn: false }) as AsyncIterable<Uint8Array>) {
    octets += piece.length;
    if (octets > most) throw tooLarge;
    pieces.push(piece);
  }
  const whole = new Uint8Array(octets);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
