import type { LinksPressed } from '@convite/contract';
import { inLanguage, linksIn, markLinks } from '@convite/core';
import { nowOf, type Context } from '../context';
import { languageOf } from './manner';
import { composeAgain } from './show-message';

/** Who asks for it. */
export interface Visitor {
  /** As it names itself. */
  readonly agent: string;
  /** It only looks whether there is something (HEAD). */
  readonly onlyLooks: boolean;
}

/** Programs that follow links for people, as they name themselves. From memory. */
const programs = /bot\b|crawl|spider|preview|scan|proxy|fetch|monitor|curl|wget|python|java\/|headless|link-?check/i;
const isProgram = ({ agent, onlyLooks }: Visitor): boolean => onlyLooks || agent === '' || programs.test(agent);

/**
 * Where a counted link leads, noting that it was pressed; null for one that is none of ours, or is kept no longer. It leads on
 * whether or not that can be noted.
 */
export async function followCounted(context: Context, token: string, visitor: Visitor): Promise<string | null> {
  const { links, store } = context;
  const read = links.readCounted(token);
  if (!read) return null;
  const { of, id, index } = read;
  const said = of === 'person' ? await store.said.find(id) : null;
  const forAll = said?.forAll ?? (of === 'message' ? await store.said.lastForAll(id) : null);
  if (!forAll) return null;
  const { addresses } = markLinks(forAll.content.document);
  const address = addresses[index];
  if (address === undefined) return null;
  const pressed = { firingId: said?.firingId ?? id, link: index, isProgram: isProgram(visitor) };
  const note = said
    ? store.linksPressed.noteOfPerson(pressed, {
        ...{ deliveryId: id, subscriberId: said.person.id, at: nowOf(context) },
        links: markLinks(inLanguage(forAll.content.document, languageOf(forAll.house, said.person))).addresses.length,
      })
    : store.linksPressed.noteOfMessage(pressed);
  await note.catch(() => undefined);
  return address;
}

/** Where a short link of a text leads; null for one that is none of ours, or whose text is kept no longer. */
export async function followShort(context: Context, token: string): Promise<string | null> {
  const read = context.links.readShort(token);
  const said = read && (await context.store.said.find(read.deliveryId));
  const message = said && (await composeAgain(context, said, true));
  return message?.kind === 'text' ? (linksIn(message.text)[read?.index ?? -1] ?? null) : null;
}

/** What became of the typed links of a firing, in their order. */
export async function linksOfFiring({ store }: Pick<Context, 'store'>, firingId: number): Promise<LinksPressed> {
  const forAll = await store.said.lastForAll(firingId);
  if (!forAll || forAll.house.countsLinks === 'not') return [];
  const sums = await store.linksPressed.ofFiring(firingId);
  return markLinks(forAll.content.document).addresses.map((url, index) => ({
    url,
    ...(sums.get(index) ?? { presses: 0, people: 0, byPrograms: 0 }),
  }));
}
