import type { ReleaseWhat } from '../../store/releases';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';

/** What a message says while it waits. */
export const waitingNote = 'Waits for a second member to read and release it.';

/**
 * Where the house asks for it, something that was written waits for a second member; else it waits no more. To be called in the
 * transaction that saves it. @param gets whom it is to go to, of what is sent by hand @returns whether it waits
 */
export async function askRelease(
  { clock }: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  { what, ref, gets = null }: { readonly what: ReleaseWhat; readonly ref: number; readonly gets?: number | null },
  actor: Actor,
): Promise<boolean> {
  const { asksRelease } = await tx.house.settings();
  if (!asksRelease) {
    await tx.releases.drop(what, ref);
    return false;
  }
  const { memberId = null, name: by } = actor;
  await tx.releases.wait({ what, ref, writtenBy: memberId, by, gets, at: nowOf({ clock }) });
  return true;
}
