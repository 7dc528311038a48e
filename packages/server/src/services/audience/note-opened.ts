import type { OwnPage } from '../../store/pages-opened';
import { nowOf, type Context } from '../context';

/**
 * Notes that somebody opened a page of their own, where the house does that and they do not mind. Nobody waits for it, and nothing
 * goes wrong when it cannot be noted. Programs that look at every link open pages, too.
 */
export async function noteOpened(context: Context, personId: number, page: OwnPage, eventId = 0): Promise<void> {
  try {
    const { notesPages } = await context.store.house.settings();
    if (notesPages) await context.store.pagesOpened.note(personId, page, eventId, nowOf(context));
  } catch {
    // A page is shown whether or not this works; an outage is told by whoever needs the database.
  }
}
