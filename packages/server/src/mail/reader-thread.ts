// The thread that takes strangers' mail apart: whatever a message does to it, it can be ended.
import { offsetMinutesAt, zonesByLikelihood } from '@convite/core';
import { answerRequests } from '../threads/answer-requests';
import type { ReaderRequest } from './mail-reader';
import { isSenderProved } from './prove-sender';
import { readMail } from './read-mail';

answerRequests((request: ReaderRequest): Promise<unknown> =>
  request.kind === 'read'
    ? readMail(request.octets, request.knownAs)
    : isSenderProved(request.octets, request.fromAddress, request.arrival),
);

/**
 * Looks once at the offsets of all zones around this year, a zone at a time: a zone under an unknown name is then found in
 * milliseconds, and a message that comes meanwhile does not wait.
 */
function warmUp(zones: readonly string[], at = 0): void {
  const zone = zones[at];
  if (zone === undefined) return;
  for (const months of [-6, 6, 18]) offsetMinutesAt(zone, Date.now() + months * 30 * 86_400_000);
  setImmediate(() => warmUp(zones, at + 1));
}
warmUp(zonesByLikelihood());
