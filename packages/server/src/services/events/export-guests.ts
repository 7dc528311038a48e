import type { GuestQuery } from '@convite/contract';
import { nowOf, type Actor, type Context } from '../context';
import type { TextRows } from '../../files/table-file';
import { getEvent } from './get-event';

const atOnce = 1000;
export const guestHeading = [
  'name',
  'email',
  'mobile',
  'by',
  'answer',
  'place',
  'answered',
  'comment',
  'invited',
  'holds version',
];

/** The guests that a filter and a search leave, as rows of text, piece by piece. Instants with their offset (RFC 3339). */
export async function exportGuests(
  context: Context,
  eventId: number,
  query: Pick<GuestQuery, 'occurrence' | 'search' | 'filter' | 'sort'>,
  actor: Actor,
): Promise<TextRows> {
  const event = await getEvent(context, eventId);
  const { store } = context;
  await store.house.audit(nowOf(context), actor, 'export: guests', event.version.facts.title);
  async function* pages() {
    for (let after: string | null = ''; after !== null;) {
      const asked = { ...query, version: event.version.number, after, limit: atOnce };
      const { rows, next } = await store.guests.page(eventId, asked);
      yield rows.map((guest) => [
        guest.person.name,
        guest.person.email,
        guest.person.mobile,
        guest.channel,
        guest.reply,
        guest.place ?? '',
        guest.repliedAt ?? '',
        guest.comment,
        guest.invitedAt ?? '',
        guest.holdsVersion === null ? '' : String(guest.holdsVersion),
      ]);
      after = next;
    }
  }
  return pages();
}
