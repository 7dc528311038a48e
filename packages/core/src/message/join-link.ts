import type { EventFacts } from '../event/event';
import type { WordingDocument } from './document';
import { anyReader } from './only';
import { aboutNothing } from './about-event';
import { prepareDocument } from './render';
import { houseBlocksIn, versionsOf } from './versions';

/**
 * Does a message depend on the join link: a button that leads to it, a field of it without a fallback, or the place of an event that
 * has no venue? Convite shows the join link to guests of the event only, so such a message is wrong for everybody else.
 * @param document with the organisation's blocks in place
 */
export function needsJoinLink(
  document: WordingDocument,
  { venue, joinLink }: Pick<EventFacts, 'venue' | 'joinLink'>,
): boolean {
  // As somebody reads it who is no guest: blocks for those who answered do not concern them.
  const reader = { ...anyReader, isOnline: joinLink !== '', hasPlace: venue !== '', livesElsewhere: true };
  const empty = versionsOf(document).flatMap(({ said }) =>
    prepareDocument(said).emptyWith({ 'event.place': venue }, { ...aboutNothing, reader }),
  );
  return empty.includes('event.joinLink') || (joinLink !== '' && empty.includes('event.place'));
}

/** Could it depend on the join link, whatever event it is about? True also where the organisation's blocks are only named. */
export const mayNeedJoinLink = (document: WordingDocument): boolean =>
  houseBlocksIn(document).length > 0 ||
  versionsOf(document).some(({ said }) => {
    const { fields } = prepareDocument(said);
    return fields.has('event.joinLink') || fields.has('event.place');
  });
