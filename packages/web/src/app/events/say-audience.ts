import type { CueFields } from '@convite/contract';
import { sayNumber } from '../ui/say';
import { placeWords, replyWords } from './reply-words';

/** Whom a cue asks for, in a few words. */
export function sayAudience({
  invitees,
  came,
  places,
  people,
  lists,
  exceptReplies,
  ofTopics,
  onlyGuests,
}: CueFields['audience']): string {
  const parts = [
    ...(invitees.length === 4 ? ['everybody invited'] : invitees.map((reply) => replyWords[reply])),
    ...(came ?? []).map((kind) => (kind === 'attended' ? 'who came' : 'who did not come')),
    ...(places ?? []).map((kind) => `who ${placeWords[kind]}`),
    ...(people?.length ? [`${sayNumber(people.length)} picked by hand`] : []),
    ...(lists.length ? [`${lists.length} ${lists.length === 1 ? 'list' : 'lists'}`] : []),
    ...(ofTopics ? ['not who asked for other topics'] : []),
    ...(onlyGuests ? ['guests only'] : []),
    ...(exceptReplies.length ? [`not who said ${exceptReplies.map((reply) => replyWords[reply]).join(', ')}`] : []),
  ];
  return parts.join(', ') || 'nobody yet';
}
