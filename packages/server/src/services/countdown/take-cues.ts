import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { planCues } from './plan-firings';

/** Gives events the cues that another has, and plans them. */
export async function takeCues(
  { clock }: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  from: number,
  eventIds: readonly number[],
): Promise<void> {
  const cues = (await tx.cues.ofEvent(from)).filter(({ isRetired }) => !isRetired);
  if (cues.length === 0) return;
  for (const id of eventIds) {
    for (const cue of cues) await tx.cues.create(id, cue);
    const stored = await tx.events.find(id);
    if (stored) await planCues(tx, stored, await tx.cues.ofEvent(id), clock.now());
  }
}
