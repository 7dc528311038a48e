import {
  allBlocks,
  isOfEvent,
  plainTextOf,
  prepareDocument,
  sayOnly,
  versionsOf,
  type Channel,
  type Problem,
  type Version,
  type WordingDocument,
} from '@convite/core';

/** Everything wrong with a wording before it may be sent; a text message has no subject. */
export const checkWording = (wording: WordingDocument, channel: Channel): Problem[] =>
  versionsOf(wording).flatMap(({ language, said }) => {
    const problems = problemsIn(said, channel);
    return language ? problems.map((one) => ({ ...one, path: `${language}.${one.path}` })) : problems;
  });

function problemsIn(said: Version, channel: Channel): Problem[] {
  const problems = prepareDocument(said).problems.filter(({ path }) => channel === 'email' || path === 'body');
  if (!saysAnything(said)) problems.push({ code: 'required', path: 'body' });
  if (channel === 'email' && !said.subject.trim()) problems.push({ code: 'required', path: 'subject' });
  return problems;
}

/** Blocks that say what is known only as a message goes say something too. */
const saysAnything = (said: Version): boolean =>
  plainTextOf(said).trim() !== '' || said.blocks.some(({ kind }) => kind === 'places' || kind === 'coming');

/** The same of a block of the house, which has no subject. */
export const checkBlocks = (wording: WordingDocument): Problem[] =>
  checkWording(wording, 'email').filter(({ path }) => !path.endsWith('subject'));

/** The same of a message about no event: a field or a block of one has nothing to stand for. */
export function checkHouseWording(wording: WordingDocument, channel: Channel): Problem[] {
  const all = { subject: '', blocks: allBlocks(wording) };
  const { about, onlys } = prepareDocument(all);
  const fields = new Set(versionsOf(wording).flatMap(({ said }) => [...prepareDocument(said).fields]));
  return [
    ...checkWording(wording, channel),
    ...[...[...fields].filter(isOfEvent), ...about, ...onlys.map(sayOnly)].map((name): Problem => ({
      code: 'field-of-event',
      path: 'body',
      facts: { name },
    })),
  ];
}
