import { mostPicked, type GuestSelection } from '@convite/contract';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { Failure } from '../failure';

/** The people that somebody picked. @throws Failure 422 when there are more than can be dealt with by hand, or nobody */
export async function pickedIds(
  { guests }: Pick<StoreSubjects, 'guests'>,
  event: StoredEvent,
  selection: GuestSelection,
): Promise<number[]> {
  if (selection.kind === 'some') return [...new Set(selection.ids)];
  const { occurrence, search, filter } = selection;
  const asked = { occurrence, search, filter, version: event.version.number };
  const ids = await guests.ids(event.id, asked, mostPicked + 1);
  if (ids.length > mostPicked)
    throw new Failure(
      422,
      'too-many-picked',
      `So many can be dealt with by hand: ${mostPicked.toLocaleString('en-GB')}. Narrow the list, or make a cue for those who answered so.`,
    );
  if (ids.length === 0) throw new Failure(422, 'nobody', 'Nobody of these is there any more.');
  return ids;
}
