import type { LinksPressed } from '@convite/contract';
import { inLanguage, linkNumber, linksIn, markLinks } from '@convite/core';
import { openPicture } from '../../store/links-pressed';
import type { PartForAll } from '../../store/said';
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
export const isProgram = ({ agent, onlyLooks }: Visitor): boolean => onlyLooks || agent === '' || programs.test(agent);

/**
 * Where a counted link leads, noting that it was pressed; null for one that is none of ours, or is kept no longer. It leads on
 * whether or not that can be noted.
 */
export async function followCounted(context: Context, token: string, visitor: Visitor): Promise<string | null> {
  const { links, store } = context;
  const read = links.readCounted(token);
  if (!read) return null;
  const { of, id, link } = read;
  const said = of === 'person' ? await store.said.find(id) : null;
  const addresses = said ? markLinks(said.forAll.content.document).addresses : [];
  const own = of === 'message' ? addressesIn(await store.said.allForAll(id)) : addresses;
  const address = own.find((one) => linkNumber(one) === link);
  if (address === undefined) return null;
  const pressed = { firingId: said?.firingId ?? id, link, isProgram: isProgram(visitor) };
  const note = said
    ? store.linksPressed.noteOfPerson(pressed, {
        ...{ deliveryId: id, subscriberId: said.person.id, at: nowOf(context) },
        links: markLinks(inLanguage(said.forAll.content.document, languageOf(said.forAll.house, said.person))).addresses
          .length,
      })
    : store.linksPressed.noteOfMessage(pressed);
  await note.catch(() => undefined);
  return address;
}

/** Where the typed links of a firing lead: of all that was said in it, since what the house says may change while it goes out. */
const addressesIn = (parts: readonly PartForAll[]): string[] => [
  ...new Set(parts.flatMap(({ content }) => markLinks(content.document).addresses)),
];

/** Where a short link of a text leads; null for one that is none of ours, or whose text is kept no longer. */
export async function followShort(context: Context, token: string): Promise<string | null> {
  const read = context.links.readShort(token);
  const said = read && (await context.store.said.find(read.deliveryId));
  const message = said && (await composeAgain(context, said, true));
  return message?.kind === 'text' ? (linksIn(message.text)[read?.index ?? -1] ?? null) : null;
}

/** What became of a firing's mails and their typed links, in their order. */
export async function linksOfFiring({ store }: Pick<Context, 'store'>, firingId: number): Promise<LinksPressed> {
  const parts = await store.said.allForAll(firingId);
  const countsOpens = parts.some(({ house }) => house.countsOpens);
  const countsLinks = parts.some(({ house }) => house.countsLinks !== 'not');
  if (!countsOpens && !countsLinks) return { opened: null, links: [] };
  const sums = await store.linksPressed.ofFiring(firingId);
  const none = { presses: 0, people: 0, byPrograms: 0 };
  return {
    opened: countsOpens ? (sums.get(openPicture) ?? none) : null,
    links: countsLinks ? addressesIn(parts).map((url) => ({ url, ...(sums.get(linkNumber(url)) ?? none) })) : [],
  };
}
