import {
  isOfEvent,
  plainTextOf,
  prepareDocument,
  sayOnly,
  type Channel,
  type Problem,
  type WordingDocument,
} from '@convite/core';

/** Everything wrong with a wording before it may be sent; a text message has no subject. */
export function checkWording(wording: WordingDocument, channel: Channel): Problem[] {
  const problems = prepareDocument(wording).problems.filter(({ path }) => channel === 'email' || path === 'body');
  if (!plainTextOf(wording).trim()) problems.push({ code: 'required', path: 'body' });
  if (channel === 'email' && !wording.subject.trim()) problems.push({ code: 'required', path: 'subject' });
  return problems;
}

/** The same of a message about no event: a field or a block of one has nothing to stand for. */
export function checkHouseWording(wording: WordingDocument, channel: Channel): Problem[] {
  const { fields, about, onlys } = prepareDocument(wording);
  return [
    ...checkWording(wording, channel),
    ...[...[...fields].filter(isOfEvent), ...about, ...onlys.map(sayOnly)].map((name): Problem => ({
      code: 'field-of-event',
      path: 'body',
      facts: { name },
    })),
  ];
}
