import type { StoredEvent } from '../../store/events';
import type { Context } from '../context';
import { notFound } from '../failure';

/** @throws Failure 404 */
export async function getEvent({ store }: Pick<Context, 'store'>, id: number): Promise<StoredEvent> {
  const event = await store.events.find(id);
  if (!event) throw notFound('event');
  return event;
}
