import type { ChangeContact } from '@convite/contract';
import { readMobile } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { refuseProblems } from '../failure';

/** Who is told of what stands by of an event, in place of the house's contact; with both empty that is told again. @throws Failure 422 */
export async function setContact(
  context: Context,
  id: number,
  { email, mobile }: ChangeContact,
  actor: Actor,
): Promise<void> {
  const { version } = await getEvent(context, id);
  const { region } = await context.store.house.settings();
  const read = mobile ? readMobile(mobile, region, 'mobile') : null;
  if (read && !read.ok) refuseProblems(read.problems);
  await context.store.events.setContact(id, { email, mobile: read?.ok ? read.value : '' });
  await context.store.house.audit(nowOf(context), actor, 'event: contact', version.facts.title);
  await context.store.live.touch(`event:${id}`);
}
