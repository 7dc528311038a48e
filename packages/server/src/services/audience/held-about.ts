import type { MessageRow, SentMessage } from '@convite/contract';
import type { heldStore } from '../../store/held';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';
import { listMessages, showMessage } from '../sending/show-message';

type Held = NonNullable<Awaited<ReturnType<ReturnType<typeof heldStore>['of']>>>;
/** A message with what it said, where that is kept. */
type HeldMessage = MessageRow & Partial<SentMessage>;

/** Everything that is held about one person, for them to have, as data: what they said, and what was written to them. @throws Failure 404 */
export async function heldAbout(
  context: Context,
  id: number,
): Promise<Held & { readonly takenAt: string; readonly messages: readonly HeldMessage[] }> {
  const held = await context.store.held.of(id);
  if (!held) throw notFound('subscriber');
  const messages: HeldMessage[] = [];
  for (let before: number | null = 0; before !== null;) {
    const page = await listMessages(context, id, before);
    for (const row of page.rows)
      messages.push({ ...row, ...(row.isKept && (await showMessage(context, row.deliveryId))) });
    before = page.next;
  }
  return { takenAt: nowOf(context).toISOString(), ...held, messages };
}

/** The same, taken down as an act of somebody. */
export async function takeHeldAbout(context: Context, id: number, actor: Actor): ReturnType<typeof heldAbout> {
  const held = await heldAbout(context, id);
  await context.store.house.audit(nowOf(context), actor, 'export: all about a person', `person ${id}`);
  return held;
}
