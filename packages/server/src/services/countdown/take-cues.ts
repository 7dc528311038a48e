import { isOwnCue, type StoredCue } from '../../store/cues';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { planCues } from './plan-firings';

/**
 * Gives events the cues that another has, and plans them.
 * @param isTaken leaves some behind
 */
export async function takeCues(
  { clock }: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  from: number,
  eventIds: readonly number[],
  isTaken: (cue: StoredCue) => boolean = () => true,
): Promise<void> {
  const cues = (await tx.cues.ofEvent(from)).filter((cue) => isOwnCue(cue) && isTaken(cue));
  if (cues.length === 0) return;
  const waiting = await tx.releases.waitingAmong(
    'cue',
    cues.map(({ id }) => id),
  );
  for (const id of eventIds) {
    for (const cue of cues) {
      const copy = await tx.cues.create(id, cue);
      // Words that nobody released are not released by being copied.
      const waits = waiting.get(cue.id);
      if (waits) await tx.releases.wait({ ...waits, ref: copy });
    }
    const stored = await tx.events.find(id);
    if (stored) await planCues(tx, stored, await tx.cues.ofEvent(id), clock.now());
  }
}
