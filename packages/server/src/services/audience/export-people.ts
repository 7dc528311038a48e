import type { Subscriber } from '@convite/contract';
import { writeVcard } from '@convite/core';
import type { TextRows } from '../../files/table-file';
import { findPeople, type WhichPeople } from './find-people';
import { nowOf, type Actor, type Context } from '../context';

const atOnce = 1000;
export const peopleHeading = ['name', 'email', 'mobile', 'zone', 'text consent', 'state', 'lists'];

/** Everybody, those of a list, or those searched for, as rows of text, piece by piece. */
export async function exportPeople(context: Context, chosen: WhichPeople, actor: Actor): Promise<TextRows> {
  await noteExport(context, chosen, actor);
  return rowsOf(context, chosen);
}

/** The same as an address book: a vCard for each (RFC 6350). */
export async function exportCards(context: Context, chosen: WhichPeople, actor: Actor): Promise<AsyncIterable<string>> {
  await noteExport(context, chosen, actor);
  const { sender } = await context.store.house.settings();
  return cardsOf(context, chosen, sender.email.split('@').at(-1) ?? '');
}

const noteExport = ({ store, clock }: Context, { search, list, segment }: WhichPeople, actor: Actor): Promise<void> =>
  store.house.audit(
    nowOf({ clock }),
    actor,
    'export: people',
    segment !== undefined
      ? `segment ${segment}`
      : list === undefined
        ? search
          ? 'some, by a search'
          : 'everybody'
        : `list ${list}`,
  );

async function* rowsOf(context: Context, chosen: WhichPeople) {
  for await (const people of pagesOf(context, chosen))
    yield people.map((person) => [
      person.name,
      person.email,
      person.mobile,
      person.zone,
      person.textConsent ? 'yes' : 'no',
      person.state,
      person.lists.join('; '),
    ]);
}

async function* cardsOf(context: Context, chosen: WhichPeople, house: string) {
  for await (const people of pagesOf(context, chosen)) yield people.map((person) => writeVcard(person, house)).join('');
}

async function* pagesOf(context: Context, chosen: WhichPeople): AsyncGenerator<readonly Subscriber[]> {
  for (let after: number | null = 0; after !== null;) {
    const { rows, next } = await findPeople(context, { ...chosen, after, limit: atOnce });
    yield rows;
    after = next;
  }
}
